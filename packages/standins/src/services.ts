import { type Request, type Response, Router } from 'express'
import { z } from 'zod'
import type { FaultSwitches } from './faults.ts'
import type { Grants } from './grants.ts'
import type { Row, Service, Shop, Store } from './store.ts'
import { Tokens } from './tokens.ts'

/** Lines of a bank account from a day on, a page at a time. */
export const pageOf = (lines: readonly Row[], asked: { readonly after: number; readonly from: string }) => {
  const wanted = lines.filter(line => (line.date ?? '') >= asked.from)
  const end = asked.after + pageSize
  return { lines: wanted.slice(asked.after, end), next: end < wanted.length ? String(end) : null }
}

const pageSize = 100

type OfShop = Request<{ service: string; shop: string }>

/** What channels and gateways tell whoever holds a token: the shops of a login, and of each its activity in pages, its settlements and balances. */
export const serviceRoutes = (store: Store, grants: Grants, switches: () => FaultSwitches): Router => {
  const router = Router()
  const byKey = new Tokens<string>()
  const serviceOf = (name: string, response: Response): Service | null => {
    const service = store.service(name)
    if (!service) response.status(404).json({ error: 'no such service' })
    return service
  }
  router.get('/:service/shops', (request, response) => {
    const service = serviceOf(request.params.service, response)
    if (!service) return
    const grant = grants.byToken(request.headers.authorization, switches().expireTokenEvery)
    if (grant?.service !== request.params.service) {
      response.status(401).json({ error: 'the token is missing or has run out' })
      return
    }
    const mine = service.logins.find(one => one.name === grant.login)?.shops ?? []
    response.json({
      shops: mine.flatMap(id => {
        const shop = service.shops[id]
        return shop ? [{ id, ...factsOf(shop) }] : []
      }),
    })
  })
  router.post('/:service/shops/:shop/token', (request, response) => {
    const shop = serviceOf(request.params.service, response)?.shops[request.params.shop]
    const asked = z.object({ key: z.string(), secret: z.string() }).safeParse(request.body)
    if (asked.success && shop?.keys.some(one => one.key === asked.data.key && one.secret === asked.data.secret))
      response.json(byKey.give(`${request.params.service}/${request.params.shop}`))
    else if (!response.headersSent) response.status(403).json({ error: 'unknown key or secret' })
  })

  /** The shop of an address, for whoever may see this of it. */
  const allowed = (request: OfShop, response: Response, scope: string): Shop | null => {
    const service = serviceOf(request.params.service, response)
    if (!service) return null
    const shop = service.shops[request.params.shop]
    if (!shop) {
      response.status(404).json({ error: 'no such shop' })
      return null
    }
    const uses = switches().expireTokenEvery
    const { authorization } = request.headers
    const name = `${request.params.service}/${request.params.shop}`
    if (byKey.holderOf(authorization, uses) === name) return shop
    const grant = grants.byToken(authorization, uses)
    if (grant?.service !== request.params.service) {
      response.status(401).json({ error: 'the token is missing or has run out' })
      return null
    }
    const sees = service.logins.find(one => one.name === grant.login)?.shops.includes(request.params.shop)
    if (!sees || !grant.scopes.includes(scope)) {
      response.status(403).json({ error: sees ? `${scope} was not granted` : 'the shop is another’s' })
      return null
    }
    return grant.scopes.includes('buyers') ? shop : { ...shop, lines: shop.lines.map(withoutBuyer) }
  }
  let pages = 0
  router.get('/:service/shops/:shop/activity', (request, response) => {
    const shop = allowed(request, response, 'activity')
    if (!shop) return
    const query = z
      .object({
        after: z.coerce.number().int().min(0).default(0),
        limit: z.coerce.number().int().min(1).max(1000).default(500),
      })
      .safeParse(request.query)
    if (!query.success) {
      response.status(400).json({ error: 'after and limit are numbers' })
      return
    }
    pages++
    const faults = switches()
    const { after, limit } = query.data
    if (faults.endless && after >= shop.lines.length) {
      response.json({ lines: [], next: String(after + 1), cursor: String(shop.lines.length), remaining: null })
      return
    }
    const repeated = faults.repeatPageEvery > 0 && pages % faults.repeatPageEvery === 0
    const start = repeated ? Math.max(0, after - limit) : after
    const lines = shop.lines.slice(start, start + limit)
    const end = start + lines.length
    response.json({
      lines: faults.shuffle ? shuffled(lines) : lines,
      next: end < shop.lines.length || faults.endless ? String(end) : null,
      cursor: String(end),
      remaining: shop.lines.length - start,
    })
  })
  router.get(
    '/:service/shops/:shop/lists/:list',
    (request: Request<{ service: string; shop: string; list: string }>, response) => {
      const shop = allowed(request, response, 'lists')
      if (!shop) return
      const rows = shop.lists[request.params.list]
      if (rows) response.json({ rows })
      else response.status(404).json({ error: 'no such list' })
    },
  )
  router.get('/:service/accounts/:shop/lines', (request: OfShop, response) => {
    const account = allowed(request, response, 'statements')
    if (!account) return
    const query = z
      .object({ after: z.coerce.number().int().min(0).default(0), from: z.string().default('') })
      .safeParse(request.query)
    if (!query.success) {
      response.status(400).json({ error: 'after is a number' })
      return
    }
    response.json(pageOf(account.lines, query.data))
  })
  for (const list of ['settlements', 'balances'] as const)
    router.get(`/:service/shops/:shop/${list}`, (request: OfShop, response) => {
      const shop = allowed(request, response, list)
      if (shop) response.json({ rows: shop[list] })
    })
  return router
}

const factsOf = ({ name, place, country, currency, taxNumber, lines }: Shop) => {
  const days = lines.flatMap(line => line.occurred_at?.slice(0, 10) ?? []).sort()
  return {
    ...{ name, place, country, currency },
    tax_number: taxNumber,
    orders: new Set(lines.flatMap(line => line.order_id || [])).size,
    first_day: days[0] ?? null,
    last_day: days.at(-1) ?? null,
  }
}

const withoutBuyer = ({ customer: _, email: __, ship_to: ___, ...line }: Row): Row => line

// Out of order, but the same way each time.
const shuffled = (lines: readonly Row[]): Row[] =>
  [...lines]
    .reverse()
    .sort((left, right) => ((left.line_id ?? '').slice(-1) < (right.line_id ?? '').slice(-1) ? -1 : 1))
