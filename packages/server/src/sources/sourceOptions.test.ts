import { dateBases, defaultOptions } from '@culvert/core'
import { seed } from '@culvert/core/testing'
import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterAll, expect, it } from 'vitest'
import { type CountsBy, countsBy } from '../activity/countsBy.ts'
import { openStore } from '../composing/storeActivity.ts'
import { type Actor, asClient, oneRow, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { bookCorrection } from '../settlements/bookCorrection.ts'
import { loadSettlement } from '../settlements/loadSettlement.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { takeBack } from '../settlements/takeBack.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import {
  booksOf,
  csvOf,
  makeClient,
  makeClientWithWeeks,
  type Row,
  settlementKeys,
  testDatabase,
  upload,
} from '../testing/madeClient.ts'
import { askBasis, loadOptions, saveOptions } from './sourceOptions.ts'

const database = testDatabase(8)
afterAll(() => database.$client.end())

const options = (more: Partial<typeof defaultOptions> = {}) => ({
  ...defaultOptions,
  ...more,
  detail: [...(more.detail ?? [])],
})
const countBy = (actor: Actor, by: Partial<CountsBy>) =>
  saveOptions(database, actor, { source: 'openhall', options: options(by) })

/** The lines as they stand, with all that counting by another moment touches. */
const standing = (actor: Actor) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      {},
      sql`SELECT l.line_id, l.occurred_at, l.occurred_text, l.local_date, l.settlement_key, l.status, l.extra, l.amount,
        -- Of whom a line tells, another client's digest holds another id.
        CASE WHEN l.person_id IS NULL THEN l.content_hash END AS content_hash
        FROM activity_line l WHERE l.client_id = current_client() AND NOT EXISTS (SELECT FROM activity_superseded x
          WHERE (x.client_id, x.source, x.line_id, x.revision) = (l.client_id, l.source, l.line_id, l.revision)) ORDER BY 1`,
    ),
  )

it('counting by another moment is as if the lines had been read by it, whatever way it was come by', async () => {
  const moment = fc
    .integer({ min: 0, max: 40 * 24 })
    .map(hours => new Date(Date.UTC(2026, 0, 5) + hours * 3_600_000).toISOString())
  let round = 0
  await fc.assert(
    fc.asyncProperty(
      fc.array(
        fc.record({
          occurred_at: moment,
          paid_at: fc.oneof(moment, fc.constant('')),
          sent_at: fc.oneof(moment, fc.constant('')),
          status: fc.constantFrom('available', 'available', 'available', 'pending', 'failed'),
          settlement_id: fc.constantFrom('', '', 'W-1'),
          tray: fc.constantFrom('', 'b'),
          shelf: fc.constantFrom('', 'a'),
        }),
        { minLength: 1, maxLength: 12 },
      ),
      fc.array(
        fc.record({
          dateBasis: fc.constantFrom(...dateBases),
          cutOff: fc.constantFrom(null, null, '04:30', '18:00'),
          timeZone: fc.constantFrom(null, null, 'America/Toronto'),
        }),
        { minLength: 1, maxLength: 3 },
      ),
      async (drawn, way) => {
        const last = way.at(-1) as CountsBy
        const rows = drawn.map(
          (row, index): Row => ({ line_id: `l${index}`, kind: 'sale', currency: 'EUR', amount: '10.00', ...row }),
        )
        const actor = await makeClient(database, `Counted anew ${++round}`)
        await upload(database, actor, csvOf(rows))
        for (const by of way) {
          const effect = await askBasis(database, actor, { source: 'openhall', by })
          const { counted } = await countBy(actor, by)
          expect(effect.lines).toBe(rows.length)
          expect(counted).toBeGreaterThanOrEqual(Math.max(effect.moved, effect.waiting, effect.released))
        }
        const straight = await makeClient(database, `Counted at once ${round}`, { source: last })
        await upload(database, straight, csvOf(rows))
        expect(await standing(actor)).toEqual(await standing(straight))
        expect(await upload(database, actor, csvOf(rows))).toMatchObject({ added: 0, revised: 0, same: rows.length })
      },
    ),
    { numRuns: Number(process.env.CULVERT_RUNS ?? 8), seed, endOnFailure: true },
  )
}, 120_000)

it('what was posted by the order is corrected where it counts by payment', async () => {
  const actor = await makeClient(database, 'Corrected by payment')
  const line = (name: string, more: Row): Row => ({
    line_id: name,
    settlement_id: 'W-1',
    kind: 'sale',
    currency: 'EUR',
    amount: '12.30',
    occurred_at: '2026-01-07T10:00:00Z',
    ...more,
  })
  const rows = [line('paid', { paid_at: '2026-01-09T10:00:00Z' }), line('unpaid', { paid_at: '' })]
  await upload(database, actor, csvOf(rows))
  const [key] = await settlementKeys(database, actor)
  if (!key) throw new Error('nothing came in')
  await postSettlements(database, actor, [key])
  expect(await askBasis(database, actor, { source: 'openhall', by: countsBy({ dateBasis: 'payment' }) })).toEqual({
    lines: 2,
    moved: 1,
    waiting: 1,
    released: 0,
    posted: 1,
  })
  expect(await countBy(actor, { dateBasis: 'payment' })).toMatchObject({ counted: 2 })
  expect(await bookCorrection(database, actor, key)).toMatchObject({ ok: true })
  const sales = async () => (await booksOf(database, actor)).balances.find(row => row.account === '4000')?.totals
  expect(await sales()).toBe(-1000)
  // And paid after all.
  await upload(database, actor, csvOf([{ ...rows[1], paid_at: '2026-01-12T09:00:00Z' } as Row]))
  expect(await bookCorrection(database, actor, key)).toMatchObject({ ok: true })
  expect(await sales()).toBe(-2000)
})

it('a posting keeps the options that it was made by; what waits takes the new ones', async () => {
  const { actor, keys } = await makeClientWithWeeks(database, 'Options of then', 2, 6)
  const [posted, waiting] = keys
  if (!posted || !waiting) throw new Error('two weeks were made')
  await postSettlements(database, actor, [posted])
  const shown = (key: typeof posted) => asClient(database, actor, tx => loadSettlement(tx, key))
  const before = await shown(posted)
  const { version } = await saveOptions(database, actor, {
    source: 'openhall',
    options: options({ detail: ['sku'], taxRounding: 'line' }),
  })
  expect(await shown(posted)).toEqual(before)
  await asClient(database, actor, async tx => {
    const then = (await loadSetup(tx, version - 1)).setup.sources.get('openhall')?.options
    const now = (await loadSetup(tx, version)).setup.sources.get('openhall')?.options
    expect([then?.taxRounding, now?.taxRounding, now?.detail]).toEqual(['bucket', 'line', ['sku']])
    expect((await loadSetup(tx)).setup.sources.get('openhall')?.options).toEqual(now)
  })
  expect(await postSettlements(database, actor, [waiting])).toMatchObject({ notPosted: [] })
})

it('what would turn the posted can change only while nothing is', async () => {
  const { actor, keys } = await makeClientWithWeeks(database, 'Fixed once posted', 1, 4)
  await postSettlements(database, actor, keys)
  const split = () => saveOptions(database, actor, { source: 'openhall', options: options({ splitAtMonthEnd: true }) })
  await expect(split()).rejects.toThrow(/posted/)
  expect(await asClient(database, actor, tx => loadOptions(tx, 'openhall'))).toMatchObject({
    posted: 1,
    options: { splitAtMonthEnd: false },
  })
  await takeBack(database, actor, keys)
  // What was composed by the option of before can no longer be posted as it was: its pull is not the last.
  const pulled = () =>
    asClient(database, actor, tx => oneRow(tx, { last: is.whole }, sql`SELECT last_pull AS last FROM source`))
  const before = await pulled()
  await split()
  expect((await pulled()).last).toBe(before.last + 1)
  expect(await postSettlements(database, actor, keys)).toMatchObject({ notPosted: [] })
  await takeBack(database, actor, keys)
  expect((await asClient(database, actor, tx => loadOptions(tx, 'openhall'))).options.splitAtMonthEnd).toBe(true)
})

it('two who save at once, and a file that was read by what counted before, are told', async () => {
  const { actor } = await makeClientWithWeeks(database, 'Saved at once', 1, 4)
  const { version } = await asClient(database, actor, tx => loadOptions(tx, 'openhall'))
  const saved = await Promise.allSettled(
    (['payment', 'dispatch'] as const).map(dateBasis =>
      saveOptions(database, actor, { source: 'openhall', options: options({ dateBasis }), madeFrom: version }),
    ),
  )
  expect(saved.map(one => one.status).sort()).toEqual(['fulfilled', 'rejected'])
  await expect(
    asClient(database, actor, async tx =>
      openStore(tx, { source: 'openhall', by: countsBy({}), client: await loadSetup(tx) }).finish(),
    ),
  ).rejects.toThrow(/changed while they were read/)
  await expect(
    saveOptions(database, actor, { source: 'openhall', options: options({ stockPayable: '9999' }) }),
  ).rejects.toThrow(/9999 is no account/)
})
