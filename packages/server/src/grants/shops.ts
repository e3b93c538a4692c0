import { type GrantRow, localDate, type ShopRow } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { Refused } from '../access/refused.ts'
import { type Actor, asClient, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadGrant } from './grantRows.ts'
import { outsideService, ServiceUnreachable, type TokenSource } from './outsideService.ts'
import { type Service, serviceNamed } from './services.ts'
import { tokenSource } from './tokenSource.ts'

const text = z
  .string()
  .max(300)
  .nullish()
  .transform(value => value ?? '')
const day = localDate.nullish().transform(value => value ?? null)
const shopsSchema = z.object({
  shops: z
    .array(
      z.object({
        id: z.string().min(1).max(200),
        name: z.string().max(300),
        place: text,
        country: text,
        currency: text,
        tax_number: text,
        orders: z
          .number()
          .int()
          .nullish()
          .transform(value => value ?? 0),
        first_day: day,
        last_day: day,
      }),
    )
    .max(1000),
})
type Shop = z.output<typeof shopsSchema>['shops'][number]

/** How a shop is named among all that serve clients. */
export const shopKey = (service: string, shop: string): string => `${service}/${shop}`

const answerWithinMs = 20_000

/** The service and the shop of such a name. */
export const splitShopKey = (key: string): readonly [string, string] => {
  const at = key.indexOf('/')
  return [key.slice(0, at), key.slice(at + 1)]
}

/** The shops that a login holds, asked of the service. @throws Refused where it does not answer */
export const askShops = async (service: Service, access: TokenSource): Promise<readonly Shop[]> => {
  const { name, address } = service
  const signal = AbortSignal.timeout(answerWithinMs)
  try {
    return shopsSchema.parse(await outsideService({ name, address, access, signal }).get('/shops')).shops
  } catch (error) {
    if (error instanceof ServiceUnreachable) throw new Refused('service_silent', { why: error.message })
    if (error instanceof z.ZodError || signal.aborted)
      throw new Refused('service_silent', { why: `${name} did not tell its shops as it should` })
    throw error
  }
}

const folded = (name: string): string =>
  name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()

/** Days without a sale after which a shop is called quiet. */
const quietDays = 90

const fitOf = (
  shop: Shop,
  client: {
    readonly name: string
    readonly base: string
    readonly country: string | null
    readonly quietSince: string
  },
): ShopRow['fit'] => [
  ...(folded(shop.name) === folded(client.name) ? (['name'] as const) : []),
  ...(client.country === null || shop.country === ''
    ? []
    : [shop.country === client.country ? ('country' as const) : ('other_country' as const)]),
  ...(shop.currency === ''
    ? []
    : [shop.currency === client.base ? ('currency' as const) : ('other_currency' as const)]),
  ...(shop.last_day !== null && shop.last_day < client.quietSince ? (['quiet'] as const) : []),
]

/** The shops of a grant, each with whom it serves and what speaks for it. @throws Refused */
export const loadShops = async (
  database: Database,
  actor: Actor,
  grantId: string,
): Promise<{ grant: GrantRow; shops: ShopRow[] }> => {
  const grant = await asClient(database, actor, tx => loadGrant(tx, grantId))
  if (grant.ended !== null || grant.grantedAt === null) throw new Refused('grant_ended', { name: grant.name })
  const shops = await askShops(serviceNamed(grant.service), tokenSource(database, actor, grantId))
  return asClient(database, actor, async tx => {
    const client = await oneRow(
      tx,
      { name: is.text, base: is.text, country: is.maybe(is.text), quietSince: is.text },
      sql`SELECT name, base, country, ((clock_now() AT TIME ZONE time_zone)::date - ${quietDays}::int)::text AS "quietSince" FROM client
        WHERE client_id = current_client()`,
    )
    const taken = await whomShopsServe(
      tx,
      shops.map(shop => shopKey(grant.service, shop.id)),
    )
    const rows = shops.map(shop => ({
      ...{ id: shop.id, name: shop.name, place: shop.place, country: shop.country, currency: shop.currency },
      ...{ orders: shop.orders, firstDay: shop.first_day, lastDay: shop.last_day },
      serves: taken.get(shopKey(grant.service, shop.id)) ?? null,
      fit: fitOf(shop, client),
    }))
    return { grant, shops: rows.sort((left, right) => scoreOf(right) - scoreOf(left) || right.orders - left.orders) }
  })
}

// What is free and speaks for itself stands first.
const scoreOf = ({ serves, fit }: ShopRow): number =>
  (serves === null ? 10 : 0) +
  fit.reduce((sum, one) => sum + ({ name: 4, country: 2, currency: 2, quiet: -3 }[one as string] ?? -2), 0)

type Serves = NonNullable<ShopRow['serves']>

/** Whom shops serve, by the key of the shop; those that serve nobody are not in it. */
export const whomShopsServe = async (tx: Transaction, shops: readonly string[]): Promise<Map<string, Serves>> => {
  const rows = await rowsOf(
    tx,
    { shop: is.text, serves: is.maybe(is.text), own: is.yes, source: is.maybe(is.text) },
    sql`SELECT shop, serves, own, as_source AS source FROM whom_shops_serve(${sql.param([...shops])}::text[])`,
  )
  return new Map(rows.map(({ shop, serves, own, source }) => [shop, { client: serves, own, source }]))
}
