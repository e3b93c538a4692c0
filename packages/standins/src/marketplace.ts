import { type Request, type Response, Router } from 'express'
import { z } from 'zod'
import { type FaultSwitches, misbehave } from './faults.ts'
import type { Marketplace, Row, Store } from './store.ts'
import { Tokens } from './tokens.ts'

/** A marketplace that grants access by a consent page and a token, and hands out its activity in pages. */
export const marketplaceRoutes = (store: Store, switches: () => FaultSwitches): Router => {
  const router = Router()
  const tokens = new Tokens()
  const marketOf = (request: Request<{ name: string }>, response: Response): Marketplace | null => {
    const market = store.marketplace(request.params.name)
    if (!market) response.status(404).json({ error: 'no such marketplace' })
    return market
  }
  const allowed = (request: Request<{ name: string }>, response: Response): boolean => {
    if (tokens.holderOf(request.headers.authorization, switches().expireTokenEvery) === request.params.name) return true
    response.status(401).json({ error: 'the token is missing or has run out' })
    return false
  }
  router.get('/:name/consent', (request, response) => {
    const name = request.params.name.replace(/[^a-z0-9-]/g, '')
    response.type('html').send(`<!doctype html><title>${name}</title><h1>${name}</h1>
      <p>Culvert asks to read activity, settlements and balances. It can change nothing.</p>
      <form method="post" action="consent"><button>Grant access</button></form>`)
  })
  router.post('/:name/consent', (request, response) => {
    const market = marketOf(request, response)
    if (market) response.json({ key: market.key, secret: market.secret })
  })
  router.use('/:name', misbehave(switches))
  router.post('/:name/token', (request, response) => {
    const market = marketOf(request, response)
    if (!market) return
    const asked = z.object({ key: z.string(), secret: z.string() }).safeParse(request.body)
    if (!asked.success || asked.data.key !== market.key || asked.data.secret !== market.secret) {
      response.status(403).json({ error: 'unknown key or secret' })
      return
    }
    response.json(tokens.give(request.params.name))
  })
  let pages = 0
  router.get('/:name/activity', (request, response) => {
    const market = marketOf(request, response)
    if (!market || !allowed(request, response)) return
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
    const repeated = faults.repeatPageEvery > 0 && pages % faults.repeatPageEvery === 0
    const start = repeated ? Math.max(0, query.data.after - query.data.limit) : query.data.after
    const lines = market.lines.slice(start, start + query.data.limit)
    const end = start + lines.length
    response.json({
      lines: faults.shuffle ? shuffled(lines) : lines,
      next: end < market.lines.length ? String(end) : null,
      cursor: String(end),
      remaining: market.lines.length - start,
    })
  })
  for (const list of ['settlements', 'balances'] as const)
    router.get(`/:name/${list}`, (request, response) => {
      const market = marketOf(request, response)
      if (market && allowed(request, response)) response.json({ rows: market[list] })
    })
  return router
}

// Out of order, but the same way each time.
const shuffled = (lines: readonly Row[]): Row[] =>
  [...lines]
    .reverse()
    .sort((left, right) => ((left.line_id ?? '').slice(-1) < (right.line_id ?? '').slice(-1) ? -1 : 1))
