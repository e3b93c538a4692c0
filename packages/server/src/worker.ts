import { pino } from 'pino'
import { briefly } from './access/briefly.ts'
import { connect, type Report, startClockAt } from './database/connect.ts'
import { startJobs } from './jobs/boss.ts'
import { serveQueues } from './work.ts'

const url = process.env.APP_DATABASE_URL
if (!url) throw new Error('APP_DATABASE_URL is not set')
const log = pino({ level: process.env.LOG_LEVEL ?? 'warn' })
const report: Report = (error, at) => log.warn({ error: briefly(error), at })
// A promise of a package that nobody waits for must not end everybody’s work.
process.on('unhandledRejection', error => report(error, 'nobody waited for it'))
const { CULVERT_CLOCK, CULVERT_CLOCK_SINCE } = process.env
if (CULVERT_CLOCK)
  startClockAt(CULVERT_CLOCK, CULVERT_CLOCK_SINCE === undefined ? undefined : Number(CULVERT_CLOCK_SINCE))
const database = connect(url, 16, report)
const jobs = await startJobs(url, database, report)
await serveQueues(jobs, database, report)
const stop = async (): Promise<void> => {
  await jobs.stop()
  await database.$client.end()
  process.exit(0)
}
process.on('SIGTERM', () => void stop())
process.on('SIGINT', () => void stop())
