import type { WeightedLine } from '../activity/activityLine.ts'
import { isTaxKind } from '../activity/kinds.ts'
import type { Item } from '../mapping/item.ts'
import { type Route, type Segments, segmentsText } from '../mapping/route.ts'
import { applyRules, type Decided } from '../mapping/rule.ts'
import { type RatesInForce, ratesInForce, type TaxCode } from '../tax/taxCode.ts'
import { gatewayOf } from '../tieout/tieOutLine.ts'
import type { Account, Setup, Source } from './setup.ts'

/** Account types whose lines take no detail segments: what is owed or held is not split by product. */
const undetailed = new Set(['clearing', 'bank', 'tax', 'loan', 'current_liability', 'current_asset'])

export type LineBlock = 'unmapped' | 'tax_code_missing' | 'account_unusable' | 'rule'

/** Where a line goes, or why it cannot. */
export type Resolution =
  | { readonly ok: false; readonly reason: LineBlock; readonly route: Route | null; readonly elsewhere: false }
  | Resolved
  /** Booked by another document, or without a route by the tender that it was matched with: it takes no part in the entry. */
  | { readonly ok: true; readonly route: Route | null; readonly elsewhere: true }

export interface Resolved {
  readonly ok: true
  readonly elsewhere: false
  /** Null for a tender that goes to its gateway's clearing account by itself, and where a rule alone names the account. */
  readonly route: Route | null
  /** Null for lines that are all tax: their code's components name the accounts. */
  readonly account: string | null
  readonly taxCode: TaxCode | null
  readonly rates: RatesInForce | null
  readonly allTax: boolean
  readonly segments: string
  /** Set by a rule; documents with a contact take it. */
  readonly contact: string | null
  /** Ids of the rules that decided something. */
  readonly rules: readonly number[]
}

/** Why an account cannot take lines in a currency, if it cannot: unknown, archived, or bound to another currency. */
export const accountUsable = (account: Account | undefined, currency: string): boolean => {
  if (!account || account.archived) return false
  const bound = account.type === 'bank' || account.type === 'card' || account.type === 'clearing'
  return !bound || account.currency === currency
}

/** The clearing account of another source that a tender names as its means of payment, if it has one. */
export const tenderAccount = (line: WeightedLine, setup: Setup, currency: string): string | null => {
  if (line.kind !== 'tender' && line.kind !== 'tender_returned') return null
  const gateway = gatewayOf(line, setup.labels ?? new Map())
  if (gateway === null || gateway === line.source) return null
  return setup.sources.get(gateway)?.clearing[currency] ?? null
}

/** Resolves one line by routes and rules to account, tax code and segments. */
export const resolveLine = (line: WeightedLine, setup: Setup, source: Source, currency: string): Resolution => {
  const gatewayClearing = tenderAccount(line, setup, currency)
  if (gatewayClearing !== null) return { ...plainly, account: gatewayClearing }
  const route = setup.routes.serve(line)
  const decided = applyRules(setup.rules ?? [], line)
  if (decided.block || route?.block) return blocked('rule', route)
  if (route?.elsewhere && decided.account === undefined) return { ok: true, route, elsewhere: true }
  if (!route && decided.account === undefined) return blocked('unmapped', null)
  const item = route?.item ? setup.items?.get(route.item) : null
  if (item === undefined && decided.account === undefined) return blocked('unmapped', route)
  const target = targetOf(route, item ?? null, decided)
  const taxCode = target.taxCode === null ? null : setup.taxCodes.get(target.taxCode)
  if (taxCode === undefined) return blocked('tax_code_missing', route)
  const rates = taxCode && ratesInForce(taxCode, line.localDate)
  if (taxCode && !rates) return blocked('tax_code_missing', route)
  const contact = decided.contact ?? null
  if (taxCode && isTaxKind(line.kind) && !route?.charge)
    return taxCode.components.length === 0
      ? blocked('tax_code_missing', route)
      : { ...plainly, route, taxCode, rates, allTax: true, contact, rules: decided.rules }
  if (target.account === null) return blocked('unmapped', route)
  const account = setup.accounts.get(target.account)
  if (!accountUsable(account, currency)) return blocked('account_unusable', route)
  const segments = segmentsOf(line, source, (account as Account).type, { ...route?.segments, ...decided.segments })
  return { ...plainly, route, account: target.account, taxCode, rates, segments, contact, rules: decided.rules }
}

const plainly: Resolved = {
  ok: true,
  elsewhere: false,
  route: null,
  account: null,
  taxCode: null,
  rates: null,
  allTax: false,
  segments: '',
  contact: null,
  rules: [],
}

const blocked = (reason: LineBlock, route: Route | null): Resolution => ({ ok: false, reason, route, elsewhere: false })

// A rule wins over the route, the route's own tax code over its item's.
const targetOf = (route: Route | null, item: Item | null, decided: Decided) => ({
  account: decided.account ?? item?.account ?? route?.account ?? null,
  taxCode: decided.taxCode !== undefined ? decided.taxCode : (route?.taxCode ?? item?.taxCode ?? null),
})

const segmentsOf = (line: WeightedLine, source: Source, type: Account['type'], named: Segments): string => {
  const detail: Record<string, string> = {}
  if (!undetailed.has(type)) {
    for (const name of source.options.detail) {
      const value = line[name]
      if (value !== null && value !== '') detail[name] = value
    }
  }
  return segmentsText({ ...detail, ...named })
}
