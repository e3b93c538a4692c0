import { decideDisputeBody, saveLabelsBody, undoDisputeBody } from '@culvert/contract'
import { Router } from 'express'
import { actorOf } from '../access/establish.ts'
import { asClient, type Database } from '../database/connect.ts'
import { decideDispute, undoDispute } from './decideDispute.ts'
import { loadDisputesPage } from './disputes.ts'
import { loadTieOut } from './loadTieOut.ts'
import { saveLabels } from './saveLabels.ts'

/** What channels say was paid by a gateway, held against what it collected. */
export const paymentRoutes = (database: Database): Router => {
  const router = Router()
  router.get('/tie-out', async (_request, response) => {
    response.json(await asClient(database, actorOf(response), loadTieOut))
  })
  router.get('/disputes', async (_request, response) => {
    response.json(await asClient(database, actorOf(response), loadDisputesPage))
  })
  router.post('/disputes/decide', async (request, response) => {
    await decideDispute(database, actorOf(response), decideDisputeBody.parse(request.body))
    response.json({})
  })
  router.post('/disputes/undo', async (request, response) => {
    await undoDispute(database, actorOf(response), undoDisputeBody.parse(request.body))
    response.json({})
  })
  router.put('/tie-out/labels', async (request, response) => {
    const { labels, version } = saveLabelsBody.parse(request.body)
    response.json({ version: await saveLabels(database, actorOf(response), labels, version) })
  })
  return router
}
