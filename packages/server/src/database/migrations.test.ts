import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { gunzipSync } from 'node:zlib'
import { documentNames } from '@culvert/core'
import { sql } from 'drizzle-orm'
import pg from 'pg'
import { afterAll, describe, expect, it } from 'vitest'
import { checkSeals } from '../acts/checkSeals.ts'
import { loadBankPage } from '../bank/loadBank.ts'
import { loadClearingList } from '../clearing/loadClearing.ts'
import { loadTaxCheck } from '../mapping/loadTaxCheck.ts'
import { loadTaxGrid } from '../mapping/loadTaxGrid.ts'
import { saveTaxRows } from '../mapping/saveTaxRows.ts'
import { loadSettlement } from '../settlements/loadSettlement.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { takeBack } from '../settlements/takeBack.ts'
import { brokenInvariants } from '../testing/invariants.ts'
import { booksOf, upload } from '../testing/madeClient.ts'
import { type Actor, asClient, connect, type Database, rowsOf } from './connect.ts'
import { applicationUrl, prepareDatabase } from './prepare.ts'
import { is } from './rows.ts'

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

it('a database of the state before comes up to date, with what it holds', async () => {
  const before = await emptyDatabase('culvert_migrated')
  await prepareDatabase(before, upTo('0003_tie_out_security'))
  await withClient(before, async old => {
    await old.query(`
      INSERT INTO client (client_id, name, base, time_zone) VALUES (7, 'Kiln Lane Ceramics', 'EUR', 'Europe/Dublin');
      INSERT INTO source (client_id, source, name, shape) VALUES (7, 'fernstall', 'Fernstall', 'channel');
      INSERT INTO settlement (client_id, source, key, currency, gross) VALUES (7, 'fernstall', 'day:2026-03-02', 'EUR', 0), (7, 'fernstall', 'day:2026-03-03', 'EUR', 500);
      INSERT INTO activity_line (client_id, source, line_id, revision, pull_no, settlement_key, currency, occurred_at, occurred_text, local_date, kind, amount, status, content_hash)
        VALUES (7, 'fernstall', 's', 1, 1, 'day:2026-03-02', 'EUR', '2026-03-02T10:00Z', '2026-03-02T10:00Z', '2026-03-02', 'sale', 2460, 'available', 1),
          (7, 'fernstall', 't', 1, 1, 'day:2026-03-02', 'EUR', '2026-03-02T10:00Z', '2026-03-02T10:00Z', '2026-03-02', 'tender', -2460, 'available', 2);
      INSERT INTO client_summary (client_id, stage) VALUES (7, 'settlements'), (7, 'books')`)
  })
  await prepareDatabase(before)
  // And once more: nothing is left to do.
  await prepareDatabase(before)
  await withClient(before, async now => {
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
        WHERE c.relkind = 'r' AND c.relnamespace = 'public'::regnamespace AND NOT c.relforcerowsecurity AND NOT c.relispartition`,
    )
    expect(open.map(row => row.relname)).toEqual([])
    // A plan that one client's rows were looked at for would serve the next.
    const { rows: looked } = await now.query<{ tablename: string }>(
      "SELECT tablename FROM pg_policies WHERE schemaname = 'public' AND qual ~ 'client_id = current_client'",
    )
    expect(looked.map(row => row.tablename)).toEqual([])
  })
}, 60_000)

/** All that the catalogue says of a database, in an order that does not hang on how it came about. */
// What was dumped is read again flat: `((a AND b) AND c)` is `(a AND b AND c)` from then on.
const nested = /\(\((\([^()]*\) AND \([^()]*\))\) AND/g

const catalogueOf = (of: string): Promise<string[]> =>
  withClient(of, async client => {
    const { rows } = await client.query<{ said: string }>(`
      SELECT concat_ws(' ', table_name, column_name, data_type, is_nullable, column_default, generation_expression) AS said
        FROM information_schema.columns WHERE table_schema = 'public'
      UNION ALL SELECT indexdef FROM pg_indexes WHERE schemaname = 'public'
      UNION ALL SELECT conrelid::regclass || ' ' || conname || ' ' || pg_get_constraintdef(oid) FROM pg_constraint WHERE connamespace = 'public'::regnamespace
      UNION ALL SELECT concat_ws(' ', tablename, policyname, cmd, qual, with_check) FROM pg_policies WHERE schemaname = 'public'
      UNION ALL SELECT concat_ws(' ', table_name, grantee, privilege_type) FROM information_schema.role_table_grants WHERE table_schema = 'public'
      UNION ALL SELECT concat_ws(' ', relname, relrowsecurity, relforcerowsecurity, pg_get_userbyid(relowner)) FROM pg_class
        WHERE relnamespace = 'public'::regnamespace AND relkind = 'r'
      UNION ALL SELECT concat_ws(' ', proname, prosecdef, proacl::text, md5(prosrc)) FROM pg_proc WHERE pronamespace = 'public'::regnamespace
      UNION ALL SELECT concat_ws(' ', tgrelid::regclass, pg_get_triggerdef(oid)) FROM pg_trigger WHERE NOT tgisinternal
      ORDER BY 1`)
    return rows.map(row => row.said.replaceAll(nested, '($1 AND')).sort()
  })

// What routes said of the tax of supplies is said by rows: what waits bears the same, to the cent.
const rowsInPlaceOfRoutes = async (database: Database, actor: Actor): Promise<void> => {
  const drafts = () =>
    asClient(database, actor, tx =>
      rowsOf(
        tx,
        {},
        sql`SELECT source, key, currency, state, tax, blocks FROM settlement WHERE client_id = current_client() ORDER BY 1, 2, 3`,
      ),
    )
  const before = await drafts()
  const grid = await asClient(database, actor, loadTaxGrid)
  expect(grid).toMatchObject({ byRows: false, doubts: [] })
  expect(grid.rows.map(row => row.code)).toContain('S23')
  await saveTaxRows(database, actor, { rows: grid.rows, classes: grid.classes, byRows: true }, grid.version)
  expect(await drafts()).toEqual(before)
  expect(await asClient(database, actor, loadTaxGrid)).toMatchObject({
    byRows: true,
    rows: grid.rows.map(({ code }) => ({ code })),
  })
}

describe('a database of each landed state', () => {
  const dumps = fileURLToPath(new URL('./landed', import.meta.url))
  const names = readdirSync(dumps).filter(name => name.endsWith('.sql.gz'))

  it('is there', () => expect(names.length).toBeGreaterThanOrEqual(5))

  it.each(names)(
    '%s comes up to date, and goes on',
    async name => {
      const restored = await emptyDatabase('culvert_landed')
      await withClient(restored, client => client.query(gunzipSync(readFileSync(join(dumps, name))).toString()))
      await prepareDatabase(restored)
      await prepareDatabase(restored)
      const fresh = await emptyDatabase('culvert_fresh')
      await prepareDatabase(fresh)
      expect(await catalogueOf(restored)).toEqual(await catalogueOf(fresh))
      const database = connect(applicationUrl(restored), 4)
      try {
        const actor = { userId: 1, clientId: 1 }
        const key = (week: number) => ({ source: 'openhall', key: `W-0000${week}`, currency: 'EUR' })
        expect((await booksOf(database, actor)).states).toEqual({ posted: 3, proposed: 3, blocked: 1 })
        // What was posted then opens by the map it was posted with; what waited is posted now.
        const then = await asClient(database, actor, tx => loadSettlement(tx, key(1)))
        expect(then?.entries.flatMap(entry => entry.lines).length).toBeGreaterThan(4)
        expect(await postSettlements(database, actor, [key(4), key(5)])).toMatchObject({ notPosted: [] })
        await takeBack(database, actor, [key(5)])
        expect(await takeBack(database, actor, [key(1)])).not.toMatchObject({ notPosted: [] })
        const books = await booksOf(database, actor)
        expect(books.states).toEqual({ posted: 4, proposed: 2, blocked: 1 })
        for (const { account, lines, totals } of books.balances) expect(totals, account).toBe(lines)
        expect(books.numbers?.count).toBe(books.numbers?.highest)
        const [bank, check, clearing] = await asClient(database, actor, async tx => [
          await loadBankPage(tx, '1000', { from: '2026-01-01', to: '2026-12-31' }),
          await loadTaxCheck(tx, '2026-01'),
          await loadClearingList(tx),
        ])
        expect(bank?.decided.length).toBe(3)
        expect(check.codes.map(code => code.difference)).toEqual([expect.any(Number)])
        expect(clearing.accounts.map(row => row.account)).toEqual(['1210', '1220'])
        expect(await brokenInvariants(database, actor)).toEqual([])
        // What was done before acts were sealed stands first in the chain.
        const seals = await asClient(database, actor, tx => checkSeals(tx, actor.clientId))
        const [acts] = await asClient(database, actor, tx =>
          rowsOf(tx, { count: is.whole }, sql`SELECT count(*)::int AS count FROM act`),
        )
        expect(seals).toMatchObject({ acts: acts?.count, faults: [] })
        await rowsInPlaceOfRoutes(database, actor)
      } finally {
        await database.$client.end()
      }
    },
    60_000,
  )
})

it('whoever prepares a database gives it what the core says of kinds and documents', async () => {
  const at = await emptyDatabase('culvert_generated')
  await prepareDatabase(at)
  const told = () =>
    withClient(at, async client => {
      const { rows } = await client.query<{ stock: boolean; documents: number }>(
        `SELECT kind_is_stock('stock_received') AS stock, (SELECT count(*)::int FROM document_sort) AS documents`,
      )
      return rows[0]
    })
  const now = await told()
  expect(now).toEqual({ stock: true, documents: documentNames.length })
  // As a core would have left it that knew fewer of them.
  await withClient(at, async client => {
    await client.query(
      `CREATE OR REPLACE FUNCTION kind_is_stock(kind text) RETURNS boolean LANGUAGE sql IMMUTABLE PARALLEL SAFE AS 'SELECT false'`,
    )
    const { rows } = await client.query<{ made: string }>(
      `SELECT replace(pg_get_functiondef('document_sorts()'::regprocedure), '(''cost'', false, false, false, false, false, false), ', '') AS made`,
    )
    await client.query(rows[0]?.made ?? '')
  })
  expect(await told()).toEqual({ stock: false, documents: documentNames.length - 1 })
  await prepareDatabase(at)
  expect(await told()).toEqual(now)
})

it('lines of before persons had ids are known again when their source tells them anew', async () => {
  const before = await emptyDatabase('culvert_persons')
  await prepareDatabase(before, upTo('0023_document_sorts'))
  const awkward = 'a\tb\\c\nd “é” 𐐀'
  await withClient(before, async old => {
    await old.query(`
      INSERT INTO app_user (email, name) VALUES ('orla.quill@ternandtally.example', 'Orla Quill');
      INSERT INTO client (client_id, name, base, time_zone) VALUES (7, 'Kiln Lane Ceramics', 'EUR', 'Europe/Dublin');
      INSERT INTO membership (client_id, user_id, role) SELECT 7, user_id, 'bookkeeper' FROM app_user;
      INSERT INTO source (client_id, source, name, shape, last_pull) VALUES (7, 'openhall', 'Openhall', 'combined', 1)`)
    const line = (id: string, values: Record<string, unknown>) => {
      const all: Record<string, unknown> = {
        client_id: 7,
        source: 'openhall',
        line_id: id,
        revision: 1,
        pull_no: 1,
        settlement_id: 'S1',
        settlement_key: 'S1',
        currency: 'EUR',
        occurred_at: '2026-03-02T10:00:00Z',
        occurred_text: '2026-03-02T10:00:00Z',
        local_date: '2026-03-02',
        kind: 'sale',
        amount: 2460,
        status: 'available',
        content_hash: 1,
        ...values,
      }
      const names = Object.keys(all)
      return old.query(
        `INSERT INTO activity_line (${names.join(', ')}) VALUES (${names.map((_, index) => `$${index + 1}`).join(', ')})`,
        Object.values(all),
      )
    }
    await line('plain', {})
    await line('sold', {
      customer: 'Tomas Brae',
      email: 't@mail.example',
      ship_to: awkward,
      description: 'Large bowl',
      sku: 'B',
      order_id: 'O1',
      quantity: '1',
      unit_price: 2460,
      region: 'IE',
      tax_amount: 460,
      tax_label: awkward,
      url: 'https://x.example/\\',
    })
    await line('fee', {
      kind: 'selling_fee',
      amount: -100,
      description: awkward,
      extra: JSON.stringify({ zeta: 'z', alpha: awkward, paid_at: '2026-03-01T10:00:00Z' }),
    })
    await line('held', {
      status: 'pending',
      extra: JSON.stringify({ status: 'available', sent_at: '2026-09-01T10:00:00Z' }),
    })
  })
  await prepareDatabase(before)
  const database = connect(applicationUrl(before), 4)
  const actor = { userId: 1, clientId: 7 }
  const shown = await asClient(database, actor, tx =>
    rowsOf(
      tx,
      {},
      sql`SELECT line_id, customer, ship_to, description, rest, extra FROM line_as_of WHERE client_id = 7 ORDER BY line_id COLLATE "C"`,
    ),
  )
  expect(shown).toEqual([
    {
      line_id: 'fee',
      customer: null,
      ship_to: null,
      description: awkward,
      rest: { zeta: 'z', alpha: awkward },
      extra: { paid_at: '2026-03-01T10:00:00Z' },
    },
    {
      line_id: 'held',
      customer: null,
      ship_to: null,
      description: null,
      rest: null,
      extra: { status: 'available', sent_at: '2026-09-01T10:00:00Z' },
    },
    { line_id: 'plain', customer: null, ship_to: null, description: null, rest: null, extra: null },
    { line_id: 'sold', customer: 'Tomas Brae', ship_to: awkward, description: 'Large bowl', rest: null, extra: null },
  ])
  const quoted = (text: string) => `"${text}"`
  const at = '2026-03-02T10:00:00Z'
  const file = [
    'line_id,settlement_id,occurred_at,kind,order_id,sku,description,quantity,unit_price,region,customer,email,ship_to,currency,amount,tax_amount,tax_label,url,paid_at,sent_at,zeta,alpha',
    `plain,S1,${at},sale,,,,,,,,,,EUR,24.60,,,,,,,`,
    `sold,S1,${at},sale,O1,B,Large bowl,1,24.60,IE,Tomas Brae,t@mail.example,${quoted(awkward)},EUR,24.60,4.60,${quoted(awkward)},https://x.example/\\,,,,`,
    `fee,S1,${at},selling_fee,,,${quoted(awkward)},,,,,,,EUR,-1.00,,,,2026-03-01T10:00:00Z,,z,${quoted(awkward)}`,
    `held,S1,${at},sale,,,,,,,,,,EUR,24.60,,,,,2026-09-01T10:00:00Z,,`,
  ].join('\n')
  const { same, added, revised } = await upload(database, actor, `${file}\n`)
  // What waits for its dispatch counts by it no longer, since this source counts by the order: that alone is told anew.
  expect({ same, added, revised }).toEqual({ same: 3, added: 0, revised: 1 })
  await database.$client.end()
}, 60_000)
