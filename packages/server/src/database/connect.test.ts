import { sql } from 'drizzle-orm'
import { afterAll, expect, it } from 'vitest'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { asClient, oneRow, rowsOf, rowsOfPrepared } from './connect.ts'
import { is } from './rows.ts'

const database = testDatabase(1)
afterAll(() => database.$client.end())

/** The tables that a plan reads, each once. */
const readBy = (plan: readonly { 'QUERY PLAN': string }[]): string[] => [
  ...new Set(
    plan.flatMap(
      row => row['QUERY PLAN'].match(/\b(?:activity_line|activity_superseded|entry_line|bank_line)\w*(?= )/g) ?? [],
    ),
  ),
]
const shape = { 'QUERY PLAN': is.text }

it('what is asked of one client is planned for its parts alone, one client after another on one connection', async () => {
  const parts = new Set<string>()
  // Clients fall into parts by a hash: three may well fall into one, and twenty do not.
  for (let count = 0; count < 3 || (parts.size <= 2 && count < 20); count++) {
    const actor = await makeClient(database, `One connection ${count}`)
    const plan = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        shape,
        sql`EXPLAIN (COSTS off) SELECT l.amount, l.to_pull FROM line_as_of l WHERE l.client_id = current_client() AND l.source = 'x'`,
      ),
    )
    const tables = readBy(plan).filter(table => !table.endsWith('_pk') && /_\d+$/.test(table))
    expect(tables.filter(table => table.startsWith('activity_line'))).toHaveLength(1)
    expect(tables.filter(table => table.startsWith('activity_superseded'))).toHaveLength(1)
    for (const table of tables) parts.add(table)
    // Row security still asks who is at work, whatever a statement says; what is prepared asks it too.
    const asked = await asClient(database, actor, async tx => ({
      once: await oneRow(tx, { client: is.whole }, sql`SELECT current_client() AS client`),
      prepared: (await rowsOfPrepared(tx, { client: is.whole }, sql`SELECT current_client() AS client`))[0],
      others: await oneRow(
        tx,
        { rows: is.whole },
        sql`SELECT count(*)::int AS rows FROM account WHERE client_id <> current_client()`,
      ),
    }))
    expect(asked).toEqual({
      once: { client: actor.clientId },
      prepared: { client: actor.clientId },
      others: { rows: 0 },
    })
  }
  expect(parts.size).toBeGreaterThan(2)
})
