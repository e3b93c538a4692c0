import { Router } from 'express'
import { z } from 'zod'
import { actorOf } from '../access/establish.ts'
import { asClient, type Database } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { find } from './find.ts'
import { loadCourse } from './loadSession.ts'
import { countStale } from './refreshSummary.ts'

/** The course bar and the find box. */
export const courseRoutes = (database: Database): Router => {
  const router = Router()
  router.get('/course', async (_request, response) => {
    const actor = actorOf(response)
    response.json(
      await retrying(() =>
        asClient(database, actor, async tx => {
          await countStale(tx)
          return loadCourse(tx, actor.userId)
        }),
      ),
    )
  })
  router.get('/find', async (request, response) => {
    const { q } = z.object({ q: z.string().max(200) }).parse(request.query)
    response.json({ items: await asClient(database, actorOf(response), tx => find(tx, q)) })
  })
  return router
}
