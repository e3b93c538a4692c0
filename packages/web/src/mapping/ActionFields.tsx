import { Button, Flex, Input } from '@chakra-ui/react'
import type { AccountRow, TaxCodeRow } from '@culvert/contract'
import type { RuleAction } from '@culvert/core'
import { Select } from '../ui/Select.tsx'

const actionWords: Readonly<Record<RuleAction['set'], string>> = {
  account: 'book to account',
  tax_code: 'use tax code',
  segment: 'set segment',
  contact: 'set contact',
  block: 'stop for a person',
}

const blankAction = (set: RuleAction['set']): RuleAction => {
  switch (set) {
    case 'account':
      return { set, account: '' }
    case 'tax_code':
      return { set, taxCode: null }
    case 'segment':
      return { set, name: '', value: '' }
    case 'contact':
      return { set, contact: '' }
    case 'block':
      return { set }
  }
}

interface ActionFieldsProps {
  readonly name: string
  readonly value: RuleAction
  readonly accounts: readonly AccountRow[]
  readonly taxCodes: readonly TaxCodeRow[]
  readonly onChange: (value: RuleAction) => void
  readonly onRemove: () => void
}

/** One thing that a rule does: what it sets, and to what. */
export const ActionFields = ({ name, value, accounts, taxCodes, onChange, onRemove }: ActionFieldsProps) => (
  <Flex gap="8px" mb="6px" align="center">
    <Select
      w="160px"
      aria-label={`${name}, what it does`}
      value={value.set}
      onChange={event => onChange(blankAction(event.target.value as RuleAction['set']))}
    >
      {Object.entries(actionWords).map(([set, words]) => (
        <option key={set} value={set}>
          {words}
        </option>
      ))}
    </Select>
    {value.set === 'account' ? (
      <Select
        flex="1"
        minW="0"
        aria-label={`${name}, account`}
        value={value.account}
        onChange={event => onChange({ set: 'account', account: event.target.value })}
      >
        <option value="">choose an account</option>
        {accounts
          .filter(account => !account.archived)
          .map(account => (
            <option key={account.code} value={account.code}>
              {account.code} {account.name}
            </option>
          ))}
      </Select>
    ) : null}
    {value.set === 'tax_code' ? (
      <Select
        flex="1"
        minW="0"
        aria-label={`${name}, tax code`}
        value={value.taxCode ?? ''}
        onChange={event => onChange({ set: 'tax_code', taxCode: event.target.value || null })}
      >
        <option value="">no tax</option>
        {taxCodes.map(code => (
          <option key={code.code} value={code.code}>
            {code.code} {code.name}
          </option>
        ))}
      </Select>
    ) : null}
    {value.set === 'segment' ? (
      <>
        <Input
          flex="1"
          minW="0"
          aria-label={`${name}, segment`}
          placeholder="name"
          value={value.name}
          onChange={event => onChange({ ...value, name: event.target.value })}
        />
        <Input
          flex="1"
          minW="0"
          aria-label={`${name}, segment value`}
          placeholder="value"
          value={value.value}
          onChange={event => onChange({ ...value, value: event.target.value })}
        />
      </>
    ) : null}
    {value.set === 'contact' ? (
      <Input
        flex="1"
        minW="0"
        aria-label={`${name}, contact`}
        value={value.contact}
        onChange={event => onChange({ set: 'contact', contact: event.target.value })}
      />
    ) : null}
    <Flex flex={value.set === 'block' ? '1' : '0'} />
    <Button variant="plain" aria-label={`Remove ${name}`} onClick={onRemove}>
      Remove
    </Button>
  </Flex>
)
