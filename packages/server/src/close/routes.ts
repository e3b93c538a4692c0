import { lockBody, month, taxFilingBody, withdrawFilingBody } from '@culvert/contract'
import { Router } from 'express'
import { z } from 'zod'
import { actorOf } from '../access/establish.ts'
import { asClient, type Database } from '../database/connect.ts'
import { loadMonths, setLocked } from './loadClose.ts'
import { loadMonthState } from './loadMonthState.ts'
import { fileTax, loadTaxFilings, withdrawTaxFiling } from './taxFilings.ts'

/** The months, and locking them. */
export const closeRoutes = (database: Database): Router => {
  const router = Router()
  router.get('/close', async (_request, response) => {
    response.json({ months: await asClient(database, actorOf(response), loadMonths) })
  })
  router.get('/close/:month', async (request, response) => {
    const wanted = month.parse(request.params.month)
    response.json(await asClient(database, actorOf(response), tx => loadMonthState(tx, wanted)))
  })
  router.get('/tax-filings', async (_request, response) => {
    response.json({ filings: await asClient(database, actorOf(response), loadTaxFilings) })
  })
  router.post('/tax-filings', async (request, response) => {
    response.status(201).json({ id: await fileTax(database, actorOf(response), taxFilingBody.parse(request.body)) })
  })
  router.post('/tax-filings/:id/withdraw', async (request, response) => {
    const id = z.coerce.number().int().min(1).max(2_147_483_647).parse(request.params.id)
    const { reason } = withdrawFilingBody.parse(request.body)
    await withdrawTaxFiling(database, actorOf(response), id, reason)
    response.json({})
  })
  router.put('/close/lock', async (request, response) => {
    await setLocked(database, actorOf(response), lockBody.parse(request.body))
    response.json({})
  })
  return router
}
