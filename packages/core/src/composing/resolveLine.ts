import type { WeightedLine } from '../activity/activityLine.ts'
import { isTaxKind } from '../activity/kinds.ts'
import { type Route, segmentsText } from '../mapping/route.ts'
import { type RatesInForce, ratesInForce, type TaxCode } from '../tax/taxCode.ts'
import type { Account, Setup, Source } from './setup.ts'

/** Account types whose lines take no detail segments: what is owed or held is not split by product. */
const undetailed = new Set(['clearing', 'bank', 'tax', 'loan', 'current_liability', 'current_asset'])

export type LineBlock = 'unmapped' | 'tax_code_missing' | 'account_unusable' | 'rule'

/** Where a line goes, or why it cannot. */
export type Resolution =
  | { readonly ok: false; readonly reason: LineBlock; readonly route: Route | null }
  | {
      readonly ok: true
      /** Null for a tender that goes to its gateway's clearing account by itself. */
      readonly route: Route | null
      /** Null for lines that are all tax: their code's components name the accounts. */
      readonly account: string | null
      readonly taxCode: TaxCode | null
      readonly rates: RatesInForce | null
      readonly allTax: boolean
      readonly segments: string
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
  if (line.gateway === null || line.gateway === line.source) return null
  return setup.sources.get(line.gateway)?.clearing[currency] ?? null
}

/** Resolves one line by the routes to account, tax code and segments. */
export const resolveLine = (line: WeightedLine, setup: Setup, source: Source, currency: string): Resolution => {
  const gatewayClearing = tenderAccount(line, setup, currency)
  if (gatewayClearing !== null)
    return { ok: true, route: null, account: gatewayClearing, taxCode: null, rates: null, allTax: false, segments: '' }
  const route = setup.routes.serve(line)
  if (!route) return { ok: false, reason: 'unmapped', route: null }
  if (route.block) return { ok: false, reason: 'rule', route }
  const taxCode = route.taxCode === null ? null : setup.taxCodes.get(route.taxCode)
  if (taxCode === undefined) return { ok: false, reason: 'tax_code_missing', route }
  const rates = taxCode && ratesInForce(taxCode, line.localDate)
  if (taxCode && !rates) return { ok: false, reason: 'tax_code_missing', route }
  if (taxCode && isTaxKind(line.kind)) {
    if (taxCode.components.length === 0) return { ok: false, reason: 'tax_code_missing', route }
    return { ok: true, route, account: null, taxCode, rates, allTax: true, segments: '' }
  }
  if (route.account === null) return { ok: false, reason: 'unmapped', route }
  const account = setup.accounts.get(route.account)
  if (!accountUsable(account, currency)) return { ok: false, reason: 'account_unusable', route }
  return {
    ok: true,
    route,
    account: route.account,
    taxCode,
    rates,
    allTax: false,
    segments: segmentsOf(line, route, source, (account as Account).type),
  }
}

const segmentsOf = (line: WeightedLine, route: Route, source: Source, type: Account['type']): string => {
  const detail: Record<string, string> = {}
  if (!undetailed.has(type)) {
    for (const name of source.options.detail) {
      const value = line[name]
      if (value !== null && value !== '') detail[name] = value
    }
  }
  return segmentsText({ ...detail, ...route.segments })
}
