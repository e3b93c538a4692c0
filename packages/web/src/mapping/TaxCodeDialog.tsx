import { Box, Button, Flex, Input } from '@chakra-ui/react'
import type { TaxCodeRow } from '@culvert/contract'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { DateInput } from '../ui/DateInput.tsx'
import { Check } from '../ui/form/Check.tsx'
import { Modal } from '../ui/Modal.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { Select } from '../ui/Select.tsx'
import { useMappingActs } from './mappingQueries.ts'

export const treatmentWords: Readonly<Record<TaxCodeRow['treatment'], string>> = {
  taxed: 'taxed',
  zero: 'zero rate',
  exempt: 'exempt',
  outside: 'outside the scope',
  withheld: 'withheld by the marketplace',
}

type Component = TaxCodeRow['components'][number]
type AccountChoice = { readonly code: string; readonly name: string; readonly type: string }
const field = { display: 'block', w: '100%', mt: '2px', mb: '8px' } as const
const taxTypes = new Set(['tax', 'current_liability', 'current_asset'])

const isWhole = (code: TaxCodeRow): boolean =>
  code.code.trim() !== '' &&
  code.name.trim() !== '' &&
  code.components.every(one => one.account !== '' && one.rates.length > 0) &&
  (code.country === null || /^[A-Z]{2}$/.test(code.country)) &&
  [...code.components.flatMap(one => one.rates), ...code.recovery].every(
    rate => /^\d+(\.\d+)?$/.test(rate.percent) && /^\d{4}-\d\d-\d\d$/.test(rate.from),
  )

/** Only tax that is paid can be taken back. */
const canTakeBack = (code: TaxCodeRow): boolean => code.use === 'purchases' || code.reverseCharge

interface TaxCodeDialogProps {
  readonly draft: TaxCodeRow
  readonly accounts: readonly AccountChoice[]
  /** Of the map that it is made from. */
  readonly version: number
  readonly onClose: () => void
}

/** Writes a tax code: what it is for, and each component with its account and its rates by date. */
export const TaxCodeDialog = ({ draft, accounts, version, onClose }: TaxCodeDialogProps) => {
  const { clientId } = useClient()
  const { saveTaxCodes } = useMappingActs(clientId)
  const notice = useNotice()
  const [code, setCode] = useState(draft)
  const change = (part: Partial<TaxCodeRow>): void => setCode({ ...code, ...part })
  const taxAccounts = accounts.filter(account => taxTypes.has(account.type))
  const blank: Component = {
    name: '',
    account: taxAccounts.find(account => account.type === 'tax')?.code ?? '',
    inputAccount: null,
    compound: false,
    rates: [{ from: '2020-01-01', percent: '' }],
  }
  return (
    <Modal
      open
      onClose={onClose}
      title={draft.code ? `Tax code ${draft.code}` : 'Add a tax code'}
      foot={
        <>
          <Button onClick={onClose}>Cancel</Button>
          <Button
            variant="solid"
            disabled={!isWhole(code) || saveTaxCodes.isPending}
            onClick={() =>
              saveTaxCodes.mutate(
                { codes: [canTakeBack(code) ? code : { ...code, recovery: [] }], version },
                { onSuccess: onClose, onError: notice.refuse },
              )
            }
          >
            Save tax code
          </Button>
        </>
      }
    >
      <Flex gap="12px">
        <Box as="label" w="110px">
          Code
          <Input
            {...field}
            value={code.code}
            disabled={draft.code !== ''}
            onChange={event => change({ code: event.target.value })}
          />
        </Box>
        <Box as="label" flex="1">
          Name
          <Input {...field} value={code.name} onChange={event => change({ name: event.target.value })} />
        </Box>
        <Box as="label" w="90px">
          Country
          <Input
            {...field}
            maxLength={2}
            value={code.country ?? ''}
            onChange={event => change({ country: event.target.value.toUpperCase() || null })}
          />
        </Box>
      </Flex>
      <Flex gap="12px">
        <Choice
          name="Treatment"
          value={code.treatment}
          words={treatmentWords}
          onChange={treatment => change({ treatment })}
        />
        <Choice
          name="Basis"
          value={code.basis}
          words={{ inclusive: 'within the price', exclusive: 'beside the price', none: 'none' }}
          onChange={basis => change({ basis })}
        />
        <Choice
          name="Use"
          value={code.use}
          words={{ sales: 'sales', purchases: 'purchases' }}
          onChange={use => change({ use })}
        />
      </Flex>
      <Box mb="8px">
        <Check checked={code.reverseCharge} onChange={reverseCharge => change({ reverseCharge })}>
          Reverse charge: owed and claimed at once
        </Check>
      </Box>
      {code.components.map((component, index) => (
        <ComponentFields
          key={index}
          place={index}
          value={component}
          accounts={taxAccounts}
          reverseCharge={code.reverseCharge}
          onChange={changed => change({ components: code.components.with(index, changed) })}
          onRemove={() => change({ components: code.components.filter((_, at) => at !== index) })}
        />
      ))}
      <Button variant="plain" onClick={() => change({ components: [...code.components, blank] })}>
        Add a component
      </Button>
      {canTakeBack(code) ? <RecoveryFields value={code.recovery} onChange={recovery => change({ recovery })} /> : null}
    </Modal>
  )
}

/** Shares of the tax that are taken back, by date; none: all of it. */
const RecoveryFields = ({
  value,
  onChange,
}: {
  readonly value: TaxCodeRow['recovery']
  readonly onChange: (value: TaxCodeRow['recovery']) => void
}) => (
  <Box mt="10px">
    <Box color="muted" textStyle="small" mb="4px">
      {value.length === 0
        ? 'All of the tax is taken back.'
        : 'What is not taken back stays with the cost; before the first date all of it is taken back.'}
    </Box>
    {value.map((share, index) => (
      <Flex key={index} gap="12px" align="flex-end">
        <Box as="label" w="110px">
          Taken back, %
          <Input
            {...field}
            inputMode="decimal"
            value={share.percent}
            onChange={event => onChange(value.with(index, { ...share, percent: event.target.value }))}
          />
        </Box>
        <Box as="label" flex="1">
          From
          <DateInput
            {...field}
            value={share.from}
            onChange={date => onChange(value.with(index, { ...share, from: date }))}
          />
        </Box>
        <Button variant="plain" mb="8px" onClick={() => onChange(value.filter((_, at) => at !== index))}>
          Remove
        </Button>
      </Flex>
    ))}
    <Button variant="plain" onClick={() => onChange([...value, { from: '', percent: '' }])}>
      {value.length === 0 ? 'Only a part is taken back' : 'Another share from a later date'}
    </Button>
  </Box>
)

const Choice = <Value extends string>({
  name,
  value,
  words,
  onChange,
}: {
  readonly name: string
  readonly value: Value
  readonly words: Readonly<Record<Value, string>>
  readonly onChange: (value: Value) => void
}) => (
  <Box as="label" flex="1" minW="0">
    {name}
    <Select {...field} value={value} onChange={event => onChange(event.target.value as Value)}>
      {Object.entries<string>(words).map(([one, said]) => (
        <option key={one} value={one}>
          {said}
        </option>
      ))}
    </Select>
  </Box>
)

interface ComponentFieldsProps {
  readonly place: number
  readonly value: Component
  readonly accounts: readonly AccountChoice[]
  readonly reverseCharge: boolean
  readonly onChange: (value: Component) => void
  readonly onRemove: () => void
}

const ComponentFields = ({ place, value, accounts, reverseCharge, onChange, onRemove }: ComponentFieldsProps) => {
  const change = (part: Partial<Component>): void => onChange({ ...value, ...part })
  const accountChoice = (name: string, chosen: string | null, take: (code: string) => void) => (
    <Box as="label" flex="1" minW="0">
      {name}
      <Select {...field} value={chosen ?? ''} onChange={event => take(event.target.value)}>
        <option value="">choose an account</option>
        {accounts.map(account => (
          <option key={account.code} value={account.code}>
            {account.code} {account.name}
          </option>
        ))}
      </Select>
    </Box>
  )
  return (
    <Box borderLeftWidth="2px" borderColor="hairline" pl="10px" mb="8px">
      <Flex gap="12px" align="flex-end">
        <Box as="label" w="110px">
          Component
          <Input {...field} value={value.name} onChange={event => change({ name: event.target.value })} />
        </Box>
        {accountChoice('Account', value.account, account => change({ account }))}
        {reverseCharge
          ? accountChoice('Claimed on', value.inputAccount, account => change({ inputAccount: account || null }))
          : null}
      </Flex>
      {value.rates.map((rate, index) => (
        <Flex key={index} gap="12px">
          <Box as="label" w="110px">
            Rate, %
            <Input
              {...field}
              inputMode="decimal"
              value={rate.percent}
              onChange={event => change({ rates: value.rates.with(index, { ...rate, percent: event.target.value }) })}
            />
          </Box>
          <Box as="label" flex="1">
            From
            <DateInput
              {...field}
              value={rate.from}
              onChange={date => change({ rates: value.rates.with(index, { ...rate, from: date }) })}
            />
          </Box>
        </Flex>
      ))}
      <Flex gap="12px" align="center" wrap="wrap">
        <Button variant="plain" onClick={() => change({ rates: [...value.rates, { from: '', percent: '' }] })}>
          Add a rate from a later date
        </Button>
        {place > 0 ? (
          <Check checked={value.compound} onChange={compound => change({ compound })}>
            on the price and the components before
          </Check>
        ) : null}
        <Button variant="plain" onClick={onRemove}>
          Remove component
        </Button>
      </Flex>
    </Box>
  )
}
