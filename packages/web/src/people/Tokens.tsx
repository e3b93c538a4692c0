import { Box, Button, Flex, Span } from '@chakra-ui/react'
import { type AccountPage, newTokenBody, type Right } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useWatch } from 'react-hook-form'
import { sessionQuery } from '../context/sessionQuery.ts'
import { Check } from '../ui/form/Check.tsx'
import { FormField } from '../ui/form/FormField.tsx'
import { TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { momentText } from '../ui/formats.ts'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Select } from '../ui/Select.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { useAccountActs } from './peopleQueries.ts'
import { rightWords } from './roleWords.ts'
import { Refusal } from './SignInForm.tsx'

type Token = AccountPage['tokens'][number]
const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
const rightsText = ({ rights }: Token): string => rights.map(right => rightWords[right] ?? right).join(', ')

/** Tokens by which programs ask on one’s behalf. */
export const Tokens = ({ tokens }: { readonly tokens: readonly Token[] }) => {
  const notice = useNotice()
  const { withdrawToken } = useAccountActs()
  const [making, setMaking] = useState(false)
  const columns: readonly SheetColumn<Token>[] = [
    { id: 'name', head: 'For', value: one => one.name, cell: one => one.name },
    {
      id: 'begins',
      head: 'Begins with',
      mono: true,
      width: '140px',
      value: one => one.begins,
      cell: one => one.begins,
    },
    { id: 'rights', head: 'May', wraps: true, value: rightsText, cell: rightsText },
    {
      id: 'ends',
      head: 'Until',
      width: '170px',
      value: one => one.expiresAt,
      cell: one => momentText(one.expiresAt, zone),
    },
    {
      id: 'used',
      head: 'Last used',
      width: '170px',
      value: one => one.lastUsedAt,
      cell: one => (one.lastUsedAt ? momentText(one.lastUsedAt, zone) : 'never'),
    },
    {
      id: 'act',
      head: '',
      width: '90px',
      right: true,
      cell: one => (
        <Button
          variant="ghost"
          onClick={() =>
            withdrawToken.mutate(one.id, {
              onError: notice.refuse,
              onSuccess: () => notice.say(`The token for ${one.name} is good no more.`),
            })
          }
        >
          Withdraw
        </Button>
      ),
    },
  ]
  return (
    <>
      <SheetTable
        label="Tokens"
        scope="token-"
        whole
        filterable={false}
        columns={columns}
        rows={tokens}
        rowKey={one => String(one.id)}
        empty="None. With one a program asks what you may ask, as narrow as you like."
      />
      <Button mt="8px" onClick={() => setMaking(true)}>
        Make a token
      </Button>
      {making ? <NewToken onClose={() => setMaking(false)} /> : null}
    </>
  )
}

const given = Object.keys(rightWords) as Right[]

const NewToken = ({ onClose }: { readonly onClose: () => void }) => {
  const { data: session } = useQuery(sessionQuery)
  const { addToken } = useAccountActs()
  const form = useSchemaForm(newTokenBody, { name: '', rights: ['read'], clients: null, days: 90 })
  const rights = useWatch({ control: form.control, name: 'rights' })
  const days = useWatch({ control: form.control, name: 'days' })
  const clients = useWatch({ control: form.control, name: 'clients' })
  const make = form.handleSubmit(body => addToken.mutate(body))
  const turn = (right: (typeof rights)[number]): void =>
    form.setValue('rights', rights.includes(right) ? rights.filter(one => one !== right) : [...rights, right], {
      shouldValidate: true,
    })
  if (addToken.data)
    return (
      <Modal open title="The token" onClose={onClose} foot={<Button onClick={onClose}>Done</Button>}>
        <Box mb="8px">It is shown now and never again: copy it to where the program keeps its secrets.</Box>
        <Box textStyle="mono" p="8px" borderWidth="1px" borderColor="hairline" wordBreak="break-all" data-token="">
          {addToken.data.token}
        </Box>
        <Box mt="8px" color="muted" textStyle="small">
          Sent as <Span textStyle="mono">Authorization: Bearer …</Span>
        </Box>
      </Modal>
    )
  return (
    <Modal
      open
      title="Make a token"
      onClose={onClose}
      onSubmit={() => void make()}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={addToken.isPending}>
            Make it
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <Flex direction="column" gap="12px">
        <TextField control={form.control} name="name" label="What it is for" autoFocus />
        <Box role="group" aria-label="What it may do">
          {given.map(right => (
            <Box key={right} py="2px">
              <Check
                checked={rights.includes(right as (typeof rights)[number])}
                onChange={() => turn(right as (typeof rights)[number])}
              >
                {rightWords[right]}
              </Check>
            </Box>
          ))}
          <Refusal of={form.formState.errors.rights ? new Error(String(form.formState.errors.rights.message)) : null} />
        </Box>
        <Box role="group" aria-label="Of which clients">
          <Check checked={clients === null} onChange={all => form.setValue('clients', all ? null : [])}>
            all my clients
          </Check>
          {clients === null
            ? null
            : session?.clients.map(({ clientId, name }) => (
                <Box key={clientId} py="2px" pl="22px">
                  <Check
                    checked={clients.includes(clientId)}
                    onChange={on =>
                      form.setValue('clients', on ? [...clients, clientId] : clients.filter(one => one !== clientId))
                    }
                  >
                    {name}
                  </Check>
                </Box>
              ))}
        </Box>
        <FormField label="Good for" w="160px">
          <Select value={days} onChange={event => form.setValue('days', Number(event.target.value))}>
            {[7, 30, 90, 365].map(one => (
              <option key={one} value={one}>
                {one} days
              </option>
            ))}
          </Select>
        </FormField>
      </Flex>
      <Refusal of={addToken.error} />
    </Modal>
  )
}
