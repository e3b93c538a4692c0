import { holds, printAmount } from '@culvert/core'
import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { afterAll, describe, expect, it } from 'vitest'
import { loadEntries, loadRegister } from '../books/loadBooks.ts'
import { listSettlements } from '../settlements/listSettlements.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { setAside } from '../settlements/setAside.ts'
import { makeClientWithWeeks, testDatabase } from '../testing/madeClient.ts'
import { amountColumn, dateColumn, holdsText, sortedBy, textColumn } from './arrange.ts'
import { asClient, rowsOf } from './connect.ts'
import { is } from './rows.ts'

const database = testDatabase(4)
afterAll(() => database.$client.end())

const locales = ['en-IE', 'de-DE', 'fr-FR', 'de-CH', 'en-IN'] as const
const minor = fc.oneof(fc.integer({ min: -5, max: 5 }), fc.integer({ min: -99_999_999, max: 99_999_999 }))
const currency = fc.constantFrom('EUR', 'JPY', 'KWD', 'UYW')

describe('what is looked for in a list', () => {
  it('is found by the database where the page would find it, amounts with the marks of their locale and without', async () => {
    const { actor } = await makeClientWithWeeks(database, 'Looked for', 1, 1)
    const wanted = fc.tuple(minor, currency, fc.constantFrom(...locales), fc.nat(), fc.nat(), fc.boolean())
    await fc.assert(
      fc.asyncProperty(fc.array(wanted, { minLength: 1, maxLength: 40 }), async cases => {
        const asked = cases.map(([amount, unit, locale, from, length, isOther]) => {
          const written = amount === 0 ? '–' : printAmount(amount, unit, locale)
          const whole = isOther ? printAmount(amount + 100, unit, locale) : written
          const start = from % whole.length
          return { amount, unit, locale, written, typed: whole.slice(start, start + 1 + (length % whole.length)) }
        })
        const rows = await asClient(database, actor, tx =>
          rowsOf(
            tx,
            { found: is.list(is.yes) },
            sql`SELECT json_build_array(${sql.join(
              asked.map(one =>
                holdsText(
                  { amount: amountColumn(sql`${one.amount}::bigint`, sql`${one.unit}::text`) },
                  one.typed,
                  one.locale,
                ),
              ),
              sql`, `,
            )}) AS found`,
          ),
        )
        // A lone mark is no part of an amount that anybody looks for.
        asked.forEach((one, at) => {
          if (/\d/.test(one.typed))
            expect(rows[0]?.found[at], JSON.stringify(one)).toBe(holds(one.written, one.typed, one.locale))
        })
      }),
      { numRuns: 60 },
    )
  })

  it('is found in words and days as they read, whatever signs stand in it', async () => {
    const { actor } = await makeClientWithWeeks(database, 'In words', 1, 1)
    const columns = { name: textColumn(sql`${'Ümlaut 100 % _x\\y'}::text`), on: dateColumn(sql`'2026-03-05'::date`) }
    const found = (typed: string) =>
      asClient(database, actor, async tx => {
        const [row] = await rowsOf(tx, { yes: is.yes }, sql`SELECT ${holdsText(columns, typed, 'en-IE')} AS yes`)
        return row?.yes
      })
    for (const typed of ['ümlaut', '100 %', '% _X', 'x\\Y', '5 Mar', '2026-03', ' mar 2026 ', ''])
      expect(await found(typed), typed).toBe(true)
    for (const typed of ['_y', '6 Mar', "' OR true --", '%%']) expect(await found(typed), typed).toBe(false)
  })

  it('a column that a list has not is no order', () => {
    expect(sortedBy({}, '-name').queryChunks).toEqual(sql``.queryChunks)
  })
})

describe('arranged lists', () => {
  it('come sorted both ways in parts that hold each row once, and filtered by what stands in a row', async () => {
    const { actor, keys } = await makeClientWithWeeks(database, 'Arranged', 24, 3)
    await postSettlements(database, actor, keys.slice(0, 8))
    await setAside(database, actor, keys.slice(8, 11), 'sold with the stall')
    const list = (part: { sort?: string; filter?: string }, offset = 0, limit = 1000) =>
      asClient(database, actor, tx =>
        listSettlements(tx, { state: null, source: null, from: null, to: null, offset, limit, ...part }),
      )
    const all = (await list({})).rows
    for (const id of ['gross', 'fees', 'payout', 'lines'] as const) {
      const up = (await list({ sort: id })).rows.map(row => row[id])
      expect(up, id).toEqual(all.map(row => row[id]).sort((one, other) => one - other))
      expect((await list({ sort: `-${id}` })).rows.map(row => row[id])).toEqual([...up].reverse())
    }
    const parts = [
      await list({ sort: 'name' }, 0, 10),
      await list({ sort: 'name' }, 10, 10),
      await list({ sort: 'name' }, 20, 10),
    ]
    expect(parts.map(part => part.more)).toEqual([true, true, false])
    expect(parts.flatMap(part => part.rows.map(row => row.name))).toEqual(all.map(row => row.name).sort())
    const names = async (filter: string) => (await list({ filter })).rows.map(row => row.key).sort()
    expect(await names('STALL')).toEqual(keys.slice(8, 11).map(one => one.key))
    expect(await names('set aside')).toEqual(keys.slice(8, 11).map(one => one.key))
    expect(await names('posted')).toEqual(keys.slice(0, 8).map(one => one.key))
    expect(await names('no such thing')).toEqual([])
    // How many there are of each state is of all of them.
    expect((await list({ filter: 'posted' })).counts.posted.count).toBe(8)
    const [some] = all
    expect(await names(printAmount(some?.gross ?? 0, 'EUR', 'en-IE'))).toContain(some?.key)
  })

  it('a register that is filtered keeps the balance that each line has', async () => {
    const { actor, keys } = await makeClientWithWeeks(database, 'Arranged books', 12, 3)
    await postSettlements(database, actor, keys)
    const register = (part: { sort?: string; filter?: string; offset?: number; limit?: number }) =>
      asClient(database, actor, async tx => {
        const page = await loadRegister(tx, '1210', { from: null, to: null, offset: 0, limit: 1000, ...part })
        return page ?? expect.fail('no account 1210')
      })
    const all = await register({})
    const balances = new Map(all.rows.map(row => [`${row.entry}/${row.lineNo}`, row.balance]))
    expect(all.rows.length).toBeGreaterThan(20)
    const plain = await register({ offset: 5, limit: 7 })
    expect([plain.rows, plain.more]).toEqual([all.rows.slice(5, 12), true])
    const entry = all.rows[4]?.entry ?? ''
    const filtered = await register({ filter: entry, sort: '-debit' })
    expect(filtered.rows.map(row => row.entry)).toContain(entry)
    for (const row of [...filtered.rows, ...(await register({ sort: 'credit' })).rows])
      expect(row.balance).toBe(balances.get(`${row.entry}/${row.lineNo}`))
    const totals = (sort: string) =>
      asClient(database, actor, async tx =>
        (await loadEntries(tx, { from: null, to: null, offset: 0, limit: 1000, sort })).rows.map(row => row.total),
      )
    const numbers = await asClient(database, actor, async tx =>
      (await loadEntries(tx, { from: null, to: null, offset: 0, limit: 1000, sort: 'number' })).rows.map(
        row => row.number,
      ),
    )
    expect(numbers.slice(0, 12)).toEqual(Array.from({ length: 12 }, (_, at) => `2026-${at + 1}`))
    expect(await totals('total')).toEqual([...(await totals('number'))].sort((one, other) => one - other))
  })
})
