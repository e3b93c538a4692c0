import type { RoutingValues } from '../activity/activityLine.ts'
import type { Item } from './item.ts'
import { routeBook } from './resolveRoute.ts'
import { conditionNames, type Route } from './route.ts'

/** A product as sales name it, with the category that most of them bear. */
export interface SoldProduct {
  readonly source: string
  readonly sku: string
  readonly category: string | null
  /** Local date on which routes are compared. */
  readonly date: string
}

/** A route that takes a product's sales to its item, apart from the number that saving gives it. */
export type ProductRoute = Omit<Route, 'id'> & { readonly item: string; readonly sku: string }

const understood = new Set<string>(['category', 'region', 'source', 'sku'])

/**
 * Routes that take a product's sales to its item and leave their tax as it is: one for the SKU, and one for each region whose sales bear
 * another code today. Null where a person must map: where sales are told apart by something else too, which a route by SKU would go over,
 * and where nothing says yet which tax the product bears.
 */
export const productRoutes = (
  product: SoldProduct,
  item: Pick<Item, 'code' | 'taxCode'>,
  routes: readonly Route[],
): readonly ProductRoute[] | null => {
  const own = routes.filter(route => route.kind === 'sale' && (route.source ?? product.source) === product.source)
  if (own.some(route => conditionNames.some(name => route[name] && !understood.has(name)))) return null
  const book = routeBook(routes)
  const served = (region: string | null) => book.serve({ ...values(product, region), localDate: product.date })
  const codeTo = (region: string | null): string | null => served(region)?.taxCode ?? null
  // Without a route and without a code of the item nobody has said yet which tax it bears.
  if (!served(null) && item.taxCode === null) return null
  const base = item.taxCode ?? codeTo(null)
  // A region keeps a code of its own; where it has the common one, it takes what the product bears from now on.
  const wanted = (region: string): string | null => (codeTo(region) === codeTo(null) ? base : codeTo(region))
  const regions = [...new Set(own.flatMap(route => route.region ?? []))].sort()
  const apart = regions.filter(region => {
    const country = region.split('-')[0] as string
    return wanted(region) !== (country !== region && regions.includes(country) ? wanted(country) : base)
  })
  // A route without a code takes the item's: then nothing says that a region bears none.
  if (item.taxCode !== null && apart.some(region => wanted(region) === null)) return null
  const made = (region: string | null, taxCode: string | null): ProductRoute => ({
    kind: 'sale',
    source: product.source,
    sku: product.sku,
    region,
    account: null,
    item: item.code,
    taxCode: taxCode === item.taxCode ? null : taxCode,
    segments: {},
    block: false,
    from: null,
  })
  return [made(null, base), ...apart.map(region => made(region, wanted(region)))]
}

const values = (product: SoldProduct, region: string | null): RoutingValues => ({
  source: product.source,
  kind: 'sale',
  category: product.category,
  sku: null,
  location: null,
  gateway: null,
  method: null,
  region,
  taxLabel: null,
})
