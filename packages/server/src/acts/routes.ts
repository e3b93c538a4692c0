import { endpoints } from '@culvert/contract'
import { Router } from 'express'
import { practiceOf } from '../access/practice.ts'
import { found } from '../access/refused.ts'
import { serve } from '../access/serve.ts'
import { asClient, asPerson, type Database } from '../database/connect.ts'
import { checkSeals } from './checkSeals.ts'
import { loadAct, loadActs } from './loadActs.ts'
import { loadPracticeActs } from './practiceActs.ts'

/** Who did what of a client. */
export const actRoutes = (database: Database): Router => {
  const router = Router()
  serve(router, endpoints.acts, ({ actor, query }) => asClient(database, actor, tx => loadActs(tx, query)))
  serve(router, endpoints.act, async ({ actor, params }) =>
    found(await asClient(database, actor, tx => loadAct(tx, params.act)), 'act'),
  )
  serve(router, endpoints.checkSeals, ({ actor }) => asClient(database, actor, tx => checkSeals(tx, actor.clientId)))
  return router
}

/** Who did what beside all clients. */
export const practiceActRoutes = (database: Database): Router => {
  const router = Router()
  serve(router, endpoints.practiceActs, ({ userId, query }) =>
    asPerson(database, userId, async tx => {
      const { practiceId } = await practiceOf(tx, userId)
      return loadPracticeActs(tx, { practiceId, ...query })
    }),
  )
  return router
}
