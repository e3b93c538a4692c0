import { endpoints } from '@culvert/contract'
import { Router } from 'express'
import { found } from '../access/refused.ts'
import { serve } from '../access/serve.ts'
import { asClient, type Database } from '../database/connect.ts'
import { answerProof, undoProofAnswer } from './answerProof.ts'
import { loadClearingList, loadProofPage } from './loadClearing.ts'
import { loadCutOver } from './loadCutOver.ts'
import { stateBalance } from './stateBalance.ts'

/** Clearing accounts and their proofs. */
export const clearingRoutes = (database: Database): Router => {
  const router = Router()
  serve(router, endpoints.clearing, ({ actor }) => asClient(database, actor, loadClearingList))
  serve(router, endpoints.answerProof, async ({ actor, body }) => {
    await answerProof(database, actor, body)
    return { changed: 1 }
  })
  serve(router, endpoints.undoProofAnswer, async ({ actor, body }) => {
    await undoProofAnswer(database, actor, body)
    return { changed: 1 }
  })
  serve(router, endpoints.proof, async ({ actor, params, query: { date, currency } }) =>
    found(
      await asClient(database, actor, tx =>
        loadProofPage(tx, params.account, { date: date ?? null, currency: currency ?? null }),
      ),
      'account that can be proved',
    ),
  )
  serve(router, endpoints.cutOver, ({ actor, params }) =>
    asClient(database, actor, tx => loadCutOver(tx, params.source)),
  )
  serve(router, endpoints.stateBalance, async ({ actor, params, body }) => {
    await stateBalance(database, actor, { ...body, account: params.account })
    return { changed: 1 }
  })
  return router
}
