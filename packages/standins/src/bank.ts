import { Router } from 'express'
import { z } from 'zod'
import type { Store } from './store.ts'

const pageSize = 100

/** A bank that hands out the lines of its accounts in pages. */
export const bankRoutes = (store: Store): Router => {
  const router = Router()
  router.get('/:name/accounts/:number/lines', (request, response) => {
    const lines = store.bank(request.params.name)?.accounts[request.params.number]
    if (!lines) {
      response.status(404).json({ error: 'no such account' })
      return
    }
    const query = z
      .object({ after: z.coerce.number().int().min(0).default(0), from: z.string().default('') })
      .parse(request.query)
    const wanted = lines.filter(line => (line.date ?? '') >= query.from)
    const end = query.after + pageSize
    response.json({ lines: wanted.slice(query.after, end), next: end < wanted.length ? String(end) : null })
  })
  return router
}
