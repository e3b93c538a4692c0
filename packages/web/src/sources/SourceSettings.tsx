import { Button, Flex, Span } from '@chakra-ui/react'
import {
  type AccountRow,
  mappingEndpoints as map,
  type SourceSettings as Settings,
  savedSource,
  serviceSorts,
} from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useFieldArray } from 'react-hook-form'
import { useNavigate } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { contactsQuery } from '../context/sharedQueries.ts'
import { SelectField, TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { countText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { serviceText } from './serviceText.ts'
import { sourceSettingsQuery, useSourceSettings } from './sourceQueries.ts'

/** Changes what a source is: its name, the accounts its money passes through, the banks it pays into and draws from. */
const SourceSettings = ({ source, onClose }: { readonly source: string; readonly onClose: () => void }) => {
  const { clientId } = useClient()
  const { data } = useQuery(sourceSettingsQuery(clientId, source))
  const { data: contacts } = useQuery(contactsQuery(clientId))
  const { data: chart } = useQuery({
    queryKey: ['client', clientId, 'accounts'],
    queryFn: () => call(map.accounts, { client: clientId }),
  })
  return data && chart && contacts ? (
    <SettingsForm
      {...{ source, onClose }}
      settings={data}
      accounts={chart.accounts}
      contacts={contacts.contacts.map(({ code, name }) => ({ code, name }))}
    />
  ) : null
}

interface FormProps {
  readonly source: string
  readonly settings: Settings
  readonly accounts: readonly AccountRow[]
  readonly contacts: readonly { readonly code: string; readonly name: string }[]
  readonly onClose: () => void
}

const SettingsForm = ({ source, settings, accounts, contacts, onClose }: FormProps) => {
  const { clientId, base } = useClient()
  const notice = useNotice()
  const { save } = useSourceSettings(clientId, source)
  const form = useSchemaForm(
    savedSource,
    { ...settings.source, contact: settings.source.contact ?? '' },
    { grows: true },
  )
  const { control } = form
  const clearing = useFieldArray({ control, name: 'clearing' })
  const banks = useFieldArray({ control, name: 'banks' })
  const ofType = (...types: string[]) => accounts.filter(one => types.includes(one.type) && !one.archived)
  const named = new Set(settings.source.banks.map(bank => bank.account))
  const store = form.handleSubmit(wanted =>
    save.mutate(
      { version: settings.version, source: wanted },
      {
        onError: notice.refuse,
        onSuccess: ({ version }) => {
          notice.say(`Saved as version ${version} of the setup. What is posted stays.`)
          onClose()
        },
      },
    ),
  )
  const choices = (rows: readonly AccountRow[]) =>
    rows.map(account => (
      <option key={account.code} value={account.code}>
        {account.code} {account.name} · {account.currency}
      </option>
    ))
  return (
    <Modal
      open
      wide
      title={`What ${settings.source.name} is`}
      changed={form.formState.isDirty}
      onClose={onClose}
      onSubmit={() => void store()}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={!form.formState.isDirty || save.isPending}>
            Save
          </Button>
          <Button onClick={onClose}>Cancel</Button>
          <Remove source={source} settings={settings} />
        </>
      }
    >
      <Flex direction="column" gap="10px">
        <Flex gap="12px">
          <TextField control={control} name="name" label="Name" />
          <SelectField control={control} name="service" label="Sort">
            <option value="">not said</option>
            {serviceSorts.map(sort => (
              <option key={sort} value={sort}>
                {serviceText[sort]}
              </option>
            ))}
          </SelectField>
        </Flex>
        {contacts.length > 0 ? (
          <SelectField
            control={control}
            name="contact"
            label="Its contact"
            hint="under whom its sales and fees stand where documents name somebody; journals name nobody"
          >
            <option value="">not said</option>
            {contacts.map(contact => (
              <option key={contact.code} value={contact.code}>
                {contact.name === contact.code ? contact.name : `${contact.name} · ${contact.code}`}
              </option>
            ))}
          </SelectField>
        ) : null}
        <Span fontWeight="600">Its money passes through</Span>
        {clearing.fields.map((row, at) => (
          <Flex key={row.id} gap="12px" align="flex-start">
            <TextField control={control} name={`clearing.${at}.currency`} label="Currency" w="110px" />
            <SelectField
              control={control}
              name={`clearing.${at}.account`}
              label="Clearing account"
              hint={settings.posted.includes(row.currency) ? 'posted through: it stays' : undefined}
            >
              {choices(ofType('clearing'))}
            </SelectField>
            <Button
              variant="plain"
              mt="22px"
              disabled={settings.posted.includes(row.currency)}
              onClick={() => clearing.remove(at)}
            >
              Remove
            </Button>
          </Flex>
        ))}
        <Button
          variant="plain"
          alignSelf="flex-start"
          onClick={() => clearing.append({ currency: base, account: ofType('clearing')[0]?.code ?? '' })}
        >
          Add a currency
        </Button>
        <Span fontWeight="600">It pays into, and draws from</Span>
        {banks.fields.map((row, at) => (
          <Flex key={row.id} gap="12px" align="flex-start">
            <SelectField control={control} name={`banks.${at}.direction`} label="Which way" w="170px">
              <option value="into">pays into</option>
              <option value="from">draws from</option>
            </SelectField>
            <TextField control={control} name={`banks.${at}.currency`} label="Currency" w="90px" />
            <TextField control={control} name={`banks.${at}.region`} label="Region" placeholder="all" w="90px" />
            <SelectField control={control} name={`banks.${at}.account`} label="Account">
              {choices(accounts.filter(one => one.takesPayments || named.has(one.code)))}
            </SelectField>
            <Button variant="plain" mt="22px" onClick={() => banks.remove(at)}>
              Remove
            </Button>
          </Flex>
        ))}
        <Button
          variant="plain"
          alignSelf="flex-start"
          onClick={() =>
            banks.append({
              direction: 'into',
              currency: base,
              region: '',
              account: accounts.find(one => one.takesPayments)?.code ?? '',
            })
          }
        >
          Add a bank
        </Button>
        <Span color="muted" textStyle="small">
          A new version of the setup: what waits is composed anew, what is posted stays as it is.
        </Span>
      </Flex>
    </Modal>
  )
}

const Remove = ({ source, settings }: { readonly source: string; readonly settings: Settings }) => {
  const { clientId } = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const notice = useNotice()
  const { remove } = useSourceSettings(clientId, source)
  const [sure, setSure] = useState(false)
  if (settings.entries > 0)
    return (
      <Span color="muted" textStyle="small" ml="auto">
        {countText(settings.entries, 'entry', 'entries')} of it in the ledger: it stays
      </Span>
    )
  return (
    <Button
      ml="auto"
      color="crimson"
      disabled={remove.isPending}
      onClick={() => {
        if (!sure) return setSure(true)
        remove.mutate(undefined, {
          onError: notice.refuse,
          onSuccess: () => {
            notice.say(`${settings.source.name} is removed.`)
            void navigate(href('/sources'))
          },
        })
      }}
    >
      {sure ? `Remove it with ${countText(settings.lines, 'line')}` : 'Remove …'}
    </Button>
  )
}

export default SourceSettings
