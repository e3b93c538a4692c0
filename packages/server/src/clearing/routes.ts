import { statedBody } from '@culvert/contract'
import { Router } from 'express'
import { z } from 'zod'
import { actorOf } from '../access/establish.ts'
import { found } from '../access/refused.ts'
import { asClient, type Database } from '../database/connect.ts'
import { loadClearingList, loadProofPage } from './loadClearing.ts'
import { stateBalance } from './stateBalance.ts'

/** Clearing accounts and their proofs. */
export const clearingRoutes = (database: Database): Router => {
  const router = Router()
  router.get('/clearing', async (_request, response) => {
    response.json(await asClient(database, actorOf(response), loadClearingList))
  })
  router.get('/clearing/:account', async (request, response) => {
    const { date, currency } = z
      .object({ date: z.iso.date().optional(), currency: z.string().length(3).optional() })
      .parse(request.query)
    response.json(
      found(
        await asClient(database, actorOf(response), tx =>
          loadProofPage(tx, request.params.account, { date: date ?? null, currency: currency ?? null }),
        ),
        'account that can be proved',
      ),
    )
  })
  router.put('/clearing/:account/stated', async (request, response) => {
    const body = statedBody.parse(request.body)
    await stateBalance(database, actorOf(response), { ...body, account: request.params.account })
    response.json({ changed: 1 })
  })
  return router
}
