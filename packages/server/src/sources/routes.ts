import { endpoints } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Router } from 'express'
import { found } from '../access/refused.ts'
import { serve } from '../access/serve.ts'
import { loadPersonalOf } from '../activity/persons.ts'
import { asClient, type Database, rowsOf } from '../database/connect.ts'
import type { Jobs } from '../jobs/boss.ts'
import { endDeadJobs } from '../jobs/deadJobs.ts'
import { fileOrJob } from '../jobs/readFile.ts'
import { disconnect, loadConnection } from './connection.ts'
import { attachShop, connectShop } from './connectShop.ts'
import { saveOrCount } from './countMany.ts'
import { createSource } from './createSource.ts'
import { loadImport } from './importPage.ts'
import { loadPulls, loadSources } from './loadSources.ts'
import { eraseCustomers, exportCustomers, findCustomers, setPersonalScope } from './personalData.ts'
import { loadAside, sayOfAside } from './rowsAside.ts'
import { askBasis, loadOptions } from './sourceOptions.ts'
import { loadSourceSettings, removeSource, saveSource } from './sourceSettings.ts'
import { startPull } from './startPull.ts'
import { takeImportBack } from './takeImportBack.ts'
import { uploadFile } from './uploadFile.ts'

/** A new source's tax goes by period, and its postage as the goods do. */
const newOptions = { splitAtMonthEnd: true, ancillaryFollows: true } as const

/** Sources, their options, pulls and uploads. */
export const sourceRoutes = (database: Database, jobs: Jobs): Router => {
  const router = Router()
  serve(router, endpoints.sources, async ({ actor }) => ({
    sources: await asClient(database, actor, async tx => {
      await endDeadJobs(tx)
      return loadSources(tx)
    }),
  }))
  serve(router, endpoints.addSource, async ({ actor, body }) => {
    // What a new source does unless it is said otherwise; those of before keep what they have.
    await createSource(database, actor, { ...body, options: { ...newOptions, ...body.options } })
    return {}
  })
  serve(router, endpoints.connectShop, async ({ actor, params, body }) => ({
    pull: await connectShop(database, jobs, actor, {
      grantId: params.grant,
      wanted: { ...body, options: { ...newOptions, ...body.options } },
    }),
  }))
  serve(router, endpoints.attachShop, async ({ actor, params, body }) => {
    await attachShop(database, actor, { grantId: params.grant, ...body })
    return {}
  })
  serve(router, endpoints.connection, ({ actor, params }) =>
    asClient(database, actor, tx => loadConnection(tx, params.source)),
  )
  serve(router, endpoints.disconnect, async ({ actor, params }) => ({
    told: await disconnect(database, actor, params.source),
  }))
  serve(router, endpoints.sourceSettings, ({ actor, params }) =>
    asClient(database, actor, tx => loadSourceSettings(tx, params.source)),
  )
  serve(router, endpoints.saveSource, async ({ actor, params, body }) => ({
    version: await saveSource(database, actor, { source: params.source, wanted: body.source, version: body.version }),
  }))
  serve(router, endpoints.removeSource, async ({ actor, params }) => {
    await removeSource(database, actor, params.source)
    return {}
  })
  serve(router, endpoints.options, ({ actor, params }) =>
    asClient(database, actor, tx => loadOptions(tx, params.source)),
  )
  serve(router, endpoints.basisEffect, ({ actor, params, query }) =>
    askBasis(database, actor, {
      source: params.source,
      by: { dateBasis: query.basis, cutOff: query.cutOff ?? null, timeZone: query.timeZone ?? null },
    }),
  )
  serve(router, endpoints.saveOptions, ({ actor, params, body: { version, options } }) =>
    saveOrCount(database, jobs, actor, { source: params.source, options, madeFrom: version }),
  )
  serve(router, endpoints.pulls, async ({ actor, query }) => ({
    pulls: await asClient(database, actor, async tx => {
      await endDeadJobs(tx)
      return loadPulls(tx, query.source ?? null)
    }),
  }))
  serve(router, endpoints.pull, async ({ actor, params }) => ({
    job: await startPull(database, jobs, actor, params.source),
  }))
  serve(router, endpoints.upload, async ({ actor, params: { source }, query: { name, ...told }, request }) => {
    await asClient(database, actor, async tx => {
      const [row] = await rowsOf(
        tx,
        {},
        sql`SELECT FROM source WHERE client_id = current_client() AND source = ${source}`,
      )
      found(row, 'source')
    })
    return fileOrJob({ database, jobs, actor, request }, { sort: 'upload', subject: source, name, told }, body =>
      uploadFile(database, actor, { source, name, body, told }),
    )
  })
  serve(router, endpoints.rowsAside, async ({ actor, params }) => ({
    rows: await asClient(database, actor, tx => loadAside(tx, params.source)),
  }))
  serve(router, endpoints.sayOfRowAside, async ({ actor, params, body }) => {
    await sayOfAside(database, actor, { ...body, source: params.source })
    return {}
  })
  serve(router, endpoints.importedFile, ({ actor, params }) =>
    asClient(database, actor, async tx => {
      const { pullNo: _, ...page } = await loadImport(tx, { source: params.source, jobId: params.job })
      return page
    }),
  )
  serve(router, endpoints.takeImportBack, ({ actor, params }) =>
    takeImportBack(database, actor, { source: params.source, jobId: params.job }),
  )
  serve(router, endpoints.personalOfSource, ({ actor, params }) =>
    asClient(database, actor, async tx => {
      const [known] = await rowsOf(
        tx,
        {},
        sql`SELECT FROM source WHERE client_id = current_client() AND source = ${params.source}`,
      )
      found(known ?? null, 'source')
      return loadPersonalOf(tx, params.source)
    }),
  )
  serve(router, endpoints.setPersonalScope, ({ actor, params, body }) =>
    setPersonalScope(database, actor, { source: params.source, scope: body.scope }),
  )
  serve(router, endpoints.customers, ({ actor, query }) => asClient(database, actor, tx => findCustomers(tx, query.q)))
  serve(router, endpoints.exportCustomers, ({ actor, body }) => exportCustomers(database, actor, body.ids))
  serve(router, endpoints.eraseCustomers, async ({ actor, body }) => ({
    erased: await eraseCustomers(database, actor, body.ids),
  }))
  return router
}
