import { type AccountType, kinds } from '../activity/kinds.ts'
import { isTaxKind, isTender } from '../activity/kindTraits.ts'
import { conditionNames, type Route } from './route.ts'

export type RouteFault =
  | { readonly code: 'alike'; readonly route: number; readonly other: number }
  | { readonly code: 'unknown_account'; readonly route: number; readonly account: string }
  | { readonly code: 'no_account'; readonly route: number }
  | { readonly code: 'unknown_tax_code'; readonly route: number; readonly taxCode: string }
  | { readonly code: 'unknown_item'; readonly route: number; readonly item: string }
  /** It would send a source's money to the source's own clearing account, where an entry takes the rest: what it books cancels. */
  | { readonly code: 'own_clearing'; readonly route: number; readonly account: string; readonly source: string }

export type RouteWarning =
  | {
      readonly code: 'unlike_account_type'
      readonly route: number
      readonly account: string
      readonly type: AccountType
    }
  /** It sends money to the clearing account of other sources, whose proof cannot explain it. */
  | {
      readonly code: 'other_clearing'
      readonly route: number
      readonly account: string
      readonly sources: readonly string[]
    }

/** What a set of routes is checked against when saved: codes that exist. */
export interface RouteContext {
  readonly accounts: ReadonlyMap<string, { readonly type: AccountType }>
  readonly taxCodes: ReadonlySet<string>
  readonly items?: ReadonlySet<string>
  /** Tax rows decide what supplies bear: a line that is all tax needs no code on its route. */
  readonly taxByRows?: boolean
  /** Clearing accounts with the sources that they are of. */
  readonly clearing?: ReadonlyMap<string, readonly ClearingOwner[]>
}

/** A source on a clearing account. */
export interface ClearingOwner {
  readonly source: string
  readonly shape: 'combined' | 'channel' | 'gateway'
}

/** Finds every fault and warning of a set of routes; `route` and `other` are route ids. */
export const checkRoutes = (
  routes: readonly Route[],
  context: RouteContext,
): { faults: RouteFault[]; warnings: RouteWarning[] } => ({
  faults: [
    ...alikeRoutes(routes),
    ...routes.flatMap(route => [...targetFaults(route, context), ...ownClearing(route, context)]),
  ],
  warnings: routes.flatMap(route => [...otherClearing(route, context), ...typeWarnings(route, context)]),
})

// Alike in every condition and in the date from which they serve: which of the two serves would be a toss-up.
const alikeRoutes = (routes: readonly Route[]): RouteFault[] => {
  const seen = new Map<string, number>()
  return routes.flatMap(route => {
    const key = JSON.stringify([route.kind, route.from, ...conditionNames.map(name => route[name] || null)])
    const other = seen.get(key)
    if (other !== undefined) return [{ code: 'alike', route: route.id, other } as const]
    seen.set(key, route.id)
    return []
  })
}

const targetFaults = (route: Route, { accounts, taxCodes, items, taxByRows = false }: RouteContext): RouteFault[] => {
  const faults: RouteFault[] = []
  if (route.taxCode !== null && !taxCodes.has(route.taxCode))
    faults.push({ code: 'unknown_tax_code', route: route.id, taxCode: route.taxCode })
  if (route.account !== null && !accounts.has(route.account))
    faults.push({ code: 'unknown_account', route: route.id, account: route.account })
  if (route.item && !items?.has(route.item)) faults.push({ code: 'unknown_item', route: route.id, item: route.item })
  const accountMayBeEmpty =
    route.block || route.elsewhere || route.item || (isTaxKind(route.kind) && (taxByRows || route.taxCode !== null))
  if (route.account === null && !accountMayBeEmpty) faults.push({ code: 'no_account', route: route.id })
  return faults
}

const typeWarnings = (route: Route, { accounts }: RouteContext): RouteWarning[] => {
  const type = route.account === null ? undefined : accounts.get(route.account)?.type
  const usual: readonly AccountType[] = kinds[route.kind].accountTypes
  if (type === undefined || route.account === null || usual.includes(type)) return []
  return [{ code: 'unlike_account_type', route: route.id, account: route.account, type }]
}

// A tender that names no source may go to the account of whoever took the money: that source tenders to nobody, unless it is a channel.
const ownClearing = (route: Route, { clearing }: RouteContext): RouteFault[] => {
  const { account } = route
  if (account === null || route.block || route.elsewhere) return []
  const own = (clearing?.get(account) ?? []).find(owner =>
    route.source ? owner.source === route.source : !isTender(route.kind) || owner.shape === 'channel',
  )
  return own ? [{ code: 'own_clearing', route: route.id, account, source: own.source }] : []
}

const otherClearing = (route: Route, context: RouteContext): RouteWarning[] => {
  const { account } = route
  const owners = account === null ? [] : (context.clearing?.get(account) ?? [])
  if (route.block || route.elsewhere) return []
  if (account === null || owners.length === 0 || isTender(route.kind) || ownClearing(route, context).length > 0)
    return []
  return [{ code: 'other_clearing', route: route.id, account, sources: owners.map(owner => owner.source) }]
}
