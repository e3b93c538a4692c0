import { endpoints } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Router } from 'express'
import { loadCourse } from '../access/loadSession.ts'
import { serve } from '../access/serve.ts'
import { consentsWaitingFor } from '../consents/consents.ts'
import { asClient, type Database, oneRow, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { notesWaitingFor } from '../notes/loadNotes.ts'
import { countStale } from './countStale.ts'
import { find } from './find.ts'
import { loadOverview } from './overview.ts'
import type { Counters } from './stages.ts'

/** How much waits for one person: questions, answers to theirs, consents. */
const countAsked = async (tx: Transaction, userId: number): Promise<number> =>
  (
    await oneRow(
      tx,
      { asked: is.whole },
      sql`SELECT ${notesWaitingFor(userId)} + ${consentsWaitingFor(userId)} AS asked`,
    )
  ).asked

/** The course bar and the find box. */
export const courseRoutes = (database: Database, counters: Counters): Router => {
  const router = Router()
  serve(router, endpoints.course, async ({ actor }) => {
    await countStale(database, actor, counters)
    return asClient(database, actor, async tx => ({
      ...(await loadCourse(tx, actor.userId)),
      asked: await countAsked(tx, actor.userId),
    }))
  })
  serve(router, endpoints.overview, ({ actor }) => asClient(database, actor, loadOverview))
  serve(router, endpoints.find, async ({ actor, query }) => ({
    items: await asClient(database, actor, tx => find(tx, query.q)),
  }))
  return router
}
