import { isTender } from '../activity/kindTraits.ts'
import type { Rule, RuleCondition } from './rule.ts'

/** What keeps a client's rules from being saved; `rule` is the id of the one concerned. */
export type RuleFault = { readonly rule: number } & (
  | { readonly code: 'id_twice' }
  | { readonly code: 'unknown_account'; readonly account: string }
  | { readonly code: 'unknown_tax_code'; readonly taxCode: string }
  /** Nothing can meet it: more conditions asked for than there are, or an upper end below the lower. */
  | { readonly code: 'never_met' }
  /** It would meet every line there is. */
  | { readonly code: 'no_conditions' }
  | { readonly code: 'no_actions' }
  /** It could send more than tenders to a clearing account, whose proof cannot explain it. */
  | { readonly code: 'clearing_account'; readonly account: string }
)

/** Finds everything that is wrong with ordered rules, given the codes of open accounts and of tax codes. */
export const checkRules = (
  rules: readonly Rule[],
  context: {
    readonly accounts: ReadonlySet<string>
    readonly taxCodes: ReadonlySet<string>
    /** Accounts that are some source's clearing account. */
    readonly clearing?: ReadonlySet<string>
  },
): readonly RuleFault[] => {
  const faults: RuleFault[] = []
  const ids = new Set<number>()
  for (const { id, conditions, actions } of rules) {
    if (ids.has(id)) faults.push({ rule: id, code: 'id_twice' })
    ids.add(id)
    if (conditions.length === 0) faults.push({ rule: id, code: 'no_conditions' })
    if (actions.length === 0) faults.push({ rule: id, code: 'no_actions' })
    if (conditions.some(neverMet)) faults.push({ rule: id, code: 'never_met' })
    for (const action of actions) {
      if (action.set === 'account' && !context.accounts.has(action.account))
        faults.push({ rule: id, code: 'unknown_account', account: action.account })
      if (action.set === 'account' && context.clearing?.has(action.account) && !conditions.some(tendersOnly))
        faults.push({ rule: id, code: 'clearing_account', account: action.account })
      if (action.set === 'tax_code' && action.taxCode !== null && !context.taxCodes.has(action.taxCode))
        faults.push({ rule: id, code: 'unknown_tax_code', taxCode: action.taxCode })
    }
  }
  return faults
}

const neverMet = (condition: RuleCondition): boolean => {
  if (condition.is === 'several') return condition.of.filter(one => !neverMet(one)).length < condition.atLeast
  return condition.is === 'between' && condition.low > condition.high
}

const tendersOnly = (condition: RuleCondition): boolean => {
  if (condition.is === 'equal') return condition.field === 'kind' && isTender(condition.value)
  return condition.is === 'one_of' && condition.field === 'kind' && condition.values.every(isTender)
}
