import { pino } from 'pino'
import { z } from 'zod'
import { createApp } from './app.ts'
import { ensurePerson } from './clients/createClient.ts'
import { connect } from './database/connect.ts'
import { startJobs } from './jobs/boss.ts'
import { serveQueues } from './jobs/work.ts'

const environment = z
  .object({
    APP_DATABASE_URL: z.string(),
    PORT: z.coerce.number().default(4780),
    LOG_LEVEL: z.string().default('warn'),
    PERSON_NAME: z.string().default('Orla Quill'),
    PERSON_EMAIL: z.string().default('orla.quill@ternandtally.example'),
  })
  .parse(process.env)

const log = pino({ level: environment.LOG_LEVEL })
const database = connect(environment.APP_DATABASE_URL, 16)
const jobs = await startJobs(environment.APP_DATABASE_URL, database)
await serveQueues(jobs, database)
const person = {
  userId: await ensurePerson(database, { name: environment.PERSON_NAME, email: environment.PERSON_EMAIL }),
}
const server = createApp({ database, jobs, person, log }).listen(environment.PORT, '127.0.0.1')

const stop = async (): Promise<void> => {
  server.close()
  server.closeAllConnections()
  await jobs.stop()
  await database.$client.end()
  process.exit(0)
}
process.on('SIGTERM', () => void stop())
process.on('SIGINT', () => void stop())
