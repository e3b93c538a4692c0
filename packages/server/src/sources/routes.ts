import { randomUUID } from 'node:crypto'
import { newSource, saveOptionsBody } from '@culvert/contract'
import { dateBases } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { Router } from 'express'
import { z } from 'zod'
import { actorOf } from '../access/establish.ts'
import { withFile } from '../access/receiveFile.ts'
import { found, Refused } from '../access/refused.ts'
import { asClient, type Database, rowsOf } from '../database/connect.ts'
import type { Jobs } from '../jobs/boss.ts'
import { createSource } from './createSource.ts'
import { endDeadPulls } from './deadPulls.ts'
import { loadPulls, loadSources } from './loadSources.ts'
import { beginPull } from './pullLog.ts'
import { askBasis, loadOptions, saveOptions } from './sourceOptions.ts'
import { uploadFile } from './uploadFile.ts'

/** A new source's tax goes by period, and its postage as the goods do. */
const newOptions = { splitAtMonthEnd: true, ancillaryFollows: true } as const

/** Sources, their pulls and uploads. */
export const sourceRoutes = (database: Database, jobs: Jobs): Router => {
  const router = Router()
  router.get('/sources', async (_request, response) => {
    response.json({
      sources: await asClient(database, actorOf(response), async tx => {
        await endDeadPulls(tx)
        return loadSources(tx)
      }),
    })
  })
  router.post('/sources', async (request, response) => {
    const source = newSource.parse(request.body)
    // What a new source does unless it is said otherwise; those of before keep what they have.
    await createSource(database, actorOf(response), { ...source, options: { ...newOptions, ...source.options } })
    response.status(201).json({})
  })
  router.get('/sources/:source/options', async (request, response) => {
    response.json(await asClient(database, actorOf(response), tx => loadOptions(tx, request.params.source)))
  })
  router.get('/sources/:source/options/basis', async (request, response) => {
    const { basis } = z.object({ basis: z.enum(dateBases) }).parse(request.query)
    response.json(await askBasis(database, actorOf(response), { source: request.params.source, basis }))
  })
  router.put('/sources/:source/options', async (request, response) => {
    const { version, options } = saveOptionsBody.parse(request.body)
    const { source } = request.params
    response.json(await saveOptions(database, actorOf(response), { source, options, madeFrom: version }))
  })
  router.get('/pulls', async (request, response) => {
    const { source } = z.object({ source: z.string().optional() }).parse(request.query)
    response.json({
      pulls: await asClient(database, actorOf(response), async tx => {
        await endDeadPulls(tx)
        return loadPulls(tx, source ?? null)
      }),
    })
  })
  router.post('/sources/:source/pull', async (request, response) => {
    const actor = actorOf(response)
    const pullId = await asClient(database, actor, async tx => {
      const [source] = await rowsOf<{ address: string | null }>(
        tx,
        sql`
        SELECT address FROM source WHERE client_id = current_client() AND source = ${request.params.source} FOR NO KEY UPDATE`,
      )
      if (found(source, 'source').address === null)
        throw new Refused(409, 'This source is not connected; bring its activity in as files.')
      await endDeadPulls(tx)
      const [running] = await rowsOf<{ id: string }>(
        tx,
        sql`SELECT pull_id AS id FROM pull WHERE client_id = current_client()
        AND source = ${request.params.source} AND sort = 'pull' AND state IN ('waiting', 'running', 'cancelling')`,
      )
      // A second press joins the pull that is under way.
      if (running) return running.id
      const id = randomUUID()
      await beginPull(tx, actor, {
        pullId: id,
        sort: 'pull',
        source: request.params.source,
        state: 'waiting',
        message: '',
      })
      await jobs.enqueue(tx, 'pull_source', { ...actor, pullId: id, source: request.params.source })
      return id
    })
    response.status(202).json({ pullId })
  })
  router.post('/pulls/:pull/cancel', async (request, response) => {
    await asClient(database, actorOf(response), async tx => {
      await tx.execute(sql`UPDATE pull SET state = 'cancelling'
        WHERE client_id = current_client() AND pull_id = ${request.params.pull} AND state IN ('waiting', 'running')`)
      await endDeadPulls(tx)
    })
    response.json({})
  })
  router.post('/sources/:source/files', async (request, response) => {
    const actor = actorOf(response)
    const { name } = z.object({ name: z.string().max(300).default('file') }).parse(request.query)
    await asClient(database, actor, async tx => {
      const [source] = await rowsOf(
        tx,
        sql`SELECT FROM source WHERE client_id = current_client() AND source = ${request.params.source}`,
      )
      found(source, 'source')
    })
    response.json(
      await withFile(request, body => uploadFile(database, actor, { source: request.params.source, name, body })),
    )
  })
  return router
}
