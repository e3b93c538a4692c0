import { endpoints } from '@culvert/contract'
import { Router } from 'express'
import { serve } from '../access/serve.ts'
import { asClient, type Database } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { find } from './find.ts'
import { loadCourse } from './loadSession.ts'
import { countStale } from './refreshSummary.ts'

/** The course bar and the find box. */
export const courseRoutes = (database: Database): Router => {
  const router = Router()
  serve(router, endpoints.course, ({ actor }) =>
    retrying(() =>
      asClient(database, actor, async tx => {
        await countStale(tx)
        return loadCourse(tx, actor.userId)
      }),
    ),
  )
  serve(router, endpoints.find, async ({ actor, query }) => ({
    items: await asClient(database, actor, tx => find(tx, query.q)),
  }))
  return router
}
