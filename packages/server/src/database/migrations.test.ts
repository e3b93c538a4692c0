import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import pg from 'pg'
import { afterAll, expect, it } from 'vitest'
import { prepareDatabase } from './prepare.ts'

const url = process.env.DATABASE_URL
if (!url) throw new Error('run ./culvert test, which prepares a database')
const migrations = fileURLToPath(new URL('./migrations', import.meta.url))
const folder = mkdtempSync(join(tmpdir(), 'culvert-migrations-'))
afterAll(() => rmSync(folder, { recursive: true }))

interface Journal {
  entries: { idx: number; tag: string }[]
}

/** The migrations as they were up to one of them. */
const upTo = (last: string): string => {
  const into = join(folder, last)
  cpSync(migrations, into, { recursive: true })
  const path = join(into, 'meta/_journal.json')
  const journal = JSON.parse(readFileSync(path, 'utf8')) as Journal
  const end = journal.entries.findIndex(entry => entry.tag === last)
  writeFileSync(path, JSON.stringify({ ...journal, entries: journal.entries.slice(0, end + 1) }))
  return into
}

const withClient = async <Result>(of: string, work: (client: pg.Client) => Promise<Result>): Promise<Result> => {
  const client = new pg.Client({ connectionString: of })
  await client.connect()
  try {
    return await work(client)
  } finally {
    await client.end()
  }
}

it('a database of the state before comes up to date, with what it holds', async () => {
  await withClient(url, async admin => {
    await admin.query('DROP DATABASE IF EXISTS culvert_migrated WITH (FORCE)')
    await admin.query('CREATE DATABASE culvert_migrated')
  })
  const before = new URL(url)
  before.pathname = '/culvert_migrated'
  await prepareDatabase(before.href, upTo('0003_tie_out_security'))
  await withClient(before.href, async old => {
    await old.query(`
      INSERT INTO client (client_id, name, base, time_zone) VALUES (7, 'Kiln Lane Ceramics', 'EUR', 'Europe/Dublin');
      INSERT INTO source (client_id, source, name, shape) VALUES (7, 'fernstall', 'Fernstall', 'channel');
      INSERT INTO settlement (client_id, source, key, currency, gross) VALUES (7, 'fernstall', 'day:2026-03-02', 'EUR', 0), (7, 'fernstall', 'day:2026-03-03', 'EUR', 500);
      INSERT INTO activity_line (client_id, source, line_id, revision, pull_no, settlement_key, currency, occurred_at, occurred_text, local_date, kind, amount, status, content_hash)
        VALUES (7, 'fernstall', 's', 1, 1, 'day:2026-03-02', 'EUR', '2026-03-02T10:00Z', '2026-03-02T10:00Z', '2026-03-02', 'sale', 2460, 'available', 1),
          (7, 'fernstall', 't', 1, 1, 'day:2026-03-02', 'EUR', '2026-03-02T10:00Z', '2026-03-02T10:00Z', '2026-03-02', 'tender', -2460, 'available', 2);
      INSERT INTO client_summary (client_id, stage) VALUES (7, 'settlements'), (7, 'books')`)
  })
  await prepareDatabase(before.href)
  // And once more: nothing is left to do.
  await prepareDatabase(before.href)
  await withClient(before.href, async now => {
    const { rows } = await now.query<{ key: string; gross: string }>('SELECT key, gross FROM settlement ORDER BY key')
    expect(rows.map(row => [row.key, Number(row.gross)])).toEqual([
      ['day:2026-03-02', 2460],
      ['day:2026-03-03', 500],
    ])
    const { rows: stale } = await now.query<{ stage: string }>(
      'SELECT stage FROM client_summary WHERE stale ORDER BY stage',
    )
    expect(stale).toEqual([{ stage: 'books' }, { stage: 'settlements' }])
    const { rows: open } = await now.query<{ relname: string }>(
      `SELECT c.relname FROM pg_class c JOIN pg_attribute a ON a.attrelid = c.oid AND a.attname = 'client_id'
        WHERE c.relkind = 'r' AND c.relnamespace = 'public'::regnamespace AND NOT c.relforcerowsecurity`,
    )
    expect(open.map(row => row.relname)).toEqual([])
  })
}, 60_000)
