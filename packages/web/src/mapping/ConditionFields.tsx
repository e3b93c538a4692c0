import { Button, Flex, Input } from '@chakra-ui/react'
import { kindNames, kinds } from '@culvert/core'
import { DateInput } from '../ui/DateInput.tsx'
import { Select } from '../ui/Select.tsx'
import { type ConditionDraft, isAmountField, operatorsOf } from './ruleDraft.ts'
import { fieldWords } from './ruleSentence.ts'

const operatorWords: Readonly<Record<ConditionDraft['is'], string>> = {
  equal: 'is',
  containing: 'contains',
  starting: 'starts with',
  one_of: 'is one of',
  between: 'is from',
  before: 'is before',
  after: 'is after',
}

interface ConditionFieldsProps {
  readonly name: string
  readonly value: ConditionDraft
  readonly onChange: (value: ConditionDraft) => void
  readonly onRemove: () => void
}

/** One condition of a rule, read from left to right: field, what is asked of it, the value. */
export const ConditionFields = ({ name, value, onChange, onRemove }: ConditionFieldsProps) => {
  const operators = operatorsOf(value.field)
  const isDate = value.field === 'localDate'
  const change = (part: Partial<ConditionDraft>): void => onChange({ ...value, ...part })
  const choose = (field: ConditionDraft['field']): void => {
    const [first] = operatorsOf(field)
    onChange({ field, is: operatorsOf(field).includes(value.is) ? value.is : (first ?? 'equal'), value: '', high: '' })
  }
  return (
    <Flex gap="8px" mb="6px" align="center">
      <Select
        w="160px"
        aria-label={`${name}, field`}
        value={value.field}
        onChange={event => choose(event.target.value as ConditionDraft['field'])}
      >
        {Object.entries(fieldWords).map(([field, words]) => (
          <option key={field} value={field}>
            {words}
          </option>
        ))}
      </Select>
      <Select
        w="112px"
        aria-label={`${name}, what is asked`}
        value={value.is}
        onChange={event => change({ is: event.target.value as ConditionDraft['is'] })}
      >
        {operators.map(one => (
          <option key={one} value={one}>
            {operatorWords[one]}
          </option>
        ))}
      </Select>
      {value.field === 'kind' && value.is === 'equal' ? (
        <Select
          flex="1"
          aria-label={`${name}, value`}
          value={value.value}
          onChange={event => change({ value: event.target.value })}
        >
          <option value="">choose a kind</option>
          {kindNames.map(kind => (
            <option key={kind} value={kind}>
              {kinds[kind].label}
            </option>
          ))}
        </Select>
      ) : isDate ? (
        <DateInput aria-label={`${name}, value`} value={value.value} onChange={day => change({ value: day })} />
      ) : (
        <Input
          flex="1"
          minW="0"
          aria-label={`${name}, value`}
          placeholder={value.is !== 'one_of' ? '' : value.field === 'kind' ? 'Sale, Refund' : 'one, another'}
          inputMode={isAmountField(value.field) ? 'decimal' : undefined}
          value={value.value}
          onChange={event => change({ value: event.target.value })}
        />
      )}
      {value.is === 'between' ? (
        <>
          <span>to</span>
          {isDate ? (
            <DateInput aria-label={`${name}, upper end`} value={value.high} onChange={high => change({ high })} />
          ) : (
            <Input
              flex="1"
              minW="0"
              aria-label={`${name}, upper end`}
              inputMode={isAmountField(value.field) ? 'decimal' : undefined}
              value={value.high}
              onChange={event => change({ high: event.target.value })}
            />
          )}
        </>
      ) : null}
      <Button variant="plain" aria-label={`Remove ${name}`} onClick={onRemove}>
        Remove
      </Button>
    </Flex>
  )
}
