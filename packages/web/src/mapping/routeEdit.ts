import type { MappingPage, RouteBody, SeenRow } from '@culvert/contract'
import { isTaxKind, type Kind } from '@culvert/core'
import type { OtherTarget } from '../ui/AccountPicker.tsx'
import { newRoute } from './newRoute.ts'

/** Where a row's route is to point, while it is being changed. */
export interface RouteEdit {
  readonly account: string | null
  readonly item: string | null
  readonly elsewhere: boolean
  readonly taxCode: string | null
  /** Where the row pointed when the change began: another place now is what somebody else has saved meanwhile. */
  readonly madeFrom?: string
}
export const editOf = ({ route }: SeenRow): RouteEdit => ({
  account: route?.account ?? null,
  item: route?.item ?? null,
  elsewhere: route?.elsewhere ?? false,
  taxCode: route?.taxCode ?? null,
})
/** A tax code alone will do for lines that are all tax: its components name the accounts. */
export const isWhole = (kind: Kind, edit: RouteEdit): boolean =>
  edit.account !== null || edit.item !== null || edit.elsewhere || (isTaxKind(kind) && edit.taxCode !== null)

export const keyOf = (row: SeenRow): string =>
  JSON.stringify([row.kind, row.category, row.region, row.gateway, row.method, row.byItself?.name])

/** Where a row points now, in short. */
export const targetText = ({ route }: SeenRow): string =>
  route === null
    ? 'nowhere'
    : [route.elsewhere ? 'elsewhere' : (route.item ?? route.account ?? ''), route.taxCode].filter(Boolean).join(', ')

// A row's route names what the row names, and its source: a narrower one leaves the wider route alone, and what serves other sources too is
// not changed for them.
export const routeOf = (row: SeenRow, { madeFrom: _, ...edit }: RouteEdit, source: string): RouteBody => {
  const own = {
    ...newRoute(row.kind),
    source,
    category: row.category,
    region: row.region,
    gateway: row.gateway,
    method: row.method,
  }
  if (row.route === null) return { ...own, ...edit }
  return row.sharedWith.length > 0 ? { ...row.route, ...edit, routeId: null, source } : { ...row.route, ...edit }
}

/** What a route can point to besides an account. */
export const otherTargets = (page: MappingPage): OtherTarget[] => [
  ...page.items.map(item => ({ key: item.code, title: `Item ${item.code}`, detail: item.name })),
  { key: elsewhere, title: 'Booked elsewhere', detail: 'by another document; left out here' },
]
export const elsewhere = ' elsewhere'
