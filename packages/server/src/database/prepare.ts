import { createHmac } from 'node:crypto'
import { fileURLToPath } from 'node:url'
import { drizzle } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import pg from 'pg'
import PgBoss from 'pg-boss'
import { bridgeFormerState } from './formerStates.ts'
import { writeGenerated } from './generated.ts'
import { queues } from './queues.ts'

const migrations = fileURLToPath(new URL('./migrations', import.meta.url))

const withUser = (url: string, user: string, password: string): string => {
  const changed = new URL(url)
  changed.username = user
  changed.password = password
  return changed.href
}

// Every server that knows the same DATABASE_URL arrives at the same passwords, without any of them being stored.
const derivedPassword = (url: string, role: string): string => {
  const { password } = new URL(url)
  // Without a secret to begin with anybody could work the roles' passwords out.
  if (password === '') throw new Error('DATABASE_URL names no password: the roles’ own passwords are made from it')
  return createHmac('sha256', password).update(role).digest('hex')
}

/** The application's connection, given the administrator's or owner's. */
export const applicationUrl = (url: string): string => withUser(url, 'culvert_app', derivedPassword(url, 'culvert_app'))

/** The owner's connection: `url` itself unless it is a superuser's, for whom row security would not hold. */
const ownerUrl = (url: string, superuser: boolean): string =>
  superuser ? withUser(url, 'culvert_owner', derivedPassword(url, 'culvert_owner')) : url

// Whoever may make roles but is no superuser may set a password only, and not mention what it lacks itself.
const setRole = async (admin: pg.Client, role: string, password: string): Promise<void> => {
  const { rows } = await admin.query<{ mighty: boolean }>(
    'SELECT rolsuper OR rolbypassrls AS mighty FROM pg_roles WHERE rolname = $1',
    [role],
  )
  // Row security would not hold for it.
  if (rows[0]?.mighty) throw new Error(`the role ${role} is a superuser or bypasses row security; it may be neither`)
  const verb = rows.length === 0 ? 'CREATE' : 'ALTER'
  await admin.query(`${verb} ROLE ${role} LOGIN PASSWORD ${admin.escapeLiteral(password)}`)
}

/**
 * Makes the database at `url` ready: both roles, tables, constraints and policies, the job queues. Safe to run again
 * and from several processes at once. `folder` holds the migrations.
 */
export const prepareDatabase = async (url: string, folder = migrations): Promise<void> => {
  const admin = new pg.Client({ connectionString: url })
  await admin.connect()
  try {
    await admin.query("SELECT pg_advisory_lock(hashtext('culvert prepare'))")
    const { rows } = await admin.query<{ rolsuper: boolean }>(
      'SELECT rolsuper FROM pg_roles WHERE rolname = current_user',
    )
    const superuser = rows[0]?.rolsuper ?? false
    if (superuser) {
      await setRole(admin, 'culvert_owner', derivedPassword(url, 'culvert_owner'))
      const database = admin.escapeIdentifier(decodeURIComponent(new URL(url).pathname.slice(1)))
      await admin.query(`GRANT CREATE ON DATABASE ${database} TO culvert_owner`)
      await admin.query('ALTER SCHEMA public OWNER TO culvert_owner')
    }
    await setRole(admin, 'culvert_app', derivedPassword(url, 'culvert_app'))
    await migrateAsOwner(ownerUrl(url, superuser), folder)
  } finally {
    await admin.end()
  }
}

const migrateAsOwner = async (url: string, folder: string): Promise<void> => {
  const pool = new pg.Pool({ connectionString: url, max: 2 })
  try {
    const client = await pool.connect()
    await bridgeFormerState(client, folder).finally(() => client.release())
    await migrate(drizzle({ client: pool }), { migrationsFolder: folder })
    await writeGenerated(pool)
    const boss = new PgBoss({ connectionString: url, max: 2, supervise: false, schedule: false })
    boss.on('error', () => undefined)
    await boss.start()
    for (const name of queues) await boss.createQueue(name)
    await boss.stop({ graceful: false })
    await pool.query(`
      GRANT USAGE ON SCHEMA pgboss TO culvert_app;
      GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA pgboss TO culvert_app;
      GRANT EXECUTE ON ALL FUNCTIONS IN SCHEMA pgboss TO culvert_app`)
  } finally {
    await pool.end()
  }
}
