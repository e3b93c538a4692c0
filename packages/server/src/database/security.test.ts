import { Readable } from 'node:stream'
import { sql } from 'drizzle-orm'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { recordAct } from '../acts/recordAct.ts'
import { beginJob } from '../jobs/jobLog.ts'
import { keepFile } from '../jobs/keptFile.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { takeBack } from '../settlements/takeBack.ts'
import { makeClientWithWeeks, testDatabase } from '../testing/madeClient.ts'
import { type Actor, asClient, rowsOf } from './connect.ts'
import { is } from './rows.ts'

const database = testDatabase()
const appendOnly = [
  'activity_line',
  'activity_superseded',
  'activity_restored',
  'import_change',
  'map_version',
  'source_options',
  'act',
  'posting',
  'reversal',
  'correction',
  'entry',
  'entry_line',
  'bank_line',
  'tender_match',
  'act_object',
  'act_seal',
  'note_answer',
  'evidence',
  'statement',
]
let first: Actor
let second: Actor

interface Table {
  readonly name: string
  readonly forced: boolean
  readonly key: readonly string[]
}

const clientTables = async (): Promise<Table[]> => {
  const admin = new pg.Client({ connectionString: process.env.DATABASE_URL })
  await admin.connect()
  const { rows } = await admin.query<Table>(`
    SELECT c.relname AS name, c.relrowsecurity AND c.relforcerowsecurity AS forced,
      (SELECT array_agg(a.attname::text ORDER BY k.place) FROM pg_index i
        CROSS JOIN LATERAL unnest(i.indkey) WITH ORDINALITY k(attnum, place)
        JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum = k.attnum WHERE i.indrelid = c.oid AND i.indisprimary) AS key
    FROM pg_class c JOIN pg_attribute a ON a.attrelid = c.oid AND a.attname = 'client_id' AND NOT a.attisdropped
    WHERE c.relnamespace = 'public'::regnamespace AND c.relkind IN ('r', 'p') AND NOT c.relispartition ORDER BY 1`)
  await admin.end()
  return rows
}

beforeAll(async () => {
  const made = await makeClientWithWeeks(database, 'Kiln Lane Ceramics', 3, 4)
  first = made.actor
  await postSettlements(database, first, made.keys.slice(0, 2))
  second = (await makeClientWithWeeks(database, 'Larkwool Yarns', 2, 3)).actor
})
afterAll(() => database.$client.end())

describe('the catalogue', () => {
  it('forces row security on every table of a client, and begins its key with the client', async () => {
    const tables = await clientTables()
    expect(tables.length).toBeGreaterThan(25)
    for (const table of tables) {
      expect(table.forced, `${table.name} has forced row security`).toBe(true)
      expect(table.key?.[0], `${table.name}'s key begins with client_id`).toBe('client_id')
    }
  })

  it('gives nobody a right to the parts of a table', async () => {
    const admin = new pg.Client({ connectionString: process.env.DATABASE_URL })
    await admin.connect()
    const { rows } = await admin.query<{ parts: number; reachable: number }>(`
      SELECT count(*)::int AS parts, count(*) FILTER (WHERE has_table_privilege('culvert_app', oid, 'SELECT, INSERT, UPDATE, DELETE'))::int AS reachable
      FROM pg_class WHERE relispartition AND relkind = 'r' AND relnamespace = 'public'::regnamespace`)
    await admin.end()
    expect(rows).toEqual([{ parts: 32, reachable: 0 }])
  })

  it('lets no verb of one client reach a row of another', async () => {
    for (const { name } of await clientTables()) {
      const table = sql.identifier(name)
      const foreign = await asClient(database, second, tx =>
        rowsOf(
          tx,
          { count: is.whole },
          sql`SELECT count(*)::int AS count FROM ${table} WHERE client_id = ${first.clientId}`,
        ),
      )
      // Both are clients of one bookkeeper: membership opens these three to read, and nothing else.
      if (!['client', 'membership', 'client_summary'].includes(name)) expect(foreign[0]?.count, name).toBe(0)
      for (const statement of [
        sql`UPDATE ${table} SET client_id = client_id WHERE client_id = ${first.clientId}`,
        sql`DELETE FROM ${table} WHERE client_id = ${first.clientId}`,
      ]) {
        const reached = await asClient(database, second, async tx => (await tx.execute(statement)).rowCount).catch(
          (error: Error) => error,
        )
        // What is withdrawn and never removed may be updated, and is deleted by nobody; a kept file is never changed; who is erased stays marked; of
        // a row that was set aside it can be said anew what it is, and nothing else.
        if (reached instanceof Error)
          expect(
            [
              ...appendOnly,
              'tax_filing',
              'dispute_decision',
              'payment_decision',
              'received_part',
              'personal',
              'act_head',
              'note',
              'question_link',
              'consent',
              'column_mapping',
              'service_grant',
              'row_aside',
              'proof_answer',
              'registration',
            ],
            `${name}: ${reached.message}`,
          ).toContain(name)
        else expect(reached, `${name} reached`).toBe(0)
      }
    }
  })

  it('refuses to write a row into another client', async () => {
    const write = asClient(database, second, tx =>
      tx.execute(
        sql`INSERT INTO account (client_id, code, name, type, currency) VALUES (${first.clientId}, 'X', 'x', 'bank', 'EUR')`,
      ),
    )
    await expect(write).rejects.toThrow()
  })

  it('shows nothing without a client', async () => {
    const { rows } = await database.$client.query<{ count: string }>('SELECT count(*) FROM entry_line')
    expect(Number(rows[0]?.count)).toBe(0)
  })

  it('gives the application no way to change what is append-only', async () => {
    for (const name of appendOnly) {
      const table = sql.identifier(name)
      for (const statement of [
        sql`UPDATE ${table} SET client_id = client_id`,
        sql`DELETE FROM ${table}`,
        sql`TRUNCATE ${table}`,
      ])
        await expect(
          asClient(database, first, tx => tx.execute(statement)),
          name,
        ).rejects.toMatchObject({ cause: { code: '42501' } })
    }
  })
})

describe('a client that is removed', () => {
  it('leaves nothing in any table, and nothing of another is touched', async () => {
    const made = await makeClientWithWeeks(database, 'Gone again', 4, 3)
    await postSettlements(database, made.actor, made.keys)
    await takeBack(database, made.actor, made.keys.slice(0, 2))
    await postSettlements(database, made.actor, made.keys.slice(0, 1))
    await asClient(database, made.actor, async tx => {
      const jobId = await beginJob(tx, made.actor, 'waiting', { sort: 'upload', subject: 'openhall' })
      await keepFile(tx, jobId, Readable.from([Buffer.from('line_id')]))
    })
    const owner = new pg.Client({ connectionString: process.env.DATABASE_URL })
    await owner.connect()
    const tables = (await clientTables()).map(table => table.name)
    const counts = async (clientId: number) => {
      const rows: Record<string, number> = {}
      for (const name of tables) {
        const { rows: counted } = await owner.query<{ count: number }>(
          `SELECT count(*)::int AS count FROM ${owner.escapeIdentifier(name)} WHERE client_id = $1`,
          [clientId],
        )
        rows[name] = counted[0]?.count ?? 0
      }
      return rows
    }
    const before = await counts(first.clientId)
    expect(Object.values(await counts(made.actor.clientId)).filter(count => count > 0).length).toBeGreaterThan(15)
    await owner.query('SET ROLE culvert_owner')
    await owner.query('SELECT remove_client($1)', [made.actor.clientId])
    await owner.query('RESET ROLE')
    expect(Object.entries(await counts(made.actor.clientId)).filter(([, count]) => count > 0)).toEqual([])
    expect(await counts(first.clientId)).toEqual(before)
    await owner.end()
  })
})

describe('an entry', () => {
  const insert = (lines: readonly [number, number][], lineCount: number) =>
    asClient(database, first, async tx => {
      const actId = await recordAct(tx, first, { sort: 'post', touched: [] })
      await tx.execute(sql`INSERT INTO entry (client_id, fiscal_year, number, date, document, currency, line_count, act_id)
        VALUES (current_client(), 1999, 1, '1999-01-31', 'by_hand', 'EUR', ${lineCount}, ${actId})`)
      for (const [lineNo, amount] of lines)
        await tx.execute(sql`INSERT INTO entry_line (client_id, fiscal_year, number, line_no, line_count, date, currency, account, amount, base_amount)
          VALUES (current_client(), 1999, 1, ${lineNo}, ${lineCount}, '1999-01-31', 'EUR', '4000', ${amount}, ${amount})`)
    })

  it('must balance', async () => {
    await expect(
      insert(
        [
          [1, 100],
          [2, -99],
        ],
        2,
      ),
    ).rejects.toThrow(/does not balance/)
  })
  it('must have all its lines', async () => {
    await expect(
      insert(
        [
          [1, 100],
          [2, -100],
        ],
        3,
      ),
    ).rejects.toThrow(/not whole/)
  })
  it('takes no line more than it has', async () => {
    await expect(
      insert(
        [
          [1, 100],
          [2, -100],
          [3, 0],
        ],
        2,
      ),
    ).rejects.toMatchObject({ cause: { code: '23514' } })
  })
  it('cannot be added to later', async () => {
    const add = asClient(database, first, async tx => {
      const [entry] = await rowsOf(
        tx,
        { year: is.whole, number: is.whole, count: is.whole, date: is.date },
        sql`
        SELECT fiscal_year AS year, number, line_count AS count, date::text FROM entry LIMIT 1`,
      )
      await tx.execute(sql`INSERT INTO entry_line (client_id, fiscal_year, number, line_no, line_count, date, currency, account, amount, base_amount)
        VALUES (current_client(), ${entry?.year}, ${entry?.number}, ${(entry?.count ?? 0) + 1}, ${(entry?.count ?? 0) + 1}, ${entry?.date}, 'EUR', '4000', 0, 0)`)
    })
    await expect(add).rejects.toMatchObject({ cause: { code: '23503' } })
  })
})

it('reads no amount that a number cannot hold', async () => {
  const read = asClient(database, first, tx => rowsOf(tx, {}, sql`SELECT 9007199254740993::bigint AS amount`))
  await expect(read).rejects.toMatchObject({ cause: expect.any(RangeError) })
})
