import { Flex, Span } from '@chakra-ui/react'
import {
  type AccountRow,
  localDate,
  type NewSource,
  personalScopes,
  type ServiceSort,
  serviceSorts,
  timeOfDay,
} from '@culvert/contract'
import { dateBases, freeCode } from '@culvert/core'
import type { UseFormReturn } from 'react-hook-form'
import { z } from 'zod'
import { DateField, SelectField, TextField } from '../ui/form/fields.tsx'
import { useSchemaForm } from '../ui/form/useSchemaForm.ts'
import { basisText } from './basisText.ts'
import { scopeText } from './scopeText.ts'
import { serviceText } from './serviceText.ts'

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
  dateBasis: z.enum(dateBases),
  personalData: z.enum(personalScopes),
  bookedFrom: z.union([z.literal('').transform(() => null), localDate]),
  cutOff: z.union([z.literal('').transform(() => null), timeOfDay], 'a time of day, as 04:30'),
})
type SourceForm = z.input<typeof sourceForm>
export type WantedSource = z.output<typeof sourceForm>

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

/** What a new source begins with: what is known of it, and the first bank account. */
export const useSourceForm = (
  accounts: readonly AccountRow[],
  known: {
    readonly name: string
    readonly service: ServiceSort
    readonly currency: string
    readonly personalData: SourceForm['personalData']
  },
) => {
  const values: SourceForm = {
    ...known,
    // A marketplace collects what it sells; a shop or till mostly says by which means it was paid.
    payments: known.service === 'web_shop' || known.service === 'till' ? 'others' : 'its_own',
    clearing: make,
    dateBasis: 'order',
    bookedFrom: '',
    cutOff: '',
    // A bank in another currency is not guessed at.
    bank: banksOf(accounts).find(account => account.currency === known.currency)?.code ?? '',
  }
  return useSchemaForm(sourceForm, values, { grows: true })
}

const banksOf = (accounts: readonly AccountRow[]) => accounts.filter(account => account.takesPayments)

const clearingName = (name: string, shape: string): string =>
  `${name.trim() || 'Source'} ${shape === 'channel' ? 'orders' : 'clearing'}`

/** The source that a form asks for, with the account that is made with it. */
export const sourceOf = (wanted: WantedSource, accounts: readonly AccountRow[]) => {
  const shape = shapeOf(wanted.service, wanted.payments)
  const code = freeCode(accounts, 'clearing')
  const { currency } = wanted
  return {
    source: keyOf(wanted.name),
    name: wanted.name,
    service: wanted.service,
    shape,
    clearing: [{ currency, account: wanted.clearing === make ? code : wanted.clearing }],
    banks:
      wanted.bank === '' || shape === 'channel'
        ? []
        : (['into', 'from'] as const).map(direction => ({ direction, currency, region: '', account: wanted.bank })),
    make:
      wanted.clearing === make
        ? [{ code, name: clearingName(wanted.name, shape), type: 'clearing' as const, currency }]
        : [],
    options: { dateBasis: wanted.dateBasis, bookedFrom: wanted.bookedFrom, cutOff: wanted.cutOff },
    personalData: wanted.personalData,
  } satisfies NewSource
}

interface SourceFieldsProps {
  readonly form: UseFormReturn<SourceForm, unknown, WantedSource>
  readonly accounts: readonly AccountRow[]
  /** What sort it is and its currency are told by the service. */
  readonly told?: boolean
  /** It tells nothing of customers, whatever is chosen. */
  readonly nobody?: boolean
}

/** What a source is, and the accounts that its money passes through. */
export const SourceFields = ({ form, accounts, told = false, nobody = false }: SourceFieldsProps) => {
  const { control } = form
  const { service = 'marketplace', name = '', currency = '', payments = 'its_own' } = form.watch()
  const shape = shapeOf(service, payments)
  const clearing = accounts.filter(
    account => account.type === 'clearing' && !account.archived && account.currency === currency.toUpperCase(),
  )
  return (
    <Flex direction="column" gap="12px">
      <Flex gap="12px">
        <TextField control={control} name="name" label="Name" autoFocus={!told} />
        {told ? null : (
          <SelectField control={control} name="service" label="Sort">
            {serviceSorts.map(sort => (
              <option key={sort} value={sort}>
                {serviceText[sort]}
              </option>
            ))}
          </SelectField>
        )}
      </Flex>
      {sells.has(service) ? (
        <SelectField
          control={control}
          name="payments"
          label="What it sells is paid"
          hint={
            payments === 'its_own'
              ? 'it tells sales, fees and payouts'
              : 'it tells sales and by which means each was paid; the money is told by others'
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
            make {freeCode(accounts, 'clearing')} {clearingName(name, shape)}
          </option>
          {clearing.map(account => (
            <option key={account.code} value={account.code}>
              {account.code} {account.name}
            </option>
          ))}
        </SelectField>
      </Flex>
      <Flex gap="12px">
        {shape === 'channel' ? null : (
          <SelectField control={control} name="bank" label="It pays into" hint="and draws from, where it may">
            <option value="">not known yet</option>
            {banksOf(accounts).map(account => (
              <option key={account.code} value={account.code}>
                {account.code} {account.name} · {account.currency}
              </option>
            ))}
          </SelectField>
        )}
        <DateField
          control={control}
          name="bookedFrom"
          label="Booked here from"
          hint="empty: all of it; else what ended before is booked elsewhere"
          w="100%"
        />
        {service === 'till' ? (
          <TextField
            control={control}
            name="cutOff"
            label="Its trading day ends at"
            hint="empty: as the client’s"
            placeholder="as 04:30"
            w="180px"
          />
        ) : null}
      </Flex>
      <Flex gap="12px">
        <SelectField control={control} name="dateBasis" label="A line counts on" hint="decides month and tax rate">
          {dateBases.map(basis => (
            <option key={basis} value={basis}>
              {basisText[basis]}
            </option>
          ))}
        </SelectField>
        {nobody ? null : (
          <SelectField control={control} name="personalData" label="Of customers it may tell">
            {personalScopes.map(scope => (
              <option key={scope} value={scope}>
                {scopeText[scope]}
              </option>
            ))}
          </SelectField>
        )}
      </Flex>
      <Span color="muted" textStyle="small">
        More currencies, regions and banks can be said later, at the source.
      </Span>
    </Flex>
  )
}
