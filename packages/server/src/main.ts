import { pino } from 'pino'
import { z } from 'zod'
import { briefly } from './access/briefly.ts'
import { forgetExpired } from './access/forgetExpired.ts'
import { startIdentity } from './access/identity.ts'
import { keyring } from './access/keyring.ts'
import { startMail } from './access/mail.ts'
import { createApp } from './app.ts'
import { startPairing } from './bank/pairBeside.ts'
import { connect, type Report, startClockAt } from './database/connect.ts'
import { startJobs } from './jobs/boss.ts'
import { ensureDemoPersons } from './people/demoPersons.ts'
import { inviteFirst } from './people/invitations.ts'
import { serveQueues } from './work.ts'

const environment = z
  .object({
    APP_DATABASE_URL: z.string(),
    PORT: z.coerce.number().default(4780),
    LOG_LEVEL: z.string().default('warn'),
    /** Where the clock begins, for data that lives in another month. */
    CULVERT_CLOCK: z.iso.datetime({ offset: true }).optional(),
    /** When it stood there, for processes that work together; ms since 1970. */
    CULVERT_CLOCK_SINCE: z.coerce.number().int().positive().optional(),
    /** Where people reach the application, without a path: also what names its host. Absent: this machine. */
    CULVERT_ORIGIN: z.url().optional(),
    /** Where letters go, as smtp://host:port; absent: none are sent. */
    SMTP_URL: z.string().optional(),
    MAIL_FROM: z.string().default('Culvert <culvert@localhost>'),
    /** Proxies that stand before it. */
    TRUSTED_PROXIES: z.coerce.number().int().min(0).default(0),
    /** Shows the made-up people of the demo where people sign in. Never to be set beside real books. */
    CULVERT_DEMO: z.enum(['0', '1']).default('0'),
  })
  .parse(process.env)

const log = pino({
  level: environment.LOG_LEVEL,
  // What lets somebody in stands in no log, whatever is logged of a request.
  redact: ['req.headers.authorization', 'req.headers.cookie', 'req.headers["x-question"]'],
})
const report: Report = (error, at) => log.warn({ error: briefly(error), at })
// A promise of a package that nobody waits for must not end everybody’s work.
process.on('unhandledRejection', error => report(error, 'nobody waited for it'))
if (environment.CULVERT_CLOCK) startClockAt(environment.CULVERT_CLOCK, environment.CULVERT_CLOCK_SINCE)
const database = connect(environment.APP_DATABASE_URL, 24, report)
const jobs = await startJobs(environment.APP_DATABASE_URL, database, report)
await serveQueues(jobs, database, report)
startPairing()
const demo = environment.CULVERT_DEMO === '1'
const origin = environment.CULVERT_ORIGIN ?? `http://127.0.0.1:${environment.PORT}`
const identity = startIdentity({
  ...{ database, origin, report },
  url: environment.APP_DATABASE_URL,
  secret: keyring()[0].secret,
  mail: startMail(environment.SMTP_URL, environment.MAIL_FROM),
})
const forget = (): void => void forgetExpired(database).catch(error => report(error, 'forgetting what is over'))
forget()
setInterval(forget, 24 * 60 * 60 * 1000).unref()
if (demo) await ensureDemoPersons(database)
const first = await inviteFirst(database, origin)
if (first)
  console.log(`culvert: nobody signs in here yet. Whoever opens this link, within a day, is the first: ${first}`)
const server = createApp({
  ...{ database, jobs, identity, log, demo, origin },
  proxies: environment.TRUSTED_PROXIES,
}).listen(environment.PORT, '127.0.0.1')

/** What is being answered is answered first, for so long; then it is broken off, and whatever it was doing undone whole. */
const graceSeconds = 20
const stop = async (): Promise<void> => {
  const late = setTimeout(() => server.closeAllConnections(), graceSeconds * 1000)
  await new Promise<void>(resolve => {
    server.close(() => resolve())
    server.closeIdleConnections()
  })
  clearTimeout(late)
  await jobs.stop()
  await identity.stop()
  await database.$client.end()
  process.exit(0)
}
// A second signal does not wait.
let stopping = false
const onSignal = (): void => {
  if (stopping) process.exit(1)
  stopping = true
  void stop()
}
process.on('SIGTERM', onSignal)
process.on('SIGINT', onSignal)
