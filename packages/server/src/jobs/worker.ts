import { connect } from '../database/connect.ts'
import { startJobs } from './boss.ts'
import { serveQueues } from './work.ts'

const url = process.env.APP_DATABASE_URL
if (!url) throw new Error('APP_DATABASE_URL is not set')
const database = connect(url, 8)
const jobs = await startJobs(url, database)
await serveQueues(jobs, database)
const stop = async (): Promise<void> => {
  await jobs.stop()
  await database.$client.end()
  process.exit(0)
}
process.on('SIGTERM', () => void stop())
process.on('SIGINT', () => void stop())
