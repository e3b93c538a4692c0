import { endpoints } from '@culvert/contract'
import { Router } from 'express'
import { loadCourse } from '../access/loadSession.ts'
import { serve } from '../access/serve.ts'
import { asClient, type Database } from '../database/connect.ts'
import { countStale } from './countStale.ts'
import { find } from './find.ts'
import { loadOverview } from './overview.ts'
import type { Counters } from './stages.ts'

/** The course bar and the find box. */
export const courseRoutes = (database: Database, counters: Counters): Router => {
  const router = Router()
  serve(router, endpoints.course, async ({ actor }) => {
    await countStale(database, actor, counters)
    return asClient(database, actor, tx => loadCourse(tx, actor.userId))
  })
  serve(router, endpoints.overview, ({ actor }) => asClient(database, actor, loadOverview))
  serve(router, endpoints.find, async ({ actor, query }) => ({
    items: await asClient(database, actor, tx => find(tx, query.q)),
  }))
  return router
}
