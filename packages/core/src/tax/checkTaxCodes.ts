import type { AccountType } from '../activity/kinds.ts'
import { isDate } from '../activity/localDate.ts'
import type { TaxCode } from './taxCode.ts'

/** What is wrong with a tax code as it stands; `component` counts from 0. */
export type TaxCodeFault = { readonly taxCode: string } & (
  | { readonly code: 'twice' }
  /** Taxed or withheld, and nothing says how much goes where. */
  | { readonly code: 'no_components' }
  /** Zero, exempt or outside the scope, and yet a rate above zero. */
  | { readonly code: 'taxes_untaxed'; readonly component: number }
  | { readonly code: 'unknown_account'; readonly component: number; readonly account: string }
  /** Reverse charge books to two accounts that cancel; the second is not named. */
  | { readonly code: 'no_input_account'; readonly component: number }
  /** Compound on nothing: no component stands before it. */
  | { readonly code: 'compound_first'; readonly component: number }
  | { readonly code: 'no_rates'; readonly component: number }
  | { readonly code: 'bad_rate'; readonly component: number; readonly percent: string; readonly from: string }
  | { readonly code: 'rate_twice'; readonly component: number; readonly from: string }
  /** Only tax that is paid can be taken back: of purchases, and by reverse charge. */
  | { readonly code: 'recovery_of_sales' }
  | { readonly code: 'bad_recovery'; readonly percent: string; readonly from: string }
  | { readonly code: 'recovery_twice'; readonly from: string }
)

/** A component's account that is not of the sorts that tax is owed or claimed on. */
export interface TaxCodeWarning {
  readonly code: 'unlike_account_type'
  readonly taxCode: string
  readonly account: string
  readonly type: AccountType
}

const percentShape = /^\d{1,3}(\.\d{1,6})?$/
const usualTypes: ReadonlySet<AccountType> = new Set(['tax', 'current_liability', 'current_asset'])
const untaxed: ReadonlySet<TaxCode['treatment']> = new Set(['zero', 'exempt', 'outside'])

/** Finds everything that keeps tax codes from being saved, and what is unusual about them. */
export const checkTaxCodes = (
  codes: readonly TaxCode[],
  accounts: ReadonlyMap<string, { readonly type: AccountType }>,
): { readonly faults: readonly TaxCodeFault[]; readonly warnings: readonly TaxCodeWarning[] } => {
  const seen = new Set<string>()
  const faults: TaxCodeFault[] = []
  const warnings: TaxCodeWarning[] = []
  for (const taxCode of codes) {
    if (seen.has(taxCode.code)) faults.push({ taxCode: taxCode.code, code: 'twice' })
    seen.add(taxCode.code)
    if (!untaxed.has(taxCode.treatment) && taxCode.components.length === 0)
      faults.push({ taxCode: taxCode.code, code: 'no_components' })
    taxCode.components.forEach((_, component) => {
      faults.push(...componentFaults(taxCode, component, accounts))
    })
    faults.push(...recoveryFaults(taxCode))
    for (const account of new Set(taxCode.components.flatMap(one => [one.account, one.inputAccount ?? one.account]))) {
      const type = accounts.get(account)?.type
      if (type && !usualTypes.has(type))
        warnings.push({ code: 'unlike_account_type', taxCode: taxCode.code, account, type })
    }
  }
  return { faults, warnings }
}

const recoveryFaults = (code: TaxCode): readonly TaxCodeFault[] => {
  const versions = code.recovery ?? []
  const at = { taxCode: code.code }
  const faults: TaxCodeFault[] = []
  if (versions.length > 0 && code.use === 'sales' && !code.reverseCharge)
    faults.push({ ...at, code: 'recovery_of_sales' })
  for (const [place, { from, percent }] of versions.entries()) {
    if (!percentShape.test(percent) || Number(percent) > 100 || !isDate(from))
      faults.push({ ...at, code: 'bad_recovery', percent, from })
    if (versions.findIndex(one => one.from === from) < place) faults.push({ ...at, code: 'recovery_twice', from })
  }
  return faults
}

const componentFaults = (
  code: TaxCode,
  component: number,
  accounts: ReadonlyMap<string, unknown>,
): readonly TaxCodeFault[] => {
  const one = code.components[component] as TaxCode['components'][number]
  const at = { taxCode: code.code, component }
  const faults: TaxCodeFault[] = []
  for (const account of [one.account, one.inputAccount])
    if (account !== null && !accounts.has(account)) faults.push({ ...at, code: 'unknown_account', account })
  if (code.reverseCharge && one.inputAccount === null) faults.push({ ...at, code: 'no_input_account' })
  if (one.compound && component === 0) faults.push({ ...at, code: 'compound_first' })
  if (one.rates.length === 0) faults.push({ ...at, code: 'no_rates' })
  const dates = new Set<string>()
  for (const { from, percent } of one.rates) {
    if (!percentShape.test(percent) || !isDate(from)) faults.push({ ...at, code: 'bad_rate', percent, from })
    else if (untaxed.has(code.treatment) && Number(percent) !== 0) faults.push({ ...at, code: 'taxes_untaxed' })
    if (dates.has(from)) faults.push({ ...at, code: 'rate_twice', from })
    dates.add(from)
  }
  return faults
}
