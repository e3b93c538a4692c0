import { sql } from 'drizzle-orm'
import pg from 'pg'
import { afterAll, expect, it } from 'vitest'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { brokenInvariants } from '../testing/invariants.ts'
import {
  booksOf,
  csvOf,
  makeClient,
  makeWeeks,
  type Row,
  settlementKeys,
  testDatabase,
  upload,
} from '../testing/madeClient.ts'
import { settlementLines } from './activityLines.ts'
import { erasePersons } from './persons.ts'

const database = testDatabase(8)
afterAll(() => database.$client.end())

/** Two weeks in which each order tells of its buyer, in every way that a file can. */
const told = () => {
  const weeks = makeWeeks(2, 3)
  const lines = weeks.lines.map(
    (line): Row => ({
      ...line,
      customer: line.order_id?.endsWith('1') ? 'Tomas Brae' : 'Wren Aldous',
      email: line.order_id?.endsWith('1') ? 'tomas.brae@mail.example' : '',
      ship_to: '4 Kiln Lane\\Skerrymoor',
      description: line.kind === 'sale' || line.kind === 'shipping' ? 'Large bowl' : 'Given by Tomas Brae',
      gift_note: line.kind === 'sale' ? 'From Tomas Brae with love' : '',
    }),
  )
  return { lines, heads: weeks.heads }
}

/** Every table in which a text stands in any column of a client’s rows. */
const tablesWith = async (actor: Actor, text: string): Promise<string[]> => {
  const admin = new pg.Client({ connectionString: process.env.DATABASE_URL })
  await admin.connect()
  try {
    const { rows: tables } = await admin.query<{ name: string }>(`SELECT c.relname AS name FROM pg_class c
      JOIN pg_attribute a ON a.attrelid = c.oid AND a.attname = 'client_id'
      WHERE c.relnamespace = 'public'::regnamespace AND c.relkind IN ('r', 'p') AND NOT c.relispartition ORDER BY 1`)
    const found: string[] = []
    for (const { name } of tables) {
      const { rowCount } = await admin.query(
        `SELECT FROM ${admin.escapeIdentifier(name)} t WHERE client_id = $1 AND to_jsonb(t)::text ILIKE $2 LIMIT 1`,
        [actor.clientId, `%${text}%`],
      )
      if (rowCount) found.push(name)
    }
    return found
  } finally {
    await admin.end()
  }
}

const personsNamed = (actor: Actor, name: string) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { id: is.text },
      sql`SELECT person_id::text AS id FROM personal WHERE to_jsonb(personal)::text ILIKE ${`%${name}%`}`,
    ),
  )

it('what is told of persons stands in one table, and lines read as they came', async () => {
  const actor = await makeClient(database, 'Tells of persons')
  const { lines, heads } = told()
  await upload(database, actor, csvOf(heads), 'settlements.csv')
  await upload(database, actor, csvOf(lines))
  expect(await tablesWith(actor, 'Tomas Brae')).toEqual(['personal'])
  expect(await tablesWith(actor, '4 Kiln Lane')).toEqual(['personal'])
  expect(await tablesWith(actor, 'Large bowl'), 'goods are no persons').toEqual(['activity_line'])
  const [key] = await settlementKeys(database, actor)
  if (!key) throw new Error('no settlement')
  const stored = await asClient(database, actor, tx => settlementLines(tx, key, 'now'))
  const byId = new Map(stored.map(line => [line.lineId, line]))
  for (const line of lines.filter(one => one.settlement_id === key.key))
    expect(byId.get(line.line_id ?? '')?.texts).toMatchObject({
      customer: line.customer,
      email: line.email === '' ? null : line.email,
      shipTo: line.ship_to,
      description: line.description,
    })
})

it('the same person of one source has one id, another client’s another', async () => {
  const ids: string[][] = []
  for (const name of ['First books', 'Second books']) {
    const actor = await makeClient(database, name)
    await upload(database, actor, csvOf(told().lines))
    const persons = await personsNamed(actor, 'tomas.brae')
    ids.push(persons.map(one => one.id))
    const lines = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { lines: is.whole },
        sql`SELECT count(*)::int AS lines FROM activity_line WHERE person_id = ANY(${sql.param(persons.map(one => one.id))}::uuid[])`,
      ),
    )
    expect(lines[0]?.lines).toBeGreaterThan(persons.length)
  }
  expect(ids[0]?.filter(id => ids[1]?.includes(id))).toEqual([])
})

it('whoever is erased leaves books, lines and digests as they are, and no pull brings them back', async () => {
  const actor = await makeClient(database, 'Erased')
  const { lines, heads } = told()
  await upload(database, actor, csvOf(heads), 'settlements.csv')
  await upload(database, actor, csvOf(lines))
  const keys = await settlementKeys(database, actor)
  await postSettlements(database, actor, keys.slice(0, 1))
  const activity = () =>
    asClient(database, actor, tx =>
      rowsOf(tx, {}, sql`SELECT to_jsonb(l) AS line FROM activity_line l ORDER BY line_id, revision`),
    )
  const before = { books: await booksOf(database, actor), activity: await activity() }
  const persons = await personsNamed(actor, 'Tomas Brae')
  expect(
    await asClient(database, actor, tx =>
      erasePersons(
        tx,
        persons.map(one => one.id),
      ),
    ),
  ).toBe(persons.length)
  expect(await tablesWith(actor, 'Tomas Brae')).toEqual([])
  expect({ books: await booksOf(database, actor), activity: await activity() }).toEqual(before)
  // The source tells it all again: it is known, and stays erased.
  expect(await upload(database, actor, csvOf(lines))).toMatchObject({ added: 0, revised: 0, same: lines.length })
  expect(await tablesWith(actor, 'Tomas Brae')).toEqual([])
  // Also where a line of theirs comes back with another amount.
  const changed = lines.map((line, index) => (index === 0 ? { ...line, amount: '1.00' } : line))
  expect(await upload(database, actor, csvOf(changed))).toMatchObject({ added: 0, revised: 1 })
  expect(await tablesWith(actor, 'Tomas Brae')).toEqual([])
  await postSettlements(database, actor, keys)
  expect(await brokenInvariants(database, actor)).toEqual([])
  expect(await personsNamed(actor, 'Wren Aldous'), 'others are as they were').not.toEqual([])
})
