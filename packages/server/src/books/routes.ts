import { openingBody, rateRow, traceStart } from '@culvert/contract'
import { Router } from 'express'
import { z } from 'zod'
import { actorOf } from '../access/establish.ts'
import { found } from '../access/refused.ts'
import { asClient, type Database } from '../database/connect.ts'
import { loadChart, loadEntries, loadEntry, loadRegister } from './loadBooks.ts'
import { loadRates } from './loadRates.ts'
import { loadOpening, postOpening, undoOpening } from './openingBalances.ts'
import { saveRates } from './saveRates.ts'
import { loadTrace } from './trace.ts'

const range = z.object({
  from: z.iso.date().optional(),
  to: z.iso.date().optional(),
  offset: z.coerce.number().int().min(0).default(0),
  limit: z.coerce.number().int().min(1).max(1000).default(200),
})
const rangeOf = (query: unknown) => {
  const { from, to, offset, limit } = range.parse(query)
  return { from: from ?? null, to: to ?? null, offset, limit }
}

/** Chart of accounts, entries, registers and the trace of an amount. */
export const bookRoutes = (database: Database): Router => {
  const router = Router()
  router.get('/rates', async (_request, response) => {
    response.json({ rates: await asClient(database, actorOf(response), loadRates) })
  })
  router.put('/rates', async (request, response) => {
    const { rates } = z.object({ rates: z.array(rateRow).min(1).max(5000) }).parse(request.body)
    response.json({ changed: await saveRates(database, actorOf(response), rates) })
  })
  router.get('/books/chart', async (request, response) => {
    const { to } = rangeOf(request.query)
    response.json(await asClient(database, actorOf(response), tx => loadChart(tx, to)))
  })
  router.get('/books/opening', async (_request, response) => {
    response.json(await asClient(database, actorOf(response), loadOpening))
  })
  router.post('/books/opening', async (request, response) => {
    response
      .status(201)
      .json({ number: await postOpening(database, actorOf(response), openingBody.parse(request.body)) })
  })
  router.post('/books/opening/undo', async (_request, response) => {
    await undoOpening(database, actorOf(response))
    response.json({})
  })
  router.get('/books/entries', async (request, response) => {
    response.json(await asClient(database, actorOf(response), tx => loadEntries(tx, rangeOf(request.query))))
  })
  router.get('/books/entries/:number', async (request, response) => {
    const number = z
      .string()
      .regex(/^\d{4}-\d{1,9}$/)
      .parse(request.params.number)
    response.json(found(await asClient(database, actorOf(response), tx => loadEntry(tx, number)), 'entry'))
  })
  router.get('/books/register/:account', async (request, response) => {
    response.json(
      found(
        await asClient(database, actorOf(response), tx =>
          loadRegister(tx, request.params.account, rangeOf(request.query)),
        ),
        'account',
      ),
    )
  })
  router.get('/trace', async (request, response) => {
    const start = traceStart.parse(request.query)
    response.json(found(await asClient(database, actorOf(response), tx => loadTrace(tx, start)), 'way to trace'))
  })
  return router
}
