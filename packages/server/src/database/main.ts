import { applicationUrl, prepareDatabase } from './prepare.ts'

const url = process.env.DATABASE_URL
if (!url) throw new Error('DATABASE_URL is not set')
await prepareDatabase(url)
console.log(applicationUrl(url))
