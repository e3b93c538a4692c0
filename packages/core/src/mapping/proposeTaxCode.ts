import type { Kind } from '../activity/kinds.ts'
import { conditionNames, type Route } from './route.ts'

/** Kinds that bear tax, and those that are taxed as they are, nearest first. */
const taxedLike: Readonly<Partial<Record<Kind, readonly Kind[]>>> = {
  sale: ['collected'],
  collected: ['sale'],
  refund: ['sale', 'collected'],
  collected_back: ['refund', 'collected', 'sale'],
  discount: ['sale', 'refund'],
  shipping: ['sale'],
  shipping_refund: ['shipping', 'refund'],
  other_charge: ['sale'],
  surcharge: ['sale'],
  chargeback: ['refund', 'sale'],
  chargeback_reversal: ['chargeback', 'refund', 'sale'],
  processing_fee: ['selling_fee', 'other_fee'],
  selling_fee: ['processing_fee', 'other_fee'],
  fulfilment_fee: ['selling_fee', 'processing_fee'],
  advertising_fee: ['selling_fee', 'processing_fee'],
  subscription_fee: ['selling_fee', 'processing_fee'],
  other_fee: ['selling_fee', 'processing_fee'],
  chargeback_fee: ['processing_fee', 'selling_fee'],
  fee_refund: ['selling_fee', 'processing_fee'],
}

export interface TaxProposal {
  readonly taxCode: string | null
  /** Id of the route whose tax code it takes over; null where there is none like it. */
  readonly like: number | null
  /** The kind bears tax, and nothing says which: a person must. */
  readonly open: boolean
}

const conditionsOf = (route: Route): number => conditionNames.filter(name => route[name]).length

/** Where a route's tax holds for the label's region: one that names a region holds for its own country alone. */
const sameRegion = (route: Route, region: string | null): boolean =>
  !route.region || (region !== null && route.region.slice(0, 2) === region.slice(0, 2))

/**
 * The tax code for a route yet to be made, as routes made before tax the same: of its own kind, else of the kinds that are
 * taxed as it is; to the same account before others, the region's own before those of none, the widest first. An invented
 * code would be worse than none: without such a route it is open.
 */
export const proposeTaxCode = (
  label: { readonly kind: Kind; readonly region: string | null },
  account: string | null,
  routes: readonly Route[],
): TaxProposal => {
  const alike = taxedLike[label.kind]
  if (alike === undefined) return { taxCode: null, like: null, open: false }
  const order = [label.kind, ...alike]
  const rank = (route: Route): readonly number[] => [
    order.indexOf(route.kind),
    route.account === account ? 0 : 1,
    route.region ? 0 : 1,
    conditionsOf(route),
    route.id,
  ]
  const [nearest] = routes
    .filter(route => order.includes(route.kind) && !route.block && !route.elsewhere && sameRegion(route, label.region))
    .sort((left, right) => {
      const [mine, theirs] = [rank(left), rank(right)]
      return mine.map((one, place) => one - (theirs[place] as number)).find(difference => difference !== 0) ?? 0
    })
  return nearest
    ? { taxCode: nearest.taxCode, like: nearest.id, open: false }
    : { taxCode: null, like: null, open: true }
}
