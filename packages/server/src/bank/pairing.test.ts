import { Readable } from 'node:stream'
import { addDays } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { afterAll, describe, expect, it } from 'vitest'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { takeBack } from '../settlements/takeBack.ts'
import { booksOf, makeClientWithWeeks, testDatabase } from '../testing/madeClient.ts'
import { confirmCertain, confirmPairings, undoPairings } from './confirmPairings.ts'
import { loadBankPage } from './loadBank.ts'
import { uploadStatement } from './uploadStatement.ts'

const database = testDatabase(16)
afterAll(() => database.$client.end())

const statement = (rows: readonly string[]): string =>
  `line_id,date,bank_account,amount,currency,description,reference\n${rows.join('\n')}\n`
const bring = (actor: Actor, text: string, name = 'statement.csv') =>
  uploadStatement(database, actor, { name, body: Readable.from([Buffer.from(text)]) })
const page = async (actor: Actor) => {
  const loaded = await asClient(database, actor, tx =>
    loadBankPage(tx, '1000', { from: '2026-01-01', to: '2026-12-31' }),
  )
  if (!loaded) throw new Error('no bank account')
  return loaded
}

/** Posted settlements and a statement with a deposit for each, two days after its payout. */
const posted = async (name: string, count: number) => {
  const made = await makeClientWithWeeks(database, name, count, 3)
  await postSettlements(database, made.actor, made.keys)
  const payouts = await asClient(database, made.actor, tx =>
    rowsOf<{ date: string; amount: number }>(tx, sql`SELECT date::text, amount FROM transfer ORDER BY date`),
  )
  const rows = payouts.map(
    (payout, index) =>
      `B${index},${addDays(payout.date, 2)},1000,${(payout.amount / 100).toFixed(2)},EUR,OPENHALL SETTL ${index},`,
  )
  await bring(made.actor, statement([...rows, 'LATE,2026-12-31,1000,-1.00,EUR,END OF YEAR,']))
  return made
}

const groupOf = (row: { transfers: { id: string }[]; bankLines: { id: string }[] } | undefined) => ({
  transfers: (row?.transfers ?? []).map(one => one.id),
  bankLines: (row?.bankLines ?? []).map(one => one.id),
})

describe('confirming', () => {
  it('ties what is certain, each once, also from many at the same time', async () => {
    const { actor } = await posted('Confirmed at once', 12)
    const before = await page(actor)
    // Nothing is certain by being alone before the source is known to the end of the window.
    expect(before.proposals.map(row => row.sureness)).toContain('certain')
    const certain = before.certain
    const outcomes = await Promise.all(Array.from({ length: 8 }, () => confirmCertain(database, actor, '1000')))
    expect(outcomes.reduce((sum, outcome) => sum + outcome.confirmed, 0)).toBe(certain)
    const tied = await asClient(database, actor, tx =>
      rowsOf<{ pairs: number; transfers: number; lines: number; open: number }>(
        tx,
        sql`
      SELECT (SELECT count(*)::int FROM pairing WHERE undone_by IS NULL) AS pairs, (SELECT count(*)::int FROM transfer WHERE paired) AS transfers,
        (SELECT count(*)::int FROM paired_bank_line WHERE active) AS lines, (SELECT count(*)::int FROM open_bank_line) AS open`,
      ),
    )
    expect(tied).toEqual([{ pairs: certain, transfers: certain, lines: certain, open: 13 - certain }])
  })

  it('is undone without a trace', async () => {
    const { actor } = await posted('Undone', 5)
    const before = await page(actor)
    await confirmCertain(database, actor, '1000')
    const confirmed = (await page(actor)).confirmed
    expect(
      await undoPairings(
        database,
        actor,
        confirmed.map(row => row.pairingId ?? ''),
      ),
    ).toBe(confirmed.length)
    expect(
      await undoPairings(
        database,
        actor,
        confirmed.map(row => row.pairingId ?? ''),
      ),
    ).toBe(0)
    expect(await page(actor)).toEqual(before)
  })

  it('refuses sides that do not agree, members that are gone, and one member in two groups', async () => {
    const { actor } = await posted('Refused', 4)
    const { proposals } = await page(actor)
    const [first, second] = proposals
    const crossed = { transfers: groupOf(first).transfers, bankLines: groupOf(second).bankLines }
    expect(await confirmPairings(database, actor, { account: '1000', groups: [crossed] })).toMatchObject({
      confirmed: 0,
      refused: [{ reason: 'its two sides do not agree' }],
    })
    expect(
      await confirmPairings(database, actor, { account: '1000', groups: [groupOf(first), groupOf(first)] }),
    ).toMatchObject({ confirmed: 1, refused: [{ reason: 'something of it is in another group' }] })
    expect(await confirmPairings(database, actor, { account: '1000', groups: [groupOf(first)] })).toMatchObject({
      confirmed: 0,
    })
  })

  it('and taking back at the same time leave no deposit on a reversed transfer', async () => {
    const { actor, keys } = await posted('Confirm against take back', 10)
    await Promise.all([
      ...keys.map(key => takeBack(database, actor, [key])),
      ...(await page(actor)).proposals.map(row =>
        confirmPairings(database, actor, { account: '1000', groups: [groupOf(row)] }),
      ),
    ])
    const bad = await asClient(database, actor, tx => rowsOf(tx, sql`SELECT FROM transfer WHERE paired AND reversed`))
    expect(bad).toEqual([])
    const books = await booksOf(database, actor)
    for (const { account, lines, totals } of books.balances) expect(totals, account).toBe(lines)
  })
})

describe('a statement', () => {
  const camt = (
    amount: string,
  ) => `<?xml version="1.0"?><d:Document xmlns:d="urn:iso:std:iso:20022:tech:xsd:camt.053.001.02"><d:BkToCstmrStmt><d:Stmt>
    <d:Acct><d:Id><d:IBAN>IE00TEST</d:IBAN></d:Id></d:Acct><d:Ntry><d:Amt Ccy="EUR">${amount}</d:Amt><d:CdtDbtInd>CRDT</d:CdtDbtInd><d:Sts>BOOK</d:Sts>
    <d:BookgDt><d:Dt>2026-03-04</d:Dt></d:BookgDt><d:AcctSvcrRef>X1</d:AcctSvcrRef><d:AddtlNtryInf>A &amp; B</d:AddtlNtryInf></d:Ntry></d:Stmt></d:BkToCstmrStmt></d:Document>`
  it('comes in as camt.053 of any prefix and version, by the bank’s number, once', async () => {
    const { actor } = await makeClientWithWeeks(database, 'Statement', 0, 0)
    expect(await bring(actor, camt('12.30'), 'a.xml')).toMatchObject({ added: 1, same: 0, accounts: ['1000'] })
    expect(await bring(actor, camt('12.30'), 'a.xml')).toMatchObject({ added: 0, same: 1 })
    expect((await page(actor)).linesAlone).toMatchObject([{ id: 'X1', amount: 1230, description: 'A & B' }])
  })
  it.each([
    ['broken XML', '<Document><BkToCstmrStmt>'],
    ['another document', '<Invoice/>'],
    ['an amount of too many digits', camt('1.234')],
    ['an account of somebody else', camt('1.00').replace('IE00TEST', 'IE99OTHER')],
    ['nothing', ''],
    ['blank lines', '\n\n'],
  ])('of %s is refused whole', async (_, text) => {
    const { actor } = await makeClientWithWeeks(database, 'Bad statement', 0, 0)
    await expect(bring(actor, text, 'x')).rejects.toMatchObject({ name: 'FileRefused' })
    expect(await asClient(database, actor, tx => rowsOf(tx, sql`SELECT FROM bank_line`))).toEqual([])
  })
})
