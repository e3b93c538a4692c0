import { type RuleText, ruleTexts, type WeightedLine } from '../activity/activityLine.ts'
import { type ConditionName, conditionNames } from './route.ts'

/** Texts of a line that a condition can look at. */
export type TextField = RuleText | ConditionName | 'kind'
/** Amounts, minor units of the line's currency. */
export type AmountField = 'amount' | 'taxAmount'

export const textFields: readonly TextField[] = ['kind', ...conditionNames, ...ruleTexts]

/**
 * A condition on one field of a line. Texts are compared with letter case folded, an empty one meets no condition; `between`
 * includes both ends; `before` and `after` leave the day itself out. `several` holds when at least so many of its own hold.
 */
export type RuleCondition =
  | { readonly field: TextField; readonly is: 'equal' | 'containing' | 'starting'; readonly value: string }
  | { readonly field: TextField; readonly is: 'one_of'; readonly values: readonly string[] }
  | { readonly field: AmountField; readonly is: 'between'; readonly low: number; readonly high: number }
  | { readonly field: 'localDate'; readonly is: 'between'; readonly low: string; readonly high: string }
  | { readonly field: 'localDate'; readonly is: 'before' | 'after'; readonly value: string }
  | { readonly is: 'several'; readonly atLeast: number; readonly of: readonly RuleCondition[] }

export type RuleAction =
  | { readonly set: 'account'; readonly account: string }
  | { readonly set: 'tax_code'; readonly taxCode: string | null }
  | { readonly set: 'segment'; readonly name: string; readonly value: string }
  | { readonly set: 'contact'; readonly contact: string }
  | { readonly set: 'block' }

/** One of a client's ordered rules: a line that meets all conditions is given what the actions set. */
export interface Rule {
  readonly id: number
  readonly conditions: readonly RuleCondition[]
  readonly actions: readonly RuleAction[]
}

/** What the rules decide for a line; absent is left to its route. */
export interface Decided {
  readonly account?: string
  readonly taxCode?: string | null
  readonly segments: Readonly<Record<string, string>>
  readonly contact?: string
  readonly block: boolean
  /** Ids of the rules that set something. */
  readonly rules: readonly number[]
}

const undecided: Decided = { segments: {}, block: false, rules: [] }

/**
 * Applies rules in their order: the first that sets a field wins that field; each segment is a field of its own.
 * A weighted line stands for lines of one amount each where a condition looks at amounts.
 */
export const applyRules = (rules: readonly Rule[], line: WeightedLine): Decided => {
  if (rules.length === 0) return undecided
  let decided = undecided
  for (const rule of rules) if (meetsRule(rule, line)) decided = take(decided, rule)
  return decided
}

/** True when the line meets every condition. A rule without conditions meets every line. */
export const meetsRule = (rule: Rule, line: WeightedLine): boolean =>
  rule.conditions.every(condition => meets(condition, line))

const take = (before: Decided, rule: Rule): Decided => {
  let decided: Decided = before
  for (const action of rule.actions) {
    if (action.set === 'account' && decided.account === undefined) decided = { ...decided, account: action.account }
    if (action.set === 'tax_code' && decided.taxCode === undefined) decided = { ...decided, taxCode: action.taxCode }
    if (action.set === 'contact' && decided.contact === undefined) decided = { ...decided, contact: action.contact }
    if (action.set === 'block' && !decided.block) decided = { ...decided, block: true }
    if (action.set === 'segment' && decided.segments[action.name] === undefined)
      decided = { ...decided, segments: { ...decided.segments, [action.name]: action.value } }
  }
  return decided === before ? before : { ...decided, rules: [...before.rules, rule.id] }
}

const fold = (text: string): string => text.normalize('NFC').toLowerCase()

const textOf = (line: WeightedLine, field: TextField): string => {
  const value = isRuleText(field) ? line.texts?.[field] : line[field]
  return fold(value ?? '')
}
const isRuleText = (field: TextField): field is RuleText => (ruleTexts as readonly string[]).includes(field)

/** Amount of each of the lines that a weighted line stands for. */
const eachOf = (line: WeightedLine, field: AmountField): number | null => {
  const sum = line[field]
  return sum === null ? null : sum / line.count
}

const meets = (condition: RuleCondition, line: WeightedLine): boolean => {
  switch (condition.is) {
    case 'equal':
      return textOf(line, condition.field) !== '' && textOf(line, condition.field) === fold(condition.value)
    case 'containing':
      return condition.value !== '' && textOf(line, condition.field).includes(fold(condition.value))
    case 'starting':
      return condition.value !== '' && textOf(line, condition.field).startsWith(fold(condition.value))
    case 'one_of': {
      const text = textOf(line, condition.field)
      return text !== '' && condition.values.some(value => fold(value) === text)
    }
    case 'between': {
      if (condition.field === 'localDate') return condition.low <= line.localDate && line.localDate <= condition.high
      const amount = eachOf(line, condition.field)
      return amount !== null && condition.low <= amount && amount <= condition.high
    }
    case 'before':
      return line.localDate < condition.value
    case 'after':
      return line.localDate > condition.value
    case 'several':
      return condition.of.filter(one => meets(one, line)).length >= condition.atLeast
  }
}

/** The fields that rules look at: lines may be added up only where they agree in these. */
export const fieldsOf = (rules: readonly Rule[]): ReadonlySet<TextField | AmountField | 'localDate'> => {
  const fields = new Set<TextField | AmountField | 'localDate'>()
  const note = (condition: RuleCondition): void => {
    if (condition.is === 'several') condition.of.forEach(note)
    else fields.add(condition.field)
  }
  for (const rule of rules) rule.conditions.forEach(note)
  return fields
}

/**
 * How many lines each rule meets, what they come to (`amountOf`: in one currency), and for how many of them it sets something
 * that no earlier rule did.
 */
export const countTouched = (
  rules: readonly Rule[],
  lines: Iterable<WeightedLine>,
  amountOf: (line: WeightedLine) => number = line => line.amount,
): ReadonlyMap<number, { readonly met: number; readonly decides: number; readonly amount: number }> => {
  const counts = new Map(rules.map(rule => [rule.id, { met: 0, decides: 0, amount: 0 }]))
  for (const line of lines) {
    const decided = applyRules(rules, line)
    for (const rule of rules) {
      const count = counts.get(rule.id)
      if (!count || !meetsRule(rule, line)) continue
      count.met += line.count
      count.amount += amountOf(line)
      if (decided.rules.includes(rule.id)) count.decides += line.count
    }
  }
  return counts
}
