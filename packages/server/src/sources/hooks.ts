import { endpoints } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { type Request, Router, raw } from 'express'
import { Webhook } from 'standardwebhooks'
import { z } from 'zod'
import { Refused } from '../access/refused.ts'
import { serve } from '../access/serve.ts'
import { asPerson, type Database, rowsOf } from '../database/connect.ts'
import { isUnreachable } from '../database/reachable.ts'
import { is } from '../database/rows.ts'
import { serviceNamed } from '../grants/services.ts'
import { shopKey } from '../grants/shops.ts'
import type { Jobs } from '../jobs/boss.ts'
import { startPull } from './startPull.ts'

const news = z.object({ type: z.string(), data: z.object({ shop: z.string().min(1).max(200) }) })

/** What is signed, and by whom: of the Standard Webhooks, whose signature holds for five minutes. @throws Refused */
const signedNews = (request: Request, service: string): z.infer<typeof news> => {
  const secret = serviceNamed(service).program.hookSecret
  if (secret === undefined) throw new Refused('news_unsigned')
  const header = (name: string): string => String(request.headers[name] ?? '')
  try {
    const body = new Webhook(secret).verify(Buffer.isBuffer(request.body) ? request.body : '', {
      'webhook-id': header('webhook-id'),
      'webhook-timestamp': header('webhook-timestamp'),
      'webhook-signature': header('webhook-signature'),
    })
    return news.parse(body)
  } catch {
    throw new Refused('news_unsigned')
  }
}

/** Where services tell that there is something new: the sources that it concerns are pulled. What they say is no activity; it is fetched as ever. */
export const hookRoutes = (database: Database, jobs: Jobs): Router => {
  const router = Router()
  router.use('/hooks', raw({ type: () => true, limit: '64kb' }))
  serve(router, endpoints.hook, async ({ params, request }) => {
    const { data } = signedNews(request, params.service)
    const sources = await asPerson(database, 0, tx =>
      rowsOf(
        tx,
        { clientId: is.whole, source: is.text, userId: is.whole },
        sql`SELECT of_client AS "clientId", of_source AS source, as_person AS "userId" FROM sources_of_shop(${shopKey(params.service, data.shop)})`,
      ),
    )
    for (const { clientId, source, userId } of sources)
      try {
        await startPull(database, jobs, { clientId, userId }, source)
      } catch (error) {
        // Of an archived client nothing is pulled; the service need not know of it. Of a database that is away it must: it tells again.
        if (isUnreachable(error)) throw error
      }
    return {}
  })
  return router
}
