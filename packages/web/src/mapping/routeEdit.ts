import type { MappingPage, RouteBody, SeenRow } from '@culvert/contract'
import { isTaxKind, type Kind } from '@culvert/core'
import type { OtherTarget } from './AccountPicker.tsx'
import { newRoute } from './newRoute.ts'

/** Where a row's route is to point, while it is being changed. */
export interface RouteEdit {
  readonly account: string | null
  readonly item: string | null
  readonly elsewhere: boolean
  readonly taxCode: string | null
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

export const keyOf = (row: SeenRow): string => `${row.kind}|${row.category ?? ''}|${row.region ?? ''}`

// A row's route names what the row names: a narrower one leaves the wider route alone.
export const routeOf = (row: SeenRow, edit: RouteEdit): RouteBody => ({
  ...(row.route ?? { ...newRoute(row.kind), category: row.category, region: row.region }),
  ...edit,
})

/** What a route can point to besides an account. */
export const otherTargets = (page: MappingPage): OtherTarget[] => [
  ...page.items.map(item => ({ key: item.code, title: `Item ${item.code}`, detail: item.name })),
  { key: elsewhere, title: 'Booked elsewhere', detail: 'by another document; left out here' },
]
export const elsewhere = ' elsewhere'
