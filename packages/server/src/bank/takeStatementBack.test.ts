import { Readable } from 'node:stream'
import { sql } from 'drizzle-orm'
import { afterAll, describe, expect, it } from 'vitest'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { brokenInvariants } from '../testing/invariants.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { loadBankProof } from './bankProof.ts'
import { codeLine } from './codeLine.ts'
import { loadStatementImport, takeStatementBack } from './takeStatementBack.ts'
import { undoPairings } from './undoPairings.ts'
import { uploadStatement } from './uploadStatement.ts'

const database = testDatabase(4)
afterAll(() => database.$client.end())

/** An MT940 of days in March 2026 with a line of 10 each. */
const statement = (from: number, to: number): string => {
  const day = (at: number) => `2603${String(at).padStart(2, '0')}`
  const days = Array.from({ length: to - from + 1 }, (_, at) => from + at)
  return [
    `:20:S\n:25:IE00TEST\n:60F:C${day(from - 1)}EUR${10 * (from - 1)},00`,
    ...days.map(at => `:61:${day(at)}C10,00NTRFREF${at}\n:86:PAID ${at}`),
    `:62F:C${day(to)}EUR${10 * to},00\n`,
  ].join('\n')
}
const bring = async (actor: Actor, text: string): Promise<string> => {
  await uploadStatement(database, actor, { name: 'skerrymoor.mt940', body: Readable.from([Buffer.from(text)]) })
  const [job] = await asClient(database, actor, tx =>
    rowsOf(tx, { id: is.text }, sql`SELECT job_id AS id FROM job ORDER BY ordinal DESC LIMIT 1`),
  )
  return job?.id ?? ''
}
const seen = (actor: Actor) =>
  asClient(database, actor, async tx => ({
    proof: await loadBankProof(tx, '1000', null),
    rows: await rowsOf(
      tx,
      { lines: is.whole, open: is.whole, statements: is.whole, reach: is.maybe(is.text) },
      sql`SELECT (SELECT count(*)::int FROM bank_line) AS lines, (SELECT count(*)::int FROM open_bank_line) AS open,
        (SELECT count(*)::int FROM statement) AS statements, (SELECT max(read_to)::text FROM bank_reach) AS reach`,
    ),
  }))
const back = (actor: Actor, jobId: string) => takeStatementBack(database, actor, jobId)

describe('a statement that is taken back', () => {
  it('leaves what was there before it, and can be brought in again', async () => {
    const actor = await makeClient(database, 'Statement back')
    await bring(actor, statement(2, 6))
    const before = await seen(actor)
    const second = await bring(actor, statement(7, 12))
    const both = await seen(actor)
    expect(both.rows[0]).toMatchObject({ lines: 11, statements: 2, reach: '2026-03-12' })
    expect(await back(actor, second)).toMatchObject({
      rows: 6,
      accounts: ['1000'],
      sums: [{ currency: 'EUR', amount: 6000 }],
    })
    expect(await seen(actor)).toEqual(before)
    await expect(back(actor, second)).rejects.toMatchObject({ code: 'import_taken_back' })
    await bring(actor, statement(7, 12))
    expect((await seen(actor)).rows).toEqual(both.rows)
    expect(await brokenInvariants(database, actor)).toEqual([])
  })

  it('is held by a later one that found its lines known, and by whatever was decided', async () => {
    const actor = await makeClient(database, 'Statement held')
    const first = await bring(actor, statement(2, 6))
    const later = await bring(actor, statement(5, 9))
    const holds = async (jobId: string) => (await asClient(database, actor, tx => loadStatementImport(tx, jobId))).holds
    expect(await holds(first)).toMatchObject([{ code: 'overlapped', count: 1, names: ['skerrymoor.mt940'] }])
    await expect(back(actor, first)).rejects.toMatchObject({ code: 'import_held' })
    await back(actor, later)
    expect(await holds(first)).toEqual([])
    const [line] = await asClient(database, actor, tx =>
      rowsOf(tx, { id: is.text }, sql`SELECT line_id AS id FROM open_bank_line ORDER BY date LIMIT 1`),
    )
    await codeLine(database, actor, { account: '1000', bankLine: line?.id ?? '', to: '4000', taxCode: null, memo: '' })
    expect(await holds(first)).toMatchObject([{ code: 'bank_decided', count: 1 }])
    const [pairing] = await asClient(database, actor, tx =>
      rowsOf(tx, { id: is.text }, sql`SELECT pairing_id AS id FROM pairing`),
    )
    await undoPairings(database, actor, [pairing?.id ?? ''])
    // What was decided and undone stays in the log, with its lines.
    await expect(back(actor, first)).rejects.toMatchObject({ code: 'import_held' })
    expect((await seen(actor)).rows[0]).toMatchObject({ lines: 5, open: 5 })
  })
})
