import pg from 'pg'

/** Makes an empty database of this name in the cluster of DATABASE_URL, in place of one that is there, and prints its URL. */
const [name] = process.argv.slice(2)
const url = process.env.DATABASE_URL
if (!url || !name || !/^culvert_[a-z]+$/.test(name)) throw new Error('usage: DATABASE_URL=… fresh.ts culvert_NAME')
const admin = new pg.Client({ connectionString: url })
await admin.connect()
await admin.query(`DROP DATABASE IF EXISTS ${name} WITH (FORCE)`)
await admin.query(`CREATE DATABASE ${name}`)
await admin.end()
const made = new URL(url)
made.pathname = `/${name}`
console.log(made.href)
