import { existsSync } from 'node:fs'
import { setTimeout as pause } from 'node:timers/promises'
import { fileURLToPath } from 'node:url'
import compression from 'compression'
import express, { type Express, type NextFunction, type Request, type Response, Router } from 'express'
import { rateLimit } from 'express-rate-limit'
import helmet from 'helmet'
import type { Logger } from 'pino'
import { pinoHttp } from 'pino-http'
import { answerProblem } from './access/answerProblem.ts'
import { establishClient, establishPerson, type Person } from './access/establish.ts'
import { startMetrics } from './access/metrics.ts'
import { refuseUnstorable } from './access/storable.ts'
import { bankRoutes } from './bank/routes.ts'
import { bookRoutes } from './books/routes.ts'
import { clearingRoutes } from './clearing/routes.ts'
import { clientRoutes } from './clients/routes.ts'
import { closeRoutes } from './close/routes.ts'
import { courseRoutes } from './course/routes.ts'
import type { Database } from './database/connect.ts'
import type { Jobs } from './jobs/boss.ts'
import { jobRoutes } from './jobs/routes.ts'
import { mappingRoutes } from './mapping/routes.ts'
import { paymentRoutes } from './payments/routes.ts'
import { settlementRoutes } from './settlements/routes.ts'
import { sourceRoutes } from './sources/routes.ts'
import { counters, monthChecks } from './stages.ts'

const webFolder = fileURLToPath(new URL('../../web/dist', import.meta.url))

// What the API says is one person’s, and true for now: nobody on the way may keep it.
const noStore = (_request: Request, response: Response, next: NextFunction): void => {
  response.set('cache-control', 'no-store')
  next()
}

/** The whole HTTP application: the API under /api, the built interface everywhere else. */
export const createApp = (parts: { database: Database; jobs: Jobs; person: Person; log: Logger }): Express => {
  const { database, jobs, person, log } = parts
  const app = express()
  app.disable('x-powered-by')
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          'style-src': ["'self'", "'unsafe-inline'"],
          'img-src': ["'self'", 'data:'],
          'script-src': ["'self'"],
          'upgrade-insecure-requests': null,
        },
      },
      strictTransportSecurity: false,
    }),
  )
  app.use(pinoHttp({ logger: log, autoLogging: false }))
  app.use(compression())
  const metrics = startMetrics(database)
  app.use(metrics.time)
  // The process lives; whether it can do anything, health says.
  app.get('/api/alive', (_request, response) => {
    response.set('cache-control', 'no-store').json({ ok: true })
  })
  app.get('/api/health', async (_request, response) => {
    const reached = await Promise.race([
      database.$client.query('SELECT 1').then(
        () => true,
        () => false,
      ),
      pause(2000, false),
    ])
    response.set('cache-control', 'no-store').status(reached ? 200 : 503)
    response.json(reached ? { ok: true } : { ok: false, error: 'The database does not answer.' })
  })
  app.get('/api/metrics', establishPerson(person), metrics.tell)
  app.use(
    '/api',
    rateLimit({ windowMs: 60_000, limit: 20_000, standardHeaders: 'draft-8', legacyHeaders: false }),
    noStore,
    establishPerson(person),
    express.json({ limit: '8mb' }),
    refuseUnstorable,
  )
  app.use('/api', clientRoutes(database, counters))
  const ofClient = Router({ mergeParams: true })
  ofClient.use(
    establishClient(database),
    courseRoutes(database, counters),
    jobRoutes(database),
    sourceRoutes(database, jobs),
    mappingRoutes(database),
    settlementRoutes(database, jobs),
    paymentRoutes(database),
    bankRoutes(database, jobs),
    clearingRoutes(database),
    bookRoutes(database),
    closeRoutes(database, monthChecks),
  )
  app.use('/api/clients/:client', ofClient)
  app.use('/api', (_request, response) => {
    response.status(404).json({ error: 'no such address' })
  })
  if (existsSync(webFolder)) {
    app.use(
      express.static(webFolder, {
        index: false,
        maxAge: '1h',
        setHeaders: (response, path) => {
          if (path.includes('/assets/')) response.setHeader('cache-control', 'public, max-age=31536000, immutable')
        },
      }),
    )
    app.get('/{*path}', (_request, response) => {
      response.sendFile('index.html', { root: webFolder, headers: { 'cache-control': 'no-cache' } })
    })
  }
  app.use(answerProblem)
  return app
}
