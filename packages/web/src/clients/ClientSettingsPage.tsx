import { Box, Button, Flex, Input, Span } from '@chakra-ui/react'
import { type ClientSettings, savedClient } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { useClient } from '../context/ClientContext.tsx'
import { Act } from '../ui/Act.tsx'
import { FormField } from '../ui/form/FormField.tsx'
import { SelectField, TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { countText, dateText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { Unsaved } from '../ui/Unsaved.tsx'
import { CalendarFields, CountryField } from './ClientFields.tsx'
import { clientSettingsQuery, useClientActs } from './clientQueries.ts'

/** What a client is, with what each change would touch; archived and removed here. */
export const ClientSettingsPage = () => {
  const { clientId, name } = useClient()
  const query = useQuery(clientSettingsQuery(clientId))
  const { data } = query
  return (
    <Page
      of={query}
      title={`${name}: what it is`}
      facts={
        data ? (
          <span>
            {data.base} · {countText(data.sources, 'source')} · {countText(data.lines, 'line')} ·{' '}
            {countText(data.entries, 'entry', 'entries')} · what is posted stays as it was posted
          </span>
        ) : null
      }
    >
      {data ? (
        <>
          <SettingsForm key={data.version} settings={data} />
          <Ending settings={data} />
        </>
      ) : null}
    </Page>
  )
}

const exchangeFields = [
  ['exchangeRounding', 'What rounding in base leaves'],
  ['exchangeDifference', 'What exchange gains or loses'],
] as const

const SettingsForm = ({ settings }: { readonly settings: ClientSettings }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { save } = useClientActs()
  const { client, version, lines, entries, accounts } = settings
  const form = useSchemaForm(savedClient, client)
  const { control, formState } = form
  const store = form.handleSubmit(wanted =>
    save.mutate(
      {
        clientId,
        body: {
          version,
          client: {
            ...wanted,
            exchangeRounding: wanted.exchangeRounding || null,
            exchangeDifference: wanted.exchangeDifference || null,
          },
        },
      },
      {
        onError: notice.refuse,
        onSuccess: saved => notice.say(`Saved as version ${saved.version} of the setup. What waits is composed by it.`),
      },
    ),
  )
  const days =
    lines > 0
      ? `${countText(lines, 'line')} have their day by these: they stay`
      : 'say which day each line belongs to; fixed once there is activity'
  const years =
    entries > 0
      ? `${countText(entries, 'entry has its number', 'entries have their numbers')} by these: they stay`
      : 'fixed once anything is posted'
  return (
    <Box as="section" aria-label="What it is" bg="sheet" borderWidth="1px" borderColor="hairline" p="16px" maxW="720px">
      <form
        noValidate
        onSubmit={event => {
          event.preventDefault()
          void store()
        }}
      >
        <Flex direction="column" gap="12px">
          <TextField control={control} name="name" label="Name" />
          <Flex gap="12px">
            <CountryField control={control} name="country" hint="decides the chart that is offered" />
            <TextField
              control={control}
              name="locale"
              label="Written as in"
              hint="how amounts are shown and typed"
              w="220px"
            />
          </Flex>
          <CalendarFields
            control={control}
            names={{ timeZone: 'timeZone', cutOff: 'cutOff', fiscalStart: 'fiscalStart', firstNumber: 'firstNumber' }}
            hints={{ day: days, year: years }}
          />
          <Flex gap="12px">
            {exchangeFields.map(([name, label]) => (
              <SelectField key={name} control={control} name={name} label={label}>
                <option value="">no account: such entries wait</option>
                {accounts.map(account => (
                  <option key={account.code} value={account.code}>
                    {account.code} {account.name}
                  </option>
                ))}
              </SelectField>
            ))}
          </Flex>
          <Flex gap="12px" align="center">
            <Act right="take_on" type="submit" variant="solid" disabled={!formState.isDirty || save.isPending}>
              Save
            </Act>
            <Span color="muted" textStyle="small">
              {formState.isDirty ? 'a new version of the setup; what waits is composed anew' : 'nothing is changed'}
            </Span>
          </Flex>
        </Flex>
        <Unsaved changed={formState.isDirty} what="what the client is" />
      </form>
    </Box>
  )
}

const Ending = ({ settings }: { readonly settings: ClientSettings }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { archive } = useClientActs()
  const [removing, setRemoving] = useState(false)
  const { archivedAt, entries } = settings
  return (
    <Flex as="section" aria-label="Ending" mt="16px" gap="12px" align="center" maxW="720px" wrap="wrap">
      <Act
        right="take_on"
        disabled={archive.isPending}
        onClick={() =>
          archive.mutate(
            { clientId, archived: archivedAt === null },
            {
              onError: notice.refuse,
              onSuccess: () =>
                notice.say(archivedAt === null ? 'Archived: its books are read, and not written.' : 'Taken up again.'),
            },
          )
        }
      >
        {archivedAt === null ? 'Archive' : 'Take up again'}
      </Act>
      <Span color="muted" textStyle="small" flex="1">
        {archivedAt === null
          ? 'Archived books are read, and take no entries, files or pulls. Nothing is lost.'
          : `Archived since ${dateText(archivedAt.slice(0, 10))}.`}
      </Span>
      {entries === 0 ? (
        <Act right="take_on" color="crimson" onClick={() => setRemoving(true)}>
          Remove …
        </Act>
      ) : null}
      {removing ? <RemoveDialog settings={settings} onClose={() => setRemoving(false)} /> : null}
    </Flex>
  )
}

const RemoveDialog = ({ settings, onClose }: { readonly settings: ClientSettings; readonly onClose: () => void }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const navigate = useNavigate()
  const { remove } = useClientActs()
  const [typed, setTyped] = useState('')
  const { name } = settings.client
  return (
    <Modal
      open
      title={`Remove ${name}`}
      onClose={onClose}
      onSubmit={() =>
        remove.mutate(
          { clientId, name: typed },
          { onError: notice.refuse, onSuccess: () => void navigate('/', { replace: true }) },
        )
      }
      foot={
        <>
          <Button type="submit" variant="solid" disabled={typed.trim() !== name || remove.isPending}>
            Remove it
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <Flex direction="column" gap="10px">
        <Span>
          Takes out {countText(settings.sources, 'source')}, {countText(settings.lines, 'line')}, its chart and its
          settings. Nothing of it is in the ledger. This cannot be taken back.
        </Span>
        <FormField label={`Type ${name}`}>
          <Input autoFocus value={typed} onChange={event => setTyped(event.target.value)} />
        </FormField>
      </Flex>
    </Modal>
  )
}
