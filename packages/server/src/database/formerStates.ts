import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { readMigrationFiles } from 'drizzle-orm/migrator'
import type pg from 'pg'
import { is } from './rows.ts'

const readJournal = is.record({ entries: is.list(is.record({ tag: is.text })) })

interface FormerState {
  /** When the last migration of that state was made, as the migrator notes it: ms since 1970. */
  readonly made: number
  /** The last migration, as it is named now. */
  readonly last: string
  /** What leads from there to that migration as it is now; in the folder of landed states. */
  readonly bridge: string
}

/** States that landed before their migrations were changed where they stood, which is not done any more. */
const formerStates: readonly FormerState[] = [
  { made: 1795581055075, last: '0001_security', bridge: '0001-before-items.sql' },
  { made: 1795656982608, last: '0003_tie_out_security', bridge: '0003-before-elsewhere.sql' },
]

const landed = (name: string): string =>
  readFileSync(fileURLToPath(new URL(`./landed/${name}`, import.meta.url)), 'utf8')

/**
 * Brings a database whose migrations have changed since to where they lead now, so that the ones after them apply. Nothing happens to any
 * other. `client` is the owner's connection.
 */
export const bridgeFormerState = async (client: pg.PoolClient, folder: string): Promise<void> => {
  const { rows: known } = await client.query("SELECT to_regclass('drizzle.__drizzle_migrations') IS NOT NULL AS there")
  if (!known[0]?.there) return
  const { rows } = await client.query<{ made: string }>(
    'SELECT max(created_at)::text AS made FROM drizzle.__drizzle_migrations',
  )
  const former = formerStates.find(state => state.made === Number(rows[0]?.made))
  if (!former) return
  const journal = readJournal(JSON.parse(readFileSync(`${folder}/meta/_journal.json`, 'utf8')))
  const applied = readMigrationFiles({ migrationsFolder: folder }).slice(
    0,
    journal.entries.findIndex(entry => entry.tag === former.last) + 1,
  )
  await client.query('BEGIN')
  try {
    await client.query(landed(former.bridge))
    await client.query('DELETE FROM drizzle.__drizzle_migrations')
    for (const { hash, folderMillis } of applied)
      await client.query('INSERT INTO drizzle.__drizzle_migrations (hash, created_at) VALUES ($1, $2)', [
        hash,
        folderMillis,
      ])
    await client.query('COMMIT')
  } catch (error) {
    await client.query('ROLLBACK')
    throw error
  }
}
