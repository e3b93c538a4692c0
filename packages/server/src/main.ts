import { pino } from 'pino'
import { z } from 'zod'
import { briefly } from './access/briefly.ts'
import { createApp } from './app.ts'
import { startPairing } from './bank/pairBeside.ts'
import { ensurePerson } from './clients/createClient.ts'
import { connect, type Report, startClockAt } from './database/connect.ts'
import { startJobs } from './jobs/boss.ts'
import { serveQueues } from './work.ts'

const environment = z
  .object({
    APP_DATABASE_URL: z.string(),
    PORT: z.coerce.number().default(4780),
    LOG_LEVEL: z.string().default('warn'),
    PERSON_NAME: z.string().default('Orla Quill'),
    /** Where the clock begins, for data that lives in another month. */
    CULVERT_CLOCK: z.iso.datetime({ offset: true }).optional(),
    /** When it stood there, for processes that work together; ms since 1970. */
    CULVERT_CLOCK_SINCE: z.coerce.number().int().positive().optional(),
    PERSON_EMAIL: z.string().default('orla.quill@ternandtally.example'),
  })
  .parse(process.env)

const log = pino({ level: environment.LOG_LEVEL })
const report: Report = (error, at) => log.warn({ error: briefly(error), at })
// A promise of a package that nobody waits for must not end everybody’s work.
process.on('unhandledRejection', error => report(error, 'nobody waited for it'))
if (environment.CULVERT_CLOCK) startClockAt(environment.CULVERT_CLOCK, environment.CULVERT_CLOCK_SINCE)
const database = connect(environment.APP_DATABASE_URL, 24, report)
const jobs = await startJobs(environment.APP_DATABASE_URL, database, report)
await serveQueues(jobs, database, report)
startPairing()
const person = {
  userId: await ensurePerson(database, { name: environment.PERSON_NAME, email: environment.PERSON_EMAIL }),
}
const server = createApp({ database, jobs, person, log }).listen(environment.PORT, '127.0.0.1')

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
