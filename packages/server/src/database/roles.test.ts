import pg from 'pg'
import { expect, it } from 'vitest'
import { applicationUrl, prepareDatabase } from './prepare.ts'

// Roles are of the whole cluster: while the application's password is another, nobody else gets in. It runs when nothing else does.
const url = process.env.DATABASE_URL
if (!url) throw new Error('run ./culvert test, which prepares a database')

const withClient = async <Result>(of: string, work: (client: pg.Client) => Promise<Result>): Promise<Result> => {
  const client = new pg.Client({ connectionString: of })
  await client.connect()
  try {
    return await work(client)
  } finally {
    await client.end()
  }
}

/** A database with nothing in it. @returns its address */
const emptyDatabase = async (name: string): Promise<string> => {
  await withClient(url, async admin => {
    await admin.query(`DROP DATABASE IF EXISTS ${name} WITH (FORCE)`)
    await admin.query(`CREATE DATABASE ${name}`)
  })
  const at = new URL(url)
  at.pathname = `/${name}`
  return at.href
}

it('an owner who is no superuser, but may make roles, makes a database ready and keeps it so', async () => {
  const secret = 'p w:d/%'
  const at = new URL(await emptyDatabase('culvert_owned'))
  await withClient(url, async admin => {
    const { rowCount } = await admin.query("SELECT FROM pg_roles WHERE rolname = 'culvert_test_site'")
    await admin.query(
      `${rowCount ? 'ALTER' : 'CREATE'} ROLE culvert_test_site LOGIN CREATEROLE PASSWORD ${admin.escapeLiteral(secret)}`,
    )
    await admin.query('ALTER DATABASE culvert_owned OWNER TO culvert_test_site')
  })
  at.username = 'culvert_test_site'
  at.password = encodeURIComponent(secret)
  try {
    await prepareDatabase(at.href)
    await prepareDatabase(at.href)
    await withClient(applicationUrl(at.href), async application => {
      expect((await application.query('SELECT count(*)::int AS clients FROM client')).rows).toEqual([{ clients: 0 }])
      await expect(application.query('CREATE TABLE mine (id int)')).rejects.toThrow('permission denied')
    })
  } finally {
    // The application's password is the one of this cluster's usual address again.
    await prepareDatabase(url)
  }
})
