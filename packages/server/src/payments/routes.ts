import { endpoints } from '@culvert/contract'
import { Router } from 'express'
import { serve } from '../access/serve.ts'
import { asClient, type Database } from '../database/connect.ts'
import { decideDispute, undoDispute } from './decideDispute.ts'
import { decidePayments } from './decidePayments.ts'
import { loadDisputesPage } from './disputes.ts'
import { loadTieOut } from './loadTieOut.ts'
import { saveLabels } from './saveLabels.ts'
import { saveWriteOff } from './saveWriteOff.ts'
import { undoPayments } from './undoPayments.ts'

/** What channels say was paid by a gateway, held against what it collected. */
export const paymentRoutes = (database: Database): Router => {
  const router = Router()
  serve(router, endpoints.tieOut, ({ actor }) => asClient(database, actor, loadTieOut))
  serve(router, endpoints.saveLabels, async ({ actor, body: { labels, version } }) => ({
    version: await saveLabels(database, actor, labels, version),
  }))
  serve(router, endpoints.decidePayments, async ({ actor, body }) => {
    const { decided, entries } = await decidePayments(database, actor, body.decisions)
    return { decided, entries: [...entries] }
  })
  serve(router, endpoints.undoPayments, ({ actor, body }) => undoPayments(database, actor, body.of))
  serve(router, endpoints.saveWriteOff, async ({ actor, body }) => {
    await saveWriteOff(database, actor, body)
    return {}
  })
  serve(router, endpoints.disputes, ({ actor }) => asClient(database, actor, loadDisputesPage))
  serve(router, endpoints.decideDispute, async ({ actor, body }) => {
    await decideDispute(database, actor, body)
    return {}
  })
  serve(router, endpoints.undoDispute, async ({ actor, body }) => {
    await undoDispute(database, actor, body)
    return {}
  })
  return router
}
