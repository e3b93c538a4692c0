import { Readable } from 'node:stream'
import { addDays } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { afterAll, describe, expect, it } from 'vitest'
import { setLocked } from '../close/loadClose.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadTaxCheck } from '../mapping/loadTaxCheck.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { takeBack } from '../settlements/takeBack.ts'
import { monthChecks } from '../stages.ts'
import { addShop, booksOf, makeClientWithWeeks, testDatabase } from '../testing/madeClient.ts'
import { codeLine } from './codeLine.ts'
import { confirmCertain, confirmPairings } from './confirmPairings.ts'
import { countWaiting } from './countToPair.ts'
import { loadBankPage } from './loadBank.ts'
import { propose } from './proposals.ts'
import { setAsideItems } from './setAsideItems.ts'
import { undoPairings } from './undoPairings.ts'
import { uploadStatement } from './uploadStatement.ts'
import { loadWordings, saveWording } from './wordings.ts'

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
const proposals = async (actor: Actor) => (await propose(database, actor, '1000')).proposals

/** Posted settlements and a statement with a deposit for each, two days after its payout. */
const posted = async (name: string, count: number) => {
  const made = await makeClientWithWeeks(database, name, count, 3)
  await postSettlements(database, made.actor, made.keys)
  const payouts = await asClient(database, made.actor, tx =>
    rowsOf(tx, { date: is.date, amount: is.minor }, sql`SELECT date::text, amount FROM transfer ORDER BY date`),
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
    const before = await proposals(actor)
    // Nothing is certain by being alone before the source is known to the end of the window.
    expect(before.map(row => row.sureness)).toContain('certain')
    const certain = before.filter(row => row.sureness === 'certain').length
    const outcomes = await Promise.all(Array.from({ length: 8 }, () => confirmCertain(database, actor, '1000')))
    expect(outcomes.reduce((sum, outcome) => sum + outcome.confirmed, 0)).toBe(certain)
    const tied = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { pairs: is.whole, transfers: is.whole, lines: is.whole, open: is.whole },
        sql`
      SELECT (SELECT count(*)::int FROM pairing WHERE undone_by IS NULL) AS pairs, (SELECT count(*)::int FROM transfer WHERE paired) AS transfers,
        (SELECT count(*)::int FROM paired_bank_line WHERE active) AS lines, (SELECT count(*)::int FROM open_bank_line) AS open`,
      ),
    )
    expect(tied).toEqual([{ pairs: certain, transfers: certain, lines: certain, open: 13 - certain }])
  })

  it('counts what belongs together once, with its money once, also several payouts in one deposit', async () => {
    const made = await makeClientWithWeeks(database, 'Counted once', 4, 3)
    const { actor } = made
    await postSettlements(database, actor, made.keys)
    const payouts = await asClient(database, actor, tx =>
      rowsOf(tx, { date: is.date, amount: is.minor }, sql`SELECT date::text, amount FROM transfer ORDER BY date`),
    )
    const [first = 0, second = 0, third = 0, fourth = 0] = payouts.map(payout => payout.amount)
    const day = (at: number) => addDays(payouts[at]?.date ?? '', 2)
    const money = (amount: number) => (amount / 100).toFixed(2)
    await bring(
      actor,
      statement([
        // The first two come together, a week after the first; the third in two parts; the fourth not at all; and a stranger.
        `A,${addDays(payouts[1]?.date ?? '', 0)},1000,${money(first + second)},EUR,OPENHALL SETTL,`,
        `B,${day(2)},1000,${money(third - 1000)},EUR,OPENHALL SETTL,`,
        `C,${day(2)},1000,10.00,EUR,OPENHALL SETTL,`,
        `D,${day(2)},1000,-7.00,EUR,RENT,`,
      ]),
    )
    const counted = () => countWaiting(read => asClient(database, actor, read))
    expect(await counted()).toEqual({
      waiting: 4,
      amount: first + second + third + fourth + 700,
      note: '4',
    })
    const proposed = await proposals(actor)
    expect(proposed.map(row => [row.transfers.length, row.bankLines.length])).toEqual([
      [2, 1],
      [1, 2],
    ])
    await confirmPairings(database, actor, { account: '1000', groups: proposed.map(groupOf) })
    expect(await counted()).toEqual({ waiting: 2, amount: fourth + 700, note: '1' })
  })

  it('is undone without a trace', async () => {
    const { actor } = await posted('Undone', 5)
    const before = await page(actor)
    await confirmCertain(database, actor, '1000')
    const confirmed = (await page(actor)).decided
    expect(
      await undoPairings(
        database,
        actor,
        confirmed.map(row => row.pairingId),
      ),
    ).toBe(confirmed.length)
    expect(
      await undoPairings(
        database,
        actor,
        confirmed.map(row => row.pairingId),
      ),
    ).toBe(0)
    expect(await page(actor)).toEqual(before)
  })

  it('refuses sides that do not agree, members that are gone, and one member in two groups', async () => {
    const { actor } = await posted('Refused', 4)
    const [first, second] = await proposals(actor)
    const crossed = { transfers: groupOf(first).transfers, bankLines: groupOf(second).bankLines }
    expect(await confirmPairings(database, actor, { account: '1000', groups: [crossed] })).toMatchObject({
      confirmed: 0,
      refused: [{ reason: 'sides_differ' }],
    })
    expect(
      await confirmPairings(database, actor, { account: '1000', groups: [groupOf(first), groupOf(first)] }),
    ).toMatchObject({ confirmed: 1, refused: [{ reason: 'in_another_group' }] })
    expect(await confirmPairings(database, actor, { account: '1000', groups: [groupOf(first)] })).toMatchObject({
      confirmed: 0,
    })
  })

  it('and taking back at the same time leave no deposit on a reversed transfer', async () => {
    const { actor, keys } = await posted('Confirm against take back', 10)
    await Promise.all([
      ...keys.map(key => takeBack(database, actor, [key])),
      ...(await proposals(actor)).map(row =>
        confirmPairings(database, actor, { account: '1000', groups: [groupOf(row)] }),
      ),
    ])
    const bad = await asClient(database, actor, tx =>
      rowsOf(tx, {}, sql`SELECT FROM transfer WHERE paired AND reversed`),
    )
    expect(bad).toEqual([])
    const books = await booksOf(database, actor)
    for (const { account, lines, totals } of books.balances) expect(totals, account).toBe(lines)
  })
})

describe('what a person decides', () => {
  const balances = async (actor: Actor) => {
    const books = await booksOf(database, actor)
    for (const { account, lines, totals } of books.balances) expect(totals, account).toBe(lines)
    expect(books.numbers).toMatchObject({ count: books.numbers?.highest, next: books.numbers?.highest })
    return Object.fromEntries(books.balances.map(row => [row.account, row.totals]))
  }
  const undoAll = async (actor: Actor) =>
    undoPairings(
      database,
      actor,
      (await page(actor)).decided.map(row => row.pairingId),
    )
  const idsOf = async (actor: Actor) => {
    const { transfers, lines } = await page(actor)
    return { transfers: transfers.map(one => one.id), lines: lines.map(one => one.id) }
  }

  it('any members may be tied by hand, and what lies between them is booked where it is said', async () => {
    const { actor } = await posted('By hand', 3)
    await bring(actor, statement(['SHORT,2026-02-10,1000,-1.50,EUR,CORRECTION,']))
    const before = await balances(actor)
    const all = await idsOf(actor)
    // Two payouts with one deposit of them and a line of minus 1.50: no engine proposes that.
    const group = { transfers: all.transfers.slice(0, 2), bankLines: ['B0', 'B1', 'SHORT'] }
    expect(await confirmPairings(database, actor, { account: '1000', groups: [group] })).toMatchObject({
      confirmed: 0,
      refused: [{ reason: 'sides_differ' }],
    })
    for (const account of ['1210', '1000', '9999'])
      expect(
        await confirmPairings(database, actor, { account: '1000', groups: [{ ...group, difference: { account } }] }),
      ).toMatchObject({ refused: [{ reason: 'difference_refused' }] })
    expect(
      await confirmPairings(database, actor, {
        account: '1000',
        groups: [{ ...group, difference: { account: '6000' } }],
      }),
    ).toEqual({ confirmed: 1, entries: 1, refused: [], pairings: [expect.any(String)] })
    const after = await balances(actor)
    expect(after['6000'] ?? 0).toBe((before['6000'] ?? 0) + 150)
    expect(after['1000'] ?? 0).toBe((before['1000'] ?? 0) - 150)
    expect((await page(actor)).decided).toMatchObject([
      { sort: 'paired', sureness: 'by_hand', difference: -150, account: '6000', evidence: { exactSum: false } },
    ])
    expect((await page(actor)).differenceAccount).toBe('6000')
    expect(await undoAll(actor)).toBe(1)
    expect(await balances(actor)).toEqual(before)
    expect(await idsOf(actor)).toEqual(all)
  })

  it('a line is coded straight to an account, its tax taken out, and taken apart without a trace', async () => {
    const { actor } = await posted('Coded', 2)
    await bring(actor, statement(['FEE,2026-02-10,1000,-12.30,EUR,QUARTERLY FEE,']))
    const before = await balances(actor)
    const all = await idsOf(actor)
    const code = (more: Partial<Parameters<typeof codeLine>[2]> = {}) =>
      codeLine(database, actor, { account: '1000', bankLine: 'FEE', to: '6000', taxCode: 'S23', memo: '', ...more })
    await expect(code({ to: '9999' })).rejects.toThrow('the account is archived, unknown')
    await expect(code({ taxCode: 'NONE' })).rejects.toThrow('the tax code does not exist')
    await expect(code({ to: '1000' })).rejects.toThrow('its own account')
    const s23 = async () => {
      const { codes } = await asClient(database, actor, tx => loadTaxCheck(tx, '2026-02'))
      const sums = codes.filter(one => one.taxCode === 'S23')
      return [sums.reduce((sum, one) => sum + one.base, 0), sums.reduce((sum, one) => sum + one.booked, 0)]
    }
    const [baseBefore = 0, taxBefore = 0] = await s23()
    const outcomes = await Promise.allSettled(Array.from({ length: 6 }, () => code({ memo: 'bank charges' })))
    expect(outcomes.filter(outcome => outcome.status === 'fulfilled')).toHaveLength(1)
    const after = await balances(actor)
    expect(
      [after['6000'], after['2200'], after['1000']].map(
        (amount, index) => (amount ?? 0) - (before[['6000', '2200', '1000'][index] as string] ?? 0),
      ),
    ).toEqual([1000, 230, -1230])
    expect((await page(actor)).decided).toMatchObject([{ sort: 'coded', note: 'bank charges', account: '6000' }])
    // The tax check sees it, though no settlement made it: 10.00 and 2.30 on the other side.
    expect(await s23()).toEqual([baseBefore - 1000, taxBefore - 230])
    expect(await undoAll(actor)).toBe(1)
    expect(await s23()).toEqual([baseBefore, taxBefore])
    expect(await balances(actor)).toEqual(before)
    expect(await idsOf(actor)).toEqual(all)
  })

  it('what is set aside is open no more, keeps its reason, and is taken up again', async () => {
    const { actor } = await posted('Set aside', 2)
    const all = await idsOf(actor)
    const aside = (more: object = {}) =>
      setAsideItems(database, actor, {
        account: '1000',
        transfers: all.transfers.slice(0, 1),
        bankLines: ['LATE'],
        reason: 'another client’s money',
        ...more,
      })
    expect(await aside()).toHaveLength(2)
    await expect(aside()).rejects.toThrow('not open any more')
    expect(await idsOf(actor)).toEqual({ transfers: all.transfers.slice(1), lines: ['B0', 'B1'] })
    expect((await page(actor)).decided.map(row => [row.sort, row.note])).toEqual([
      ['set_aside', 'another client’s money'],
      ['set_aside', 'another client’s money'],
    ])
    expect(await undoAll(actor)).toBe(2)
    expect(await idsOf(actor)).toEqual(all)
  })

  it('leaves whole books whoever decides, undoes and locks at the same time', async () => {
    const { actor } = await posted('Decided at once', 8)
    await bring(
      actor,
      statement(Array.from({ length: 6 }, (_, index) => `X${index},2026-02-1${index},1000,-1.${index}0,EUR,CHARGE,`)),
    )
    const { transfers } = await page(actor)
    const difference = { account: '6000' }
    const ties = transfers.map((transfer, index) =>
      confirmPairings(database, actor, {
        account: '1000',
        groups: [{ transfers: [transfer.id], bankLines: [`B${index}`, `X${index % 6}`], difference }],
      }),
    )
    const codes = Array.from({ length: 6 }, (_, index) =>
      codeLine(database, actor, { account: '1000', bankLine: `X${index}`, to: '6000', taxCode: 'S23', memo: '' }),
    )
    const undos = Array.from({ length: 4 }, () => undoAll(actor))
    const locks = [true, false].map(locked => setLocked(database, actor, { month: '2026-02', locked }, monthChecks))
    await Promise.allSettled([...ties, ...codes, ...undos, ...locks])
    await undoAll(actor)
    await balances(actor)
    const wrong = await asClient(database, actor, tx =>
      rowsOf(
        tx,
        {},
        sql`
      SELECT b.line_id FROM bank_line b WHERE
        (SELECT count(*) FROM open_bank_line o WHERE o.bank_account = b.bank_account AND o.line_id = b.line_id)
        + (SELECT count(*) FROM paired_bank_line p WHERE p.active AND p.bank_account = b.bank_account AND p.line_id = b.line_id) <> 1
      UNION ALL
      SELECT p.pairing_id FROM pairing p WHERE p.undone_by IS NOT NULL AND p.number IS NOT NULL AND NOT EXISTS (
        SELECT FROM entry r WHERE r.reverses_year = p.fiscal_year AND r.reverses_number = p.number)`,
      ),
    )
    expect(wrong).toEqual([])
  })

  it('words that name a source make its pairings certain, but never two sources', async () => {
    const { actor } = await posted('Wordings', 3)
    const sure = async () => (await proposals(actor)).map(row => row.sureness)
    await saveWording(database, actor, { source: 'openhall', wording: 'openhall settl', known: false })
    // The key itself still names the payer; a wording of another would be refused.
    expect(await asClient(database, actor, loadWordings)).toEqual([
      { source: 'openhall', name: 'Openhall', wordings: [] },
    ])
    await saveWording(database, actor, { source: 'openhall', wording: 'SKM PAYMENTS', known: true })
    expect((await page(actor)).facts.bankTexts).toEqual([['openhall', ['SKM PAYMENTS']]])
    expect(await sure()).toContain('certain')
    await expect(saveWording(database, actor, { source: 'brookpay', wording: 'SKM', known: true })).rejects.toThrow(
      'no such source',
    )
    await addShop(database, actor)
    for (const wording of ['SKM PAYMENTS', 'skm  payments', 'Openhall'])
      await expect(saveWording(database, actor, { source: 'brookpay', wording, known: true })).rejects.toThrow(
        'it would name two payers',
      )
    // Part of a longer one of another: the longest that stands in a line names its payer.
    await saveWording(database, actor, { source: 'brookpay', wording: 'SKM', known: true })
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
    expect((await page(actor)).lines).toMatchObject([{ id: 'X1', amount: 1230, description: 'A & B' }])
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
    expect(await asClient(database, actor, tx => rowsOf(tx, {}, sql`SELECT FROM bank_line`))).toEqual([])
  })
})
