import { Button, Flex, Span } from '@chakra-ui/react'
import { type AccountRow, mappingEndpoints as map, serviceSorts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { z } from 'zod'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { SelectField, TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { freeCode } from '../ui/freeCode.ts'
import { Instead } from '../ui/Instead.tsx'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { serviceText } from './serviceText.ts'
import { useAddSource } from './sourceQueries.ts'

const sourceForm = z.object({
  name: z.string().trim().min(1, 'what it is called').max(100),
  service: z.enum(serviceSorts),
  /** Whether what it sells is paid through it, or by others. */
  payments: z.enum(['its_own', 'others']),
  currency: z
    .string()
    .trim()
    .toUpperCase()
    .regex(/^[A-Z]{3}$/, 'a currency, as EUR'),
  clearing: z.string().min(1, 'an account'),
  bank: z.string(),
})

const sells: ReadonlySet<string> = new Set(['web_shop', 'marketplace', 'till'])

/** What a source is to the books: what sells and is paid by others, what collects for others, or both. */
const shapeOf = (service: string, payments: string) =>
  !sells.has(service) ? 'gateway' : payments === 'its_own' ? 'combined' : 'channel'

const keyOf = (name: string): string => {
  const key = name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^[^a-z]+|-+$/g, '')
  return key.slice(0, 40) || 'source'
}

const make = 'make'

/** Adds a source whose activity comes as files: what it is, and the account that its money passes through, found or made. */
const AddSource = ({ onClose }: { readonly onClose: () => void }) => {
  const { clientId } = useClient()
  const query = useQuery({
    queryKey: ['client', clientId, 'accounts'],
    queryFn: () => call(map.accounts, { client: clientId }),
  })
  if (query.data) return <SourceForm accounts={query.data.accounts} onClose={onClose} />
  // No dialog stands in while they are asked for: as it goes it would take the focus back, and the next one would close.
  return query.error === null ? null : (
    <Modal open title="Add a source" onClose={onClose}>
      <Instead of={query} />
    </Modal>
  )
}

const SourceForm = ({
  accounts,
  onClose,
}: {
  readonly accounts: readonly AccountRow[]
  readonly onClose: () => void
}) => {
  const { clientId, base } = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const notice = useNotice()
  const add = useAddSource(clientId)
  const banks = accounts.filter(account => ['bank', 'card'].includes(account.type) && !account.archived)
  const form = useSchemaForm(
    sourceForm,
    {
      name: '',
      service: 'marketplace',
      payments: 'its_own',
      currency: base,
      clearing: make,
      bank: banks[0]?.code ?? '',
    },
    { grows: true },
  )
  const { control } = form
  const { service = 'marketplace', name = '', currency = base, payments = 'its_own' } = form.watch()
  const shape = shapeOf(service, payments)
  const clearing = accounts.filter(
    account => account.type === 'clearing' && !account.archived && account.currency === currency.toUpperCase(),
  )
  const code = freeCode(accounts, 'clearing')
  const clearingName = `${name.trim() || 'Source'} ${shape === 'channel' ? 'orders' : 'clearing'}`
  const store = form.handleSubmit(wanted =>
    add.mutate(
      {
        source: keyOf(wanted.name),
        name: wanted.name,
        service: wanted.service,
        shape: shapeOf(wanted.service, wanted.payments),
        clearing: [{ currency: wanted.currency, account: wanted.clearing === make ? code : wanted.clearing }],
        banks:
          wanted.bank === '' || shape === 'channel'
            ? []
            : (['into', 'from'] as const).map(direction => ({
                direction,
                currency: wanted.currency,
                region: '',
                account: wanted.bank,
              })),
        make:
          wanted.clearing === make ? [{ code, name: clearingName, type: 'clearing', currency: wanted.currency }] : [],
      },
      {
        onError: notice.refuse,
        onSuccess: () => {
          notice.say(`${wanted.name} is added. Bring in a file of it.`)
          void navigate(href(`/sources/${keyOf(wanted.name)}`))
        },
      },
    ),
  )
  return (
    <Modal
      open
      title="Add a source"
      changed={form.formState.isDirty}
      onClose={onClose}
      onSubmit={() => void store()}
      foot={
        <>
          <Button type="submit" variant="solid" disabled={add.isPending}>
            Add source
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </>
      }
    >
      <Flex direction="column" gap="12px">
        <Flex gap="12px">
          <TextField control={control} name="name" label="Name" autoFocus />
          <SelectField control={control} name="service" label="Sort">
            {serviceSorts.map(sort => (
              <option key={sort} value={sort}>
                {serviceText[sort]}
              </option>
            ))}
          </SelectField>
        </Flex>
        {sells.has(service) ? (
          <SelectField
            control={control}
            name="payments"
            label="What it sells is paid"
            hint={
              payments === 'its_own'
                ? 'its files tell sales, fees and payouts'
                : 'its files tell sales and by which means each was paid; the money is told by others'
            }
          >
            <option value="its_own">through it</option>
            <option value="others">through others: cards, wallets, cash</option>
          </SelectField>
        ) : null}
        <Flex gap="12px">
          <TextField control={control} name="currency" label="Currency" w="120px" />
          <SelectField control={control} name="clearing" label="Its money passes through">
            <option value={make}>
              make {code} {clearingName}
            </option>
            {clearing.map(account => (
              <option key={account.code} value={account.code}>
                {account.code} {account.name}
              </option>
            ))}
          </SelectField>
        </Flex>
        {shape === 'channel' ? null : (
          <SelectField control={control} name="bank" label="It pays into" hint="and draws from, where it may">
            <option value="">not known yet</option>
            {banks.map(account => (
              <option key={account.code} value={account.code}>
                {account.code} {account.name} · {account.currency}
              </option>
            ))}
          </SelectField>
        )}
        <Span color="muted" textStyle="small">
          More currencies, regions and banks can be said later, at the source.
        </Span>
      </Flex>
    </Modal>
  )
}

export default AddSource
