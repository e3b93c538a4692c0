import { keysBody, setAsideBody, settlementKey } from '@culvert/contract'
import { Router } from 'express'
import { z } from 'zod'
import { actorOf } from '../access/establish.ts'
import { found, Refused } from '../access/refused.ts'
import { asClient, type Database } from '../database/connect.ts'
import { listLines } from './activityLines.ts'
import { bookCorrection, type CorrectionOutcome } from './bookCorrection.ts'
import { listSettlements } from './listSettlements.ts'
import { loadSettlement } from './loadSettlement.ts'
import { postSettlements } from './postSettlements.ts'
import { sayNoDouble, setAside, takeUp } from './setAside.ts'
import { takeBack } from './takeBack.ts'

const listQuery = z.object({
  state: z.string().optional(),
  source: z.string().optional(),
  from: z.string().optional(),
  to: z.string().optional(),
  offset: z.coerce.number().int().min(0).default(0),
  limit: z.coerce.number().int().min(1).max(1000).default(200),
})

const correctionText = (reason: Extract<CorrectionOutcome, { ok: false }>['reason']): string => {
  switch (reason) {
    case 'not_posted':
      return 'The settlement is not posted.'
    case 'nothing_to_correct':
      return 'There is nothing to correct any more.'
    case 'blocked':
      return 'With its revised lines the settlement would be blocked; see its reasons, then take it back and post it again.'
    case 'payout':
      return 'A payout itself changed. Take the settlement back and post it again.'
  }
}

/** Settlements: list, one, post, take back, set aside, corrections. */
export const settlementRoutes = (database: Database): Router => {
  const router = Router()
  router.get('/settlements', async (request, response) => {
    const { state, source, from, to, offset, limit } = listQuery.parse(request.query)
    response.json(
      await asClient(database, actorOf(response), tx =>
        listSettlements(tx, {
          state: state ?? null,
          source: source ?? null,
          from: from ?? null,
          to: to ?? null,
          offset,
          limit,
        }),
      ),
    )
  })
  router.get('/settlements/:source/:key/:currency', async (request, response) => {
    const key = settlementKey.parse(request.params)
    response.json(found(await asClient(database, actorOf(response), tx => loadSettlement(tx, key)), 'settlement'))
  })
  router.get('/settlements/:source/:key/:currency/lines', async (request, response) => {
    const key = settlementKey.parse(request.params)
    const part = z.object({ kind: z.string(), category: z.string().default('') }).parse(request.query)
    response.json(await asClient(database, actorOf(response), tx => listLines(tx, key, part)))
  })
  router.post('/settlements/post', async (request, response) => {
    response.json(await postSettlements(database, actorOf(response), keysBody.parse(request.body).keys))
  })
  router.post('/settlements/take-back', async (request, response) => {
    response.json(await takeBack(database, actorOf(response), keysBody.parse(request.body).keys))
  })
  router.post('/settlements/set-aside', async (request, response) => {
    const { keys, reason } = setAsideBody.parse(request.body)
    response.json({ changed: await setAside(database, actorOf(response), keys, reason) })
  })
  router.post('/settlements/no-double', async (request, response) => {
    response.json({ changed: await sayNoDouble(database, actorOf(response), keysBody.parse(request.body).keys) })
  })
  router.post('/settlements/take-up', async (request, response) => {
    response.json({ changed: await takeUp(database, actorOf(response), keysBody.parse(request.body).keys) })
  })
  router.post('/settlements/:source/:key/:currency/correction', async (request, response) => {
    const outcome = await bookCorrection(database, actorOf(response), settlementKey.parse(request.params))
    if (!outcome.ok) throw new Refused(409, correctionText(outcome.reason))
    response.json({ changed: outcome.entries })
  })
  return router
}
