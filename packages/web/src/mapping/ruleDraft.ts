import {
  type AmountField,
  isKind,
  kindNames,
  kinds,
  printAmount,
  type Rule,
  type RuleAction,
  type RuleCondition,
  type TextField,
  typedAmount,
} from '@culvert/core'

/** In which currency amounts are written, and with whose marks. */
export interface Writing {
  readonly currency: string
  readonly locale: string
}

/** A condition while it is being written: what stands in its fields, which may not be whole yet. */
export interface ConditionDraft {
  readonly field: TextField | AmountField | 'localDate'
  readonly is: 'equal' | 'containing' | 'starting' | 'one_of' | 'between' | 'before' | 'after'
  readonly value: string
  readonly high: string
}

/** Conditions of which at least so many must hold; plain ones must all hold. */
export interface GroupDraft {
  readonly atLeast: number
  readonly of: readonly ConditionDraft[]
}

export interface RuleDraft {
  readonly id: number
  readonly plain: readonly ConditionDraft[]
  readonly groups: readonly GroupDraft[]
  readonly actions: readonly RuleAction[]
}

export const isAmountField = (field: ConditionDraft['field']): field is AmountField =>
  field === 'amount' || field === 'taxAmount'

/** What can be asked of a field. */
export const operatorsOf = (field: ConditionDraft['field']): readonly ConditionDraft['is'][] => {
  if (isAmountField(field)) return ['between']
  if (field === 'localDate') return ['between', 'before', 'after']
  return field === 'kind' ? ['equal', 'one_of'] : ['equal', 'containing', 'starting', 'one_of']
}

export const blankCondition: ConditionDraft = { field: 'description', is: 'containing', value: '', high: '' }

const wholeDate = (text: string): boolean => /^\d{4}-\d\d-\d\d$/.test(text)

const minorOf = (text: string, { currency, locale }: Writing): number | null => {
  const parsed = typedAmount(text, currency, locale)
  return parsed.ok ? parsed.minor : null
}

/** The kind that people call by this name, or that is written like it; null where there is none. */
const kindNamed = (name: string): string | null =>
  kindNames.find(kind => kind === name || kinds[kind].label.toLowerCase() === name.toLowerCase()) ?? null

/** The condition that a draft comes to; null while it is not whole. */
export const conditionOf = (
  draft: ConditionDraft,
  writing: Writing,
): Exclude<RuleCondition, { is: 'several' }> | null => {
  const { field } = draft
  const value = draft.value.trim()
  if (isAmountField(field)) {
    const low = minorOf(draft.value, writing)
    const high = minorOf(draft.high, writing)
    return low === null || high === null ? null : { field, is: 'between', low, high }
  }
  if (field === 'localDate') {
    if (!wholeDate(value)) return null
    if (draft.is === 'between')
      return wholeDate(draft.high) ? { field, is: 'between', low: value, high: draft.high } : null
    return draft.is === 'before' || draft.is === 'after' ? { field, is: draft.is, value } : null
  }
  if (value === '') return null
  if (draft.is === 'one_of') {
    const told = value
      .split(',')
      .map(one => one.trim())
      .filter(Boolean)
    const values = field === 'kind' ? told.map(kindNamed) : told
    return values.length === 0 || values.includes(null)
      ? null
      : { field, is: 'one_of', values: values.filter(one => one !== null) }
  }
  return draft.is === 'equal' || draft.is === 'containing' || draft.is === 'starting'
    ? { field, is: draft.is, value }
    : null
}

/** The draft that a condition is written from again. */
export const draftOf = (
  condition: Exclude<RuleCondition, { is: 'several' }>,
  { currency, locale }: Writing,
): ConditionDraft => {
  const { field, is } = condition
  if (is === 'one_of') {
    const told = condition.values.map(value => (field === 'kind' && isKind(value) ? kinds[value].label : value))
    return { field, is, value: told.join(', '), high: '' }
  }
  if (is !== 'between') return { field, is, value: condition.value, high: '' }
  return condition.field === 'localDate'
    ? { field, is, value: condition.low, high: condition.high }
    : {
        field,
        is,
        value: printAmount(condition.low, currency, locale),
        high: printAmount(condition.high, currency, locale),
      }
}

/** A rule taken apart for writing. */
export const ruleDraftOf = (
  rule: { id: number; conditions: readonly RuleCondition[]; actions: readonly RuleAction[] },
  writing: Writing,
): RuleDraft => ({
  id: rule.id,
  actions: rule.actions,
  plain: rule.conditions.flatMap(one => (one.is === 'several' ? [] : [draftOf(one, writing)])),
  groups: rule.conditions.flatMap(one =>
    one.is === 'several'
      ? [{ atLeast: one.atLeast, of: one.of.flatMap(part => (part.is === 'several' ? [] : [draftOf(part, writing)])) }]
      : [],
  ),
})

/** Whether an action says all that it needs. */
export const isWholeAction = (action: RuleAction): boolean => {
  switch (action.set) {
    case 'account':
      return action.account !== ''
    case 'segment':
      return action.name.trim() !== '' && action.value.trim() !== ''
    case 'contact':
      return action.contact.trim() !== ''
    case 'tax_code':
    case 'block':
      return true
  }
}

/** The rule that a draft comes to; null while any part of it is not whole. */
export const ruleOf = (draft: RuleDraft, writing: Writing): Rule | null => {
  const plain = draft.plain.map(one => conditionOf(one, writing))
  const groups = draft.groups.map(group => {
    const of = group.of.map(one => conditionOf(one, writing))
    return of.length === 0 || of.includes(null) || group.atLeast > of.length
      ? null
      : { is: 'several' as const, atLeast: group.atLeast, of: of.filter(one => one !== null) }
  })
  const conditions = [...plain, ...groups]
  if (conditions.length === 0 || conditions.includes(null)) return null
  if (draft.actions.length === 0 || !draft.actions.every(isWholeAction)) return null
  return { id: draft.id, conditions: conditions.filter(one => one !== null), actions: [...draft.actions] }
}
