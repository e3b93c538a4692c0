import { connect } from './database/connect.ts'
import { applicationUrl, prepareDatabase } from './database/prepare.ts'
import { sealAll } from './sealAll.ts'

/** Makes the database at DATABASE_URL ready, seals what is not sealed with the secret of now, and prints the application's own address of it. */
const url = process.env.DATABASE_URL
if (!url) throw new Error('DATABASE_URL is not set')
await prepareDatabase(url)
const application = applicationUrl(url)
process.env.APP_DATABASE_URL ??= application
const database = connect(url, 2)
const { grants, secondFactors } = await sealAll(database)
await database.$client.end()
if (grants + secondFactors > 0) console.error(`sealed anew: ${grants} grants, ${secondFactors} second factors`)
console.log(application)
