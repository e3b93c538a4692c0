import { sql } from 'drizzle-orm'
import { afterAll, describe, expect, it } from 'vitest'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { bookCorrection } from '../settlements/bookCorrection.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { takeBack } from '../settlements/takeBack.ts'
import { monthChecks } from '../stages.ts'
import { csvOf, makeClientWithWeeks, testDatabase, upload } from '../testing/madeClient.ts'
import { setLocked } from './loadClose.ts'
import { loadRegistrations, saveRegistration } from './registrations.ts'
import { fileTax, loadTaxFilings, withdrawTaxFiling } from './taxFilings.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

const corrections = (actor: Actor) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { key: is.text, date: is.date },
      sql`SELECT key, date::text FROM entry WHERE client_id = current_client() AND document = 'correction' ORDER BY fiscal_year, number`,
    ),
  )

describe('a tax period that was filed', () => {
  it('puts corrections of what is in it after it, and a locked month after that; withdrawn it does not', async () => {
    const { actor, keys, weeks } = await makeClientWithWeeks(database, 'Filed', 3, 2)
    await postSettlements(database, actor, keys)
    const filing = { agency: 'Revenue', from: '2026-01-01', to: '2026-01-31', filedOn: '2026-02-19' }
    const id = await fileTax(database, actor, filing)
    await expect(fileTax(database, actor, { ...filing, from: '2026-01-20', to: '2026-02-28' })).rejects.toThrow(
      'filed with Revenue already',
    )
    await fileTax(database, actor, { ...filing, agency: 'Another agency', to: '2026-02-28' })
    const revise = (week: string, more: number) =>
      upload(
        database,
        actor,
        csvOf(
          weeks.lines
            .filter(row => row.settlement_id === week && (row.kind === 'sale' || row.kind === 'selling_fee'))
            .slice(0, 2)
            .map(row => ({ ...row, amount: (Number(row.amount) + (row.kind === 'sale' ? more : -more)).toFixed(2) })),
        ),
      )
    const correct = (place: number) => bookCorrection(database, actor, keys[place] as (typeof keys)[number])
    await revise('W-00001', 1)
    expect(await correct(0)).toEqual({ ok: true, entries: 1 })
    // March is locked: what is filed to the end of February goes to April.
    for (const month of ['2026-01', '2026-02', '2026-03'])
      await setLocked(database, actor, { month, locked: true, reason: 'tried' }, monthChecks)
    await revise('W-00002', 2)
    expect(await correct(1)).toEqual({ ok: true, entries: 1 })
    for (const month of ['2026-03', '2026-02', '2026-01'])
      await setLocked(database, actor, { month, locked: false, reason: 'tried' }, monthChecks)
    for (const one of await asClient(database, actor, loadTaxFilings))
      await withdrawTaxFiling(database, actor, one.id, 'filed too early')
    await expect(withdrawTaxFiling(database, actor, id, 'again')).rejects.toThrow('withdrawn already')
    await revise('W-00003', 3)
    expect(await correct(2)).toEqual({ ok: true, entries: 1 })
    expect(await corrections(actor)).toEqual([
      { key: 'W-00001', date: '2026-03-01' },
      { key: 'W-00002', date: '2026-04-01' },
      { key: 'W-00003', date: '2026-01-25' },
    ])
    expect((await asClient(database, actor, loadTaxFilings)).map(one => [one.agency, one.withdrawn?.reason])).toEqual([
      ['Another agency', 'filed too early'],
      ['Revenue', 'filed too early'],
    ])
  })
})

describe('filings of a registration', () => {
  it('move what feeds it, whoever writes the entry: posting, reversing, correcting', async () => {
    const { actor, keys } = await makeClientWithWeeks(database, 'Registered', 3, 2)
    const registration = await saveRegistration(database, actor, {
      ...{ id: null, agency: 'Revenue', country: 'IE', number: 'IE1' },
      codes: [],
    })
    const { without } = await asClient(database, actor, loadRegistrations)
    const other = await saveRegistration(database, actor, {
      ...{ id: null, agency: 'Finanzamt', country: 'DE', number: 'DE1' },
      codes: without,
    })
    const period = { agency: '', from: '2026-01-01', to: '2026-02-28', filedOn: '2026-03-19' }
    const datesOf = (document: string) =>
      asClient(database, actor, async tx =>
        (
          await rowsOf(
            tx,
            { date: is.date },
            sql`SELECT date::text FROM entry WHERE client_id = current_client() AND document = ${document} ORDER BY number`,
          )
        ).map(row => row.date),
      )
    // All codes feed the other registration: what is filed for this one moves nothing.
    const filed = await fileTax(database, actor, { ...period, registration })
    await postSettlements(database, actor, keys.slice(0, 1))
    expect(await datesOf('journal')).toEqual(['2026-01-11'])
    await withdrawTaxFiling(database, actor, filed, 'to be filed for the other')
    await fileTax(database, actor, { ...period, registration: other })
    await postSettlements(database, actor, keys.slice(1))
    expect(await datesOf('journal')).toEqual(['2026-01-11', '2026-03-01', '2026-03-01'])
    // Transfers bear no tax, and stay where they were.
    expect((await datesOf('transfer')).every(date => date < '2026-03-01')).toBe(true)
    await takeBack(database, actor, keys.slice(0, 1))
    expect((await datesOf('reversal')).sort()).toEqual([expect.stringMatching(/^2026-01/), '2026-03-01'])
    await expect(fileTax(database, actor, { ...period, registration: 99 })).rejects.toThrow('no such tax registration')
  })
})
