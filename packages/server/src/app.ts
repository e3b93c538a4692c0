import { existsSync } from 'node:fs'
import { setTimeout as pause } from 'node:timers/promises'
import { fileURLToPath } from 'node:url'
import compression from 'compression'
import express, { type Express, type NextFunction, type Request, type Response, Router } from 'express'
import { rateLimit } from 'express-rate-limit'
import expressStaticGzip from 'express-static-gzip'
import helmet from 'helmet'
import type { Logger } from 'pino'
import { pinoHttp } from 'pino-http'
import { answerProblem } from './access/answerProblem.ts'
import { allow, establishClient, establishPerson, establishPractice, hostsOf } from './access/establish.ts'
import type { Identity } from './access/identity.ts'
import type { Letters } from './access/letters.ts'
import { startMetrics } from './access/metrics.ts'
import { always, type Who } from './access/who.ts'
import { actRoutes, practiceActRoutes } from './acts/routes.ts'
import { bankRoutes } from './bank/routes.ts'
import { bookRoutes } from './books/routes.ts'
import { clearingRoutes } from './clearing/routes.ts'
import { clientRoutes, settingsRoutes } from './clients/routes.ts'
import { closeRoutes } from './close/routes.ts'
import { consentRoutes } from './consents/routes.ts'
import { courseRoutes } from './course/routes.ts'
import type { Database } from './database/connect.ts'
import { fileRoutes } from './files/routes.ts'
import { grantLinkRoutes, grantRoutes } from './grants/routes.ts'
import type { Jobs } from './jobs/boss.ts'
import { jobRoutes } from './jobs/routes.ts'
import { mappingRoutes } from './mapping/routes.ts'
import { noteRoutes, questionRoutes } from './notes/routes.ts'
import { paymentRoutes } from './payments/routes.ts'
import { peopleRoutes } from './people/routes.ts'
import { settlementRoutes } from './settlements/routes.ts'
import { hookRoutes } from './sources/hooks.ts'
import { sourceRoutes } from './sources/routes.ts'
import { consentables, counters, monthChecks, pullers } from './stages.ts'

const webFolder = fileURLToPath(new URL('../../web/dist', import.meta.url))

// What the API says is one person’s, and true for now: nobody on the way may keep it.
const noStore = (_request: Request, response: Response, next: NextFunction): void => {
  response.set('cache-control', 'no-store')
  next()
}

interface AppParts {
  readonly database: Database
  readonly jobs: Jobs
  readonly log: Logger
  /** Who signs in. */
  readonly identity?: Identity
  /** Who asks, where it is not said by signing in. */
  readonly who?: Who
  /** Whether the page for signing in shows the people of the demo. */
  readonly demo?: boolean
  /** Where people reach it, without a path. */
  readonly origin?: string
  /** How many proxies stand before it, whose word for where a request comes from is taken. */
  readonly proxies?: number
}

/** The whole HTTP application: the API under /api, the built interface everywhere else. */
export const createApp = (parts: AppParts): Express => {
  const { database, jobs, log } = parts
  const { identity, who, demo = false, origin = 'http://127.0.0.1', proxies = 0 } = parts
  const app = express()
  app.disable('x-powered-by')
  app.set('trust proxy', proxies)
  const secure = origin.startsWith('https:')
  const person = establishPerson(who ?? identity?.who ?? always(0), hostsOf(origin))
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
      strictTransportSecurity: secure ? { maxAge: 365 * 24 * 60 * 60, includeSubDomains: false } : false,
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
  app.get('/api/metrics', person, establishPractice(database), allow('read'), metrics.tell)
  app.use(
    '/api',
    rateLimit({ windowMs: 60_000, limit: 20_000, standardHeaders: 'draft-8', legacyHeaders: false }),
    noStore,
    // Services have no pages of ours: what they say is signed.
    hookRoutes(database, jobs),
    person,
  )
  const letters: Letters = {
    mail: identity?.mail ?? (() => Promise.resolve(false)),
    origin: identity?.origin ?? origin,
  }
  const ofPractice = Router()
  ofPractice.use(establishPractice(database), clientRoutes(database, { counters, jobs, pullers }))
  ofPractice.use(practiceActRoutes(database), questionRoutes(database, letters), grantLinkRoutes(database, letters))
  if (identity) ofPractice.use(peopleRoutes(database, identity, demo))
  const ofClient = Router({ mergeParams: true })
  ofClient.use(
    establishClient(database),
    courseRoutes(database, counters),
    settingsRoutes(database),
    jobRoutes(database),
    fileRoutes(database),
    actRoutes(database),
    noteRoutes(database, letters, consentables),
    consentRoutes(database, consentables),
    grantRoutes(database, letters),
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
  app.use('/api', ofPractice)
  app.use('/api', (_request, response) => {
    response.status(404).json({ error: 'no such address' })
  })
  if (existsSync(webFolder)) {
    app.use(
      expressStaticGzip(webFolder, {
        index: false,
        enableBrotli: true,
        orderPreference: ['br', 'gz'],
        serveStatic: {
          maxAge: '1h',
          setHeaders: (response, path) => {
            if (path.includes('/assets/')) response.setHeader('cache-control', 'public, max-age=31536000, immutable')
          },
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
