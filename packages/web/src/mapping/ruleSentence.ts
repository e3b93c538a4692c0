import type { AccountRow } from '@culvert/contract'
import {
  type AmountField,
  isKind,
  kinds,
  type Rule,
  type RuleAction,
  type RuleCondition,
  type TextField,
} from '@culvert/core'
import { amountText, dateText } from '../ui/formats.ts'

/** What a rule's sentence needs to know beside the rule. */
export interface SentenceContext {
  readonly currency: string
  readonly locale: string
  readonly accounts: readonly Pick<AccountRow, 'code' | 'name'>[]
}

/** The fields of a line as a rule's sentence calls them. */
export const fieldWords: Readonly<Record<TextField | AmountField | 'localDate', string>> = {
  kind: 'kind',
  category: 'category',
  sku: 'SKU',
  description: 'description',
  customer: 'customer',
  region: 'region',
  location: 'location',
  gateway: 'means of payment',
  method: 'card brand',
  taxLabel: 'tax label',
  source: 'source',
  orderId: 'order',
  email: 'e-mail',
  shipTo: 'delivery address',
  quantity: 'quantity',
  settlementId: 'settlement',
  currency: 'currency',
  lineId: 'line id',
  relatedId: 'related line',
  url: 'link',
  amount: 'amount',
  taxAmount: 'tax',
  localDate: 'date',
}

const quote = (field: string, value: string): string =>
  field === 'kind' && isKind(value) ? kinds[value].label : `“${value}”`

/** One condition in words, as it stands within a sentence. */
export const conditionText = (condition: RuleCondition, context: SentenceContext): string => {
  if (condition.is === 'several') {
    const parts = condition.of.map(one => conditionText(one, context))
    if (condition.atLeast === 1) return parts.length === 1 ? (parts[0] ?? '') : `either ${parts.join(', or ')}`
    return `at least ${condition.atLeast} of these hold: ${parts.join('; ')}`
  }
  const name = `the ${fieldWords[condition.field]}`
  switch (condition.is) {
    case 'equal':
      return `${name} is ${quote(condition.field, condition.value)}`
    case 'containing':
      return `${name} contains “${condition.value}”`
    case 'starting':
      return `${name} starts with “${condition.value}”`
    case 'one_of':
      return `${name} is one of ${condition.values.map(value => quote(condition.field, value)).join(', ')}`
    case 'between':
      return condition.field === 'localDate'
        ? `${name} is from ${dateText(condition.low)} to ${dateText(condition.high)}`
        : `${name} is from ${amountText(condition.low, context.currency, context.locale)} to ${amountText(condition.high, context.currency, context.locale)}`
    case 'before':
      return `${name} is before ${dateText(condition.value)}`
    case 'after':
      return `${name} is after ${dateText(condition.value)}`
  }
}

const actionText = (action: RuleAction, { accounts }: SentenceContext): string => {
  switch (action.set) {
    case 'account':
      return `book it to ${[action.account, accounts.find(one => one.code === action.account)?.name].filter(Boolean).join(' ')}`
    case 'tax_code':
      return action.taxCode === null ? 'without tax' : `with tax code ${action.taxCode}`
    case 'segment':
      return `with ${action.name} “${action.value}”`
    case 'contact':
      return `for ${action.contact}`
    case 'block':
      return 'stop it for a person'
  }
}

const listed = (parts: readonly string[]): string =>
  parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`

/** A rule as one sentence. */
export const ruleSentence = (
  { conditions, actions }: Pick<Rule, 'conditions' | 'actions'>,
  context: SentenceContext,
): string =>
  `When ${listed(conditions.map(one => conditionText(one, context)))}: ${listed(actions.map(one => actionText(one, context)))}.`
