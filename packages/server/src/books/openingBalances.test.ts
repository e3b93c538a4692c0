import { afterAll, expect, it } from 'vitest'
import { importBalances } from '../activity/importBalances.ts'
import { loadProofPage } from '../clearing/loadClearing.ts'
import { setLocked } from '../close/loadClose.ts'
import { asClient } from '../database/connect.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { monthChecks } from '../stages.ts'
import { booksOf, csvOf, makeClient, makeWeeks, settlementKeys, testDatabase, upload } from '../testing/madeClient.ts'
import { loadOpening, postOpening, undoOpening } from './openingBalances.ts'

const database = testDatabase(8)
afterAll(() => database.$client.end())

const body = {
  date: '2026-01-04',
  lines: [
    { account: '1000', amount: 12_000 },
    { account: '1210', amount: 5000 },
    { account: '2200', amount: -17_000 },
  ],
}
/** Two weeks at a marketplace that held 50.00 as they began. */
const clientWithBalance = async (name: string) => {
  const actor = await makeClient(database, name)
  const weeks = makeWeeks(2, 6)
  const heads = weeks.heads.map(head => ({ ...head, opening_balance: '50.00', closing_balance: '50.00' }))
  await upload(database, actor, csvOf(heads), 'settlements.csv')
  await upload(database, actor, csvOf(weeks.lines))
  await asClient(database, actor, tx =>
    importBalances(tx, 'openhall', [{ currency: 'EUR', date: '2026-01-18', available: 5000, pending: 0, reserve: 0 }]),
  )
  await postSettlements(database, actor, await settlementKeys(database, actor))
  return actor
}

it('opens the books with what the accounts held, so that the clearing account begins where the processor does', async () => {
  const actor = await clientWithBalance('Opened')
  const proof = () => asClient(database, actor, tx => loadProofPage(tx, '1210', { date: '2026-01-18', currency: null }))
  const gap = async () => (await proof())?.causes.find(cause => cause.cause === 'gap')?.amount ?? 0
  expect(await gap()).toBe(5000)
  expect(await asClient(database, actor, loadOpening)).toMatchObject({ before: '2026-01-04', standing: null })
  const number = await postOpening(database, actor, body)
  expect(await gap()).toBe(0)
  expect(await asClient(database, actor, loadOpening)).toMatchObject({
    before: '2026-01-04',
    standing: { number, date: '2026-01-04', by: 'Orla Quill', lines: body.lines },
  })
  await undoOpening(database, actor)
  expect(await gap()).toBe(5000)
  expect((await proof())?.causes.map(cause => cause.cause)).not.toContain('by_hand')
  await postOpening(database, actor, body)
  expect(await gap()).toBe(0)
  const books = await booksOf(database, actor)
  for (const { account, lines, totals } of books.balances) expect(totals, account).toBe(lines)
  expect(books.numbers?.count).toBe(books.numbers?.highest)
})

it('posts once, however often and at once it is pressed, in whatever years', async () => {
  const actor = await makeClient(database, 'Pressed often')
  const pressed = await Promise.allSettled(
    ['2025-12-31', '2026-01-04', '2026-01-04', '2025-12-31'].map(date =>
      postOpening(database, actor, { ...body, date }),
    ),
  )
  expect(pressed.filter(one => one.status === 'fulfilled')).toHaveLength(1)
  const undone = await Promise.allSettled([undoOpening(database, actor), undoOpening(database, actor)])
  expect(undone.filter(one => one.status === 'fulfilled')).toHaveLength(1)
  const { balances, numbers } = await booksOf(database, actor)
  expect(balances.filter(row => row.totals !== 0)).toEqual([])
  expect(numbers).toMatchObject({ count: 2 })
})

it('says what is wrong, and posts nothing', async () => {
  const actor = await makeClient(database, 'Refused openings')
  const [first, ...others] = body.lines
  const refused = async (change: Partial<typeof body>, text: RegExp) =>
    expect(postOpening(database, actor, { ...body, ...change })).rejects.toThrow(text)
  await refused({ lines: others }, /differ by -120\.00/)
  await refused({ lines: [...body.lines, { account: '9999', amount: 0 }] }, /9999 is no account/)
  await refused({ lines: [first as (typeof others)[0], first as (typeof others)[0]] }, /1000 is named twice/)
  await refused({ lines: [...body.lines, { account: '4000', amount: 0 }] }, /4000 has nothing on it/)
  await setLocked(database, actor, { month: '2026-01', locked: true, reason: 'nothing in it' }, monthChecks)
  await refused({}, /2026-01 is locked/)
  await refused({ date: '2026-01-31' }, /locked/)
  expect((await booksOf(database, actor)).numbers?.count).toBe(0)
})
