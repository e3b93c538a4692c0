import { Button, Flex, Span } from '@chakra-ui/react'
import { accountForm, type ChartAccountPage } from '@culvert/contract'
import { accountTypes } from '@culvert/core'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { CheckField, SelectField, TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { Instead } from '../ui/Instead.tsx'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { accountTypeText } from '../ui/words.ts'
import { accountQuery, useChartActs } from './chartQueries.ts'

interface AccountDialogProps {
  readonly code: string
  readonly onClose: () => void
}

const useWords: Record<ChartAccountPage['uses'][number]['use'], string> = {
  entries: 'entry lines',
  routes: 'routes and rules',
  tax_codes: 'tax codes',
  items: 'items',
  sources: 'sources',
  bank_lines: 'bank lines',
  client: 'the client’s settings',
  decisions: 'decided payments',
}

/** Changes one account of the chart; says what rests on it, and what therefore stays. */
const AccountDialog = ({ code, onClose }: AccountDialogProps) => {
  const { clientId } = useClient()
  const query = useQuery(accountQuery(clientId, code))
  if (query.data) return <AccountEdit page={query.data} onClose={onClose} />
  // No dialog stands in while it is asked for: as it goes it would take the focus back, and the next one would close.
  return query.error === null ? null : (
    <Modal open title={`Account ${code}`} onClose={onClose}>
      <Instead of={query} />
    </Modal>
  )
}

const AccountEdit = ({ page, onClose }: { readonly page: ChartAccountPage; readonly onClose: () => void }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { save } = useChartActs(clientId)
  const { account, uses, version } = page
  const form = useSchemaForm(accountForm, { ...account, bankNumber: account.bankNumber ?? '' })
  const { control } = form
  const isBank = ['bank', 'card'].includes(form.watch('type'))
  const store = form.handleSubmit(wanted =>
    save.mutate(
      { code: account.code, account: wanted, version },
      {
        onError: notice.refuse,
        onSuccess: () => {
          notice.say(`${wanted.code} ${wanted.name} is ${wanted.archived ? 'archived' : 'saved'}.`)
          onClose()
        },
      },
    ),
  )
  const used = uses.map(({ use, count }) => `${count.toLocaleString('en-IE')} ${useWords[use]}`).join(', ')
  return (
    <Modal
      open
      title={`Account ${account.code}`}
      changed={form.formState.isDirty}
      onClose={onClose}
      onSubmit={() => void store()}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={!form.formState.isDirty || save.isPending}>
            Save
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <Flex direction="column" gap="10px">
        <Flex gap="12px">
          <TextField control={control} name="code" label="Number" w="150px" />
          <TextField control={control} name="name" label="Name" />
        </Flex>
        <Flex gap="12px">
          <SelectField control={control} name="type" label="Type">
            {accountTypes.map(type => (
              <option key={type} value={type}>
                {accountTypeText(type)}
              </option>
            ))}
          </SelectField>
          <TextField control={control} name="currency" label="Currency" w="120px" />
        </Flex>
        {isBank ? (
          <TextField
            control={control}
            name="bankNumber"
            label="The bank’s number of it"
            hint="as statements name it, such as an IBAN: by it they find the account"
          />
        ) : null}
        <TextField control={control} name="description" label="What it is for" />
        <Flex gap="20px">
          <CheckField control={control} name="takesPostings" label="Takes postings" />
          {isBank ? <CheckField control={control} name="takesPayments" label="Takes payments of sources" /> : null}
          <CheckField control={control} name="archived" label="Archived" />
        </Flex>
        <Span color="muted" textStyle="small">
          {used === ''
            ? 'Nothing uses it.'
            : `In use by ${used}: number, type and currency stay. Name and purpose change everywhere at once.`}
        </Span>
      </Flex>
    </Modal>
  )
}

export default AccountDialog
