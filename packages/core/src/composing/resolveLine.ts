import type { WeightedLine } from '../activity/activityLine.ts'
import { isSupply, isTaxKind } from '../activity/kindTraits.ts'
import { gatewayOf } from '../mapping/gatewayLabels.ts'
import type { Item } from '../mapping/item.ts'
import { type Route, type Segments, segmentsText } from '../mapping/route.ts'
import { applyRules, type Decided } from '../mapping/rule.ts'
import { type RatesInForce, ratesInForce, type TaxCode } from '../tax/taxCode.ts'
import type { TaxedAs } from '../tax/taxRow.ts'
import type { Account, Setup, Source } from './setup.ts'

/** Account types whose lines take no detail segments: what is owed or held is not split by product. */
const undetailed = new Set(['clearing', 'bank', 'tax', 'loan', 'current_liability', 'current_asset'])

export type LineBlock = 'unmapped' | 'tax_code_missing' | 'account_unusable' | 'rule'

/** Where a line goes, or why it cannot. */
export type Resolution =
  | Stopped
  | Resolved
  /** Booked by another document, or without a route by the tender that it was matched with: it takes no part in the entry. */
  | { readonly ok: true; readonly route: Route | null; readonly elsewhere: true }

/** All that stops a line: none hides another. */
export interface Stopped {
  readonly ok: false
  readonly elsewhere: false
  readonly reasons: readonly LineBlock[]
  readonly route: Route | null
  /** How its tax is judged all the same: what has a route and a tax code; null where one lacks. */
  readonly taxed: Resolved | null
}

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
  /** Set by a rule. A journal’s lines carry it as the segment `contact`; lines that are all tax have none. */
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
export const resolveLine = (told: WeightedLine, setup: Setup, source: Source, currency: string): Resolution => {
  const line = told.region || !source.options.place ? told : { ...told, region: source.options.place }
  const gatewayClearing = tenderAccount(line, setup, currency)
  if (gatewayClearing !== null) return { ...plainly, account: gatewayClearing }
  const route = setup.routes.serve(line)
  const decided = applyRules(setup.rules ?? [], line)
  const reasons: LineBlock[] = decided.block || route?.block ? ['rule'] : []
  if (route?.elsewhere && decided.account === undefined)
    return reasons.length > 0 ? stopped(reasons, route) : { ok: true, route, elsewhere: true }
  const item = route?.item ? setup.items?.get(route.item) : null
  const named = chosenCode(line, { setup, route, item: item ?? null, decided })
  const taxCode = named === null ? null : named === undefined ? undefined : setup.taxCodes.get(named)
  const rates = taxCode ? ratesInForce(taxCode, line.supply?.date ?? line.localDate) : null
  const allTax = Boolean(taxCode) && isTaxKind(line.kind) && !route?.charge
  const codeMissing = taxCode === undefined || (taxCode && (!rates || (allTax && taxCode.components.length === 0)))
  if (decided.account === undefined && (!route || item === undefined))
    return stopped([...reasons, 'unmapped', ...(codeMissing ? (['tax_code_missing'] as const) : [])], route)
  if (codeMissing) reasons.push('tax_code_missing')
  const target = { account: decided.account ?? item?.account ?? route?.account ?? null }
  const account = target.account === null ? undefined : setup.accounts.get(target.account)
  if (!allTax && target.account === null && (!codeMissing || !isTaxKind(line.kind))) reasons.push('unmapped')
  if (!allTax && target.account !== null && !accountUsable(account, currency)) reasons.push('account_unusable')
  const made = {
    ...plainly,
    route,
    taxCode: taxCode ?? null,
    rates,
    rules: decided.rules,
    contact: decided.contact ?? null,
  }
  const segments = () =>
    account
      ? segmentsOf(line, source, account.type, { ...route?.segments, ...decided.segments, ...contactOf(decided) })
      : ''
  const resolved = allTax ? { ...made, allTax } : { ...made, account: target.account, segments: segments() }
  return reasons.length === 0 ? resolved : stopped(reasons, route, taxCode && !codeMissing ? resolved : null)
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

const stopped = (reasons: readonly LineBlock[], route: Route | null, taxed: Resolved | null = null): Stopped => ({
  ok: false,
  elsewhere: false,
  reasons,
  route,
  taxed,
})

/**
 * The code that a line bears; null: none, undefined: nothing says. A rule wins; then, in a client with tax rows, the row that serves a supply,
 * never its route or item; of all else the route's own code, else its item's.
 */
const chosenCode = (
  line: WeightedLine,
  on: { readonly setup: Setup; readonly route: Route | null; readonly item: Item | null; readonly decided: Decided },
): string | null | undefined => {
  const { setup, route, item, decided } = on
  if (decided.taxCode !== undefined) return decided.taxCode
  if (setup.taxRows && isSupply(line.kind)) return setup.taxRows.serve(taxedAs(line, setup, route))?.code
  return route?.taxCode ?? item?.taxCode ?? null
}

/** What a supply's tax row is found by: of a line that tells no region, the place where its source sells. What a route calls a charge is seen as a surcharge. */
export const taxedAs = (line: WeightedLine, setup: Setup, route: Route | null): TaxedAs => ({
  source: line.source,
  kind: route?.charge && isTaxKind(line.kind) ? 'surcharge' : line.kind,
  label: line.taxLabel,
  region: (line.supply ? line.supply.region : line.region) || (setup.sources.get(line.source)?.options.place ?? null),
  class: line.supply ? line.supply.class : (setup.classes?.classOf(line) ?? ''),
  date: line.supply?.date ?? line.localDate,
})

// A journal has no document that a contact could stand on: its lines carry it as a segment, so that registers and totals tell it apart.
const contactOf = ({ contact }: Decided): Segments => (contact === undefined ? {} : { contact })

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
