import { Router } from 'express'
import { z } from 'zod'
import { pageOf } from './services.ts'
import type { Store } from './store.ts'
import { Tokens } from './tokens.ts'

/** A bank that grants each of its customers' helpers a key for some accounts, and hands out their lines in pages. */
export const bankRoutes = (store: Store): Router => {
  const router = Router()
  const tokens = new Tokens<string>()
  router.post('/:name/token', (request, response) => {
    const asked = z.object({ key: z.string(), secret: z.string() }).safeParse(request.body)
    const grant = store
      .bank(request.params.name)
      ?.grants.find(one => asked.success && one.key === asked.data.key && one.secret === asked.data.secret)
    if (grant) response.json(tokens.give(`${request.params.name} ${grant.key}`))
    else response.status(403).json({ error: 'unknown key or secret' })
  })
  router.get('/:name/accounts/:number/lines', (request, response) => {
    const bank = store.bank(request.params.name)
    const holder = tokens.holderOf(request.headers.authorization, 0)
    const grant = bank?.grants.find(one => `${request.params.name} ${one.key}` === holder)
    if (!grant) {
      response.status(401).json({ error: 'the token is missing or has run out' })
      return
    }
    const lines = grant.accounts.includes(request.params.number) ? bank?.accounts[request.params.number] : undefined
    if (!lines) {
      response.status(404).json({ error: 'no such account, or not granted' })
      return
    }
    const query = z
      .object({ after: z.coerce.number().int().min(0).default(0), from: z.string().default('') })
      .safeParse(request.query)
    if (!query.success) {
      response.status(400).json({ error: 'after is a number' })
      return
    }
    response.json(pageOf(lines, query.data))
  })
  return router
}
