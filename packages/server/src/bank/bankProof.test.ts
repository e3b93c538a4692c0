import { Readable } from 'node:stream'
import { bankProofPage } from '@culvert/contract'
import { formatAmount } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { afterAll, expect, it } from 'vitest'
import { postOpening } from '../books/openingBalances.ts'
import { type Actor, asClient, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { takeBack } from '../settlements/takeBack.ts'
import { makeClientWithWeeks, settlementKeys, testDatabase } from '../testing/madeClient.ts'
import { loadBankProof } from './bankProof.ts'
import { codeLine } from './codeLine.ts'
import { confirmPairings } from './confirmPairings.ts'
import { uploadStatement } from './uploadStatement.ts'

const database = testDatabase(6)
afterAll(() => database.$client.end())

const proofOf = async (actor: Actor) => {
  const page = await asClient(database, actor, tx => loadBankProof(tx, '1000', null))
  return bankProofPage.parse(JSON.parse(JSON.stringify(page)))
}
const money = (minor: number) => formatAmount(Math.abs(minor), 'EUR').replace('.', ',')
const six = (date: string) => date.slice(2).replaceAll('-', '')

interface Line {
  readonly date: string
  readonly amount: number
  readonly text: string
}
const statement = (opening: number, to: string, lines: readonly Line[]): string => {
  const closing = lines.reduce((sum, line) => sum + line.amount, opening)
  const balance = (amount: number, date: string) => `${amount < 0 ? 'D' : 'C'}${six(date)}EUR${money(amount)}`
  return [
    ':20:S',
    ':25:IE00TEST',
    `:60F:${balance(opening, lines[0]?.date ?? to)}`,
    ...lines.flatMap(line => [
      `:61:${six(line.date)}${line.amount < 0 ? 'D' : 'C'}${money(line.amount)}NTRF${line.text}`,
      `:86:${line.text}`,
    ]),
    `:62F:${balance(closing, to)}`,
    '',
  ].join('\n')
}
const bring = (actor: Actor, text: string) =>
  uploadStatement(database, actor, { name: 's', body: Readable.from([Buffer.from(text)]) })
const payouts = (actor: Actor) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { date: is.text, amount: is.minor, id: is.text },
      sql`SELECT date::text, amount, source || '/' || generation || '/' || payout_line AS id FROM transfer WHERE NOT reversed ORDER BY date`,
    ),
  )
const lineIds = (actor: Actor) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { id: is.text, amount: is.minor },
      sql`SELECT line_id AS id, amount FROM bank_line ORDER BY date, line_id`,
    ),
  )

it('closes once all is booked and paired, and says what is lacking until then', async () => {
  const { actor } = await makeClientWithWeeks(database, 'Bank proved', 2, 6)
  expect(await proofOf(actor)).toMatchObject({ proof: null })
  await postSettlements(database, actor, await settlementKeys(database, actor))
  const [first, second] = await payouts(actor)
  if (!first || !second) throw new Error('two payouts were made')
  await postOpening(database, actor, {
    date: '2025-12-31',
    lines: [
      { account: '1000', amount: 5000 },
      { account: '4000', amount: -5000 },
    ],
  })
  await bring(
    actor,
    statement(5000, second.date, [
      { date: first.date, amount: first.amount, text: 'OPENHALL' },
      { date: second.date, amount: -1200, text: 'CHARGES' },
    ]),
  )
  // The second payout is on its way; nothing that came is booked yet.
  expect(await proofOf(actor)).toMatchObject({
    proof: { state: 'explained', unexplained: 0, statement: 5000 + first.amount - 1200 },
    causes: [
      { cause: 'unbooked', amount: first.amount - 1200, count: 2 },
      { cause: 'on_the_way', amount: -first.amount - second.amount, count: 2 },
    ],
  })
  const lines = await lineIds(actor)
  const came = lines.find(line => line.amount === first.amount)?.id ?? ''
  const charge = lines.find(line => line.amount === -1200)?.id ?? ''
  await codeLine(database, actor, { account: '1000', bankLine: charge, to: '6000', taxCode: null, memo: '' })
  await confirmPairings(database, actor, { account: '1000', groups: [{ transfers: [first.id], bankLines: [came] }] })
  expect(await proofOf(actor)).toMatchObject({
    proof: { state: 'closed', unexplained: 0 },
    causes: [{ cause: 'on_the_way', amount: -second.amount, count: 1 }],
  })
})

it('is not closed with a statement missing, and says for which days and how much', async () => {
  const { actor } = await makeClientWithWeeks(database, 'A statement missing', 1, 3)
  await bring(actor, statement(0, '2026-04-07', [{ date: '2026-04-01', amount: 500, text: 'A' }]))
  await bring(actor, statement(700, '2026-04-21', [{ date: '2026-04-15', amount: 100, text: 'C' }]))
  expect(await proofOf(actor)).toMatchObject({
    proof: { state: 'explained', unexplained: 0 },
    gaps: [{ from: '2026-04-08', to: '2026-04-14', amount: 200 }],
  })
})

it('opens over an error that nobody has a name for: a stored line that is not what the statement told', async () => {
  const { actor } = await makeClientWithWeeks(database, 'A line changed', 1, 3)
  await bring(actor, statement(0, '2026-04-07', [{ date: '2026-04-01', amount: 500, text: 'A' }]))
  await asClient(database, actor, tx =>
    tx.execute(sql`INSERT INTO bank_line (client_id, bank_account, line_id, date, amount, currency, pull_id)
      SELECT client_id, bank_account, 'planted', date, 77, currency, pull_id FROM bank_line LIMIT 1`),
  )
  expect((await proofOf(actor)).proof).toMatchObject({ state: 'open' })
})

it('a payout that was taken back is on no way any more', async () => {
  const { actor } = await makeClientWithWeeks(database, 'Taken back', 1, 3)
  await postSettlements(database, actor, await settlementKeys(database, actor))
  await bring(actor, statement(0, '2026-12-31', [{ date: '2026-12-30', amount: 1, text: 'A' }]))
  expect((await proofOf(actor)).causes.map(one => one.cause)).toEqual(['unbooked', 'overdue'])
  await takeBack(database, actor, await settlementKeys(database, actor))
  expect(await proofOf(actor)).toMatchObject({
    proof: { state: 'explained', unexplained: 0 },
    causes: [{ cause: 'unbooked' }],
  })
})
