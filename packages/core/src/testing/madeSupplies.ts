import fc from 'fast-check'
import type { ActivityLine } from '../activity/activityLine.ts'
import type { Setup } from '../composing/setup.ts'
import { routeBook } from '../mapping/resolveRoute.ts'
import { classBook } from '../tax/productClass.ts'
import { type TaxRow, taxBook } from '../tax/taxRow.ts'
import { madeMonths } from './madeMonths.ts'
import { madeRoutes, madeSetup } from './madeSetup.ts'

export const madeClasses = classBook([
  { category: 'Books', class: 'book' },
  { sku: 'BOWL', class: 'bowl' },
])
const rows: readonly TaxRow[] = [
  { code: 'IN' },
  { region: 'CA', code: 'TWO' },
  { region: 'CA-BC', code: 'OVER' },
  { region: 'CA', class: 'book', code: 'HELD' },
  { class: 'book', code: null },
  { class: 'bowl', kind: 'shipping', code: 'OUT' },
  { label: 'Bag levy', from: '2026-03-01', code: 'TWO' },
]
/** The made setup with tax by rows, postage following the goods. */
export const withTaxRows = (options: Parameters<typeof madeSetup>[0] = {}, taxRows = rows): Setup => {
  const setup = madeSetup({ ...options, options: { ...options.options, ancillaryFollows: true } })
  // Where a row says that there is no tax, a line of tax needs an account.
  const routes = routeBook(
    madeRoutes.map(route => ({ ...route, account: route.account ?? (route.item ? null : '2290') })),
  )
  return { ...setup, routes, classes: madeClasses, taxRows: taxBook(taxRows) }
}
/** Months in which some lines go back to others, whatever these are, and some are an order's goods and what goes along with them. */
export const monthsThatGoBack = fc
  .tuple(madeMonths({ maxLength: 60 }), fc.array(fc.nat(), { minLength: 60, maxLength: 60 }))
  .map(([lines, picks]) =>
    lines.map((line, index): ActivityLine => {
      const pick = picks[index] ?? 0
      const related = pick % 3 === 0 ? { relatedId: lines[pick % lines.length]?.lineId ?? null } : {}
      const order = { source: 'openhall', currency: 'EUR', status: 'available', orderId: 'A' } as const
      if (pick % 5 === 0) return { ...line, ...order, ...related, kind: 'sale' }
      if (pick % 5 === 1)
        return {
          ...line,
          ...order,
          ...related,
          kind: (['shipping', 'discount', 'shipping_refund', 'other_charge'] as const)[pick % 4] as 'shipping',
          sku: null,
          category: null,
        }
      return { ...line, ...related }
    }),
  )
