import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { loadPersonalOf } from '../activity/persons.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { csvOf, makeClient, makeWeeks, type Row, testDatabase, upload } from '../testing/madeClient.ts'
import { eraseCustomers, exportCustomers, findCustomers, setPersonalScope } from './personalData.ts'

const database = testDatabase(6)
let actor: Actor
const lines = makeWeeks(1, 3).lines.map(
  (line): Row => ({
    ...line,
    customer: line.order_id === '0-1' ? 'Tomas Brae' : 'Wren Aldous',
    email: line.order_id === '0-1' ? 'tomas.brae@mail.example' : 'wren@mail.example',
    ship_to: '4 Kiln Lane',
  }),
)

beforeAll(async () => {
  actor = await makeClient(database, 'Of customers')
})
afterAll(() => database.$client.end())

const scope = (wanted: 'none' | 'name' | 'all') =>
  setPersonalScope(database, actor, { source: 'openhall', scope: wanted })
const kept = () =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { customer: is.maybe(is.text), email: is.maybe(is.text), shipTo: is.maybe(is.text) },
      sql`SELECT DISTINCT customer, email, ship_to AS "shipTo" FROM personal ORDER BY 1, 2`,
    ),
  )
const find = (text: string) => asClient(database, actor, tx => findCustomers(tx, text))
const whole = [
  { customer: 'Tomas Brae', email: 'tomas.brae@mail.example', shipTo: '4 Kiln Lane' },
  { customer: 'Wren Aldous', email: 'wren@mail.example', shipTo: '4 Kiln Lane' },
]
const names = whole.map(one => ({ customer: one.customer, email: null, shipTo: null }))

describe('what a source may tell of customers', () => {
  it('is kept from what comes in, and erased of what is there; the lines stay the same lines', async () => {
    await scope('name')
    expect(await upload(database, actor, csvOf(lines))).toMatchObject({ added: lines.length })
    expect(await kept()).toEqual(names)
    // The same file again changes nothing, whatever may be kept of it.
    for (const [wanted, expected] of [
      ['none', [{ customer: null, email: null, shipTo: null }]],
      ['name', names],
      ['all', whole],
    ] as const) {
      await scope(wanted)
      expect(await upload(database, actor, csvOf(lines))).toMatchObject({ added: 0, revised: 0, same: lines.length })
      expect(await kept()).toEqual(expected)
    }
    const all = await asClient(database, actor, tx => loadPersonalOf(tx, 'openhall'))
    expect(all).toMatchObject({ scope: 'all', erased: 0 })
    await scope('name')
    expect(await kept()).toEqual(names)
    await scope('all')
    await upload(database, actor, csvOf(lines))
  })
})

describe('a customer', () => {
  it('is found, handed their data, and erased for good; what was done tells none of it', async () => {
    const { customers } = await find('tomas')
    expect(customers.length).toBeGreaterThan(0)
    expect((await find('TOMAS.BRAE@')).customers).toHaveLength(customers.length)
    expect((await find('%')).customers).toEqual([])
    const ids = customers.map(one => one.personId)
    const handed = JSON.parse((await exportCustomers(database, actor, ids)).text) as {
      persons: { customer: string; lines: { line: string }[] }[]
    }
    expect(new Set(handed.persons.map(one => one.customer))).toEqual(new Set(['Tomas Brae']))
    expect(handed.persons.flatMap(one => one.lines.map(line => line.line)).sort()).toEqual(
      lines
        .filter(line => line.order_id === '0-1')
        .map(line => line.line_id)
        .sort(),
    )
    expect(await eraseCustomers(database, actor, ids)).toBe(ids.length)
    expect(await eraseCustomers(database, actor, ids)).toBe(0)
    await scope('none')
    await scope('all')
    await upload(database, actor, csvOf(lines))
    expect((await find('tomas')).customers).toEqual([])
    expect((await find('wren')).customers.length).toBeGreaterThan(0)
    const told = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { text: is.text },
        sql`SELECT coalesce(string_agg(to_jsonb(o)::text, ''), '') AS text FROM act_object o`,
      ),
    )
    expect(told[0]?.text).not.toContain('Brae')
  })
})
