import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type BankBooks, type ProvingStatement, proveBank } from './proveBank.ts'

const none = { amount: 0, count: 0, items: [] }
const day = (at: number): string => new Date(Date.UTC(2026, 3, 1 + at)).toISOString().slice(0, 10)

interface Made {
  readonly statements: ProvingStatement[]
  readonly account: BankBooks<string>
}

/** Lines of some weeks in statements of some days each, all booked. */
const madeOf = (opening: number, amounts: readonly (readonly number[])[]): Made => {
  let balance = opening
  const lineSums: { date: string; amount: number }[] = []
  const statements = amounts.map((moved, at) => {
    const before = balance
    moved.forEach((amount, no) => {
      balance += amount
      lineSums.push({ date: day(at * 7 + (no % 7)), amount })
    })
    return {
      ...{
        number: String(at + 1),
        format: 'mt940',
        from: day(at * 7),
        to: day(at * 7 + 6),
        opening: before,
        closing: balance,
      },
      ...{ lines: moved.length, sum: balance - before },
    }
  })
  return {
    statements,
    account: {
      books: balance,
      openingEntries: opening,
      lineSums,
      unbooked: none,
      onTheWay: none,
      overdue: none,
      others: none,
    },
  }
}

const made = fc
  .tuple(
    fc.integer({ min: -5000, max: 5000 }),
    fc.array(
      fc.array(
        fc.integer({ min: -900, max: 900 }).filter(amount => amount !== 0),
        { minLength: 1, maxLength: 9 },
      ),
      { minLength: 2, maxLength: 5 },
    ),
  )
  .map(([opening, amounts]) => madeOf(opening, amounts))
const error = fc.integer({ min: -900, max: 900 }).filter(amount => amount !== 0)

describe('a bank account whose lines are all booked', () => {
  it('is closed, whatever the days', () =>
    fc.assert(
      fc.property(made, ({ statements, account }) => {
        expect(proveBank(statements, account)).toMatchObject({ state: 'closed', unexplained: 0, causes: [], gaps: [] })
      }),
    ))

  it('is closed with several statements of one day, and with one that was brought twice in another cut', () => {
    const { statements, account } = madeOf(100, [[5, 6], [7]])
    const [first, second] = statements as [ProvingStatement, ProvingStatement]
    const sameDay = [
      { ...first, to: first.from, closing: 105, sum: 5, lines: 1 },
      { ...first, to: first.from, opening: 105, closing: 111, sum: 6, lines: 1 },
      { ...second, from: first.from, to: first.from },
    ]
    const sums = account.lineSums.map(one => ({ ...one, date: first.from }))
    expect(proveBank(sameDay, { ...account, lineSums: sums })).toMatchObject({ state: 'closed' })
    const whole = { ...first, to: second.to, closing: second.closing, sum: 18, lines: 3 }
    expect(proveBank([...statements, whole], account)).toMatchObject({ state: 'closed' })
  })
})

describe('an error that is planted is never closed over', () => {
  const open = (of: Made) => proveBank(of.statements, of.account)?.state
  it('in the books, an entry more or less', () =>
    fc.assert(
      fc.property(made, error, ({ statements, account }, by) => {
        expect(open({ statements, account: { ...account, books: account.books + by } })).toBe('open')
      }),
    ))
  it('in a stored line, lost, doubled or changed', () =>
    fc.assert(
      fc.property(made, error, fc.nat(), ({ statements, account }, by, at) => {
        const lineSums = account.lineSums.map((one, no) =>
          no === at % account.lineSums.length ? { ...one, amount: one.amount + by } : one,
        )
        // Booked as it is stored.
        expect(open({ statements, account: { ...account, lineSums, books: account.books + by } })).not.toBe('closed')
      }),
    ))
  it('in a balance of a statement', () =>
    fc.assert(
      fc.property(
        made,
        error,
        fc.nat(),
        fc.constantFrom('opening' as const, 'closing' as const),
        ({ statements, account }, by, at, which) => {
          const wrong = statements.map((one, no) =>
            no === at % statements.length ? { ...one, [which]: one[which] + by } : one,
          )
          expect(open({ statements: wrong, account })).not.toBe('closed')
        },
      ),
    ))
  it('a statement that is missing', () =>
    fc.assert(
      fc.property(made, fc.nat(), ({ statements, account }, at) => {
        const gone = 1 + (at % (statements.length - 1))
        fc.pre(statements[gone]?.sum !== 0 && gone < statements.length - 1)
        const missing = statements[gone] as ProvingStatement
        const kept = account.lineSums.filter(one => one.date < missing.from || one.date > missing.to)
        const proof = proveBank(
          statements.filter(one => one !== missing),
          {
            ...account,
            lineSums: kept,
            books: account.books - missing.sum,
          },
        )
        expect(proof).toMatchObject({
          state: 'explained',
          unexplained: 0,
          gaps: [{ from: missing.from, to: missing.to, amount: missing.sum }],
        })
      }),
    ))
})

it('two statements of the same days that contradict each other are never closed', () => {
  const { statements, account } = madeOf(100, [[5, 6], [7]])
  const [first] = statements as [ProvingStatement]
  for (const other of [
    { ...first, closing: 200, sum: 100 },
    { ...first, opening: 90, sum: 21 },
  ])
    expect(proveBank([...statements, other], account)?.state).not.toBe('closed')
})

it('what is not booked, and what has not come, are told apart, and only the first is to be mended', () => {
  const { statements, account } = madeOf(0, [[50, -12]])
  const items = (amount: number) => ({ amount, count: 1, items: ['x'] })
  expect(proveBank(statements, { ...account, books: 50, unbooked: items(-12) })).toMatchObject({
    state: 'explained',
    causes: [{ cause: 'unbooked', amount: -12 }],
  })
  expect(proveBank(statements, { ...account, books: 138, onTheWay: items(100) })).toMatchObject({
    state: 'closed',
    causes: [{ cause: 'on_the_way', amount: -100 }],
  })
  expect(proveBank(statements, { ...account, books: 45, others: items(7) })).toMatchObject({
    state: 'explained',
    causes: [{ cause: 'others', amount: -7 }],
  })
})

it('without a statement there is nothing to prove it by', () =>
  expect(proveBank([], madeOf(0, [[1]]).account)).toBeNull())

describe('a statement that is missing and comes to nothing', () => {
  const three = madeOf(1000, [[500], [300, -300], [-200]])
  const without = { statements: three.statements.filter((_, at) => at !== 1), account: three.account }
  // Its lines are not there either: what is booked of them would be told as on its way.
  const account = {
    ...without.account,
    lineSums: without.account.lineSums.filter(({ date }) => date < day(7) || date > day(13)),
  }
  const proved = (statements: readonly ProvingStatement[]) => proveBank(statements, account)
  it('is named by the number that is left out', () => {
    const numbered = [
      ...without.statements,
      ...madeOf(1300, [[1], [2], [3]]).statements.map((one, at) => ({
        ...one,
        ...{ number: String(4 + at), from: day(21 + at * 7), to: day(27 + at * 7) },
        ...{ opening: 1300, closing: 1300, sum: 0, lines: 0 },
      })),
    ]
    expect(proved(numbered)).toMatchObject({
      state: 'explained',
      unexplained: 0,
      causes: [{ cause: 'gap', amount: 0, count: 1 }],
      gaps: [{ from: day(7), to: day(13), amount: 0 }],
    })
  })
  it('is named by more than a week that no statement tells, where they bear no numbers', () => {
    const bare = without.statements.map(one => ({ ...one, number: '' }))
    expect(proved(bare)?.state).toBe('closed')
    const later = bare.map((one, at) => (at === 1 ? { ...one, from: day(15), to: day(21) } : one))
    expect(proved(later)).toMatchObject({ state: 'explained', gaps: [{ from: day(7), to: day(14), amount: 0 }] })
  })
  it('is none where the numbers follow each other', () => {
    const quiet = without.statements.map((one, at) => ({
      ...one,
      number: `2026/${at + 1}`,
      from: at === 1 ? day(40) : one.from,
      to: at === 1 ? day(46) : one.to,
    }))
    expect(proved(quiet)?.state).toBe('closed')
  })
})

it('what should have come by now is to be looked at, and leads to the statement all the same', () => {
  const { statements, account } = madeOf(1000, [[500], [-200]])
  const late = { ...account, books: account.books + 400, overdue: { amount: 400, count: 1, items: ['payout'] } }
  expect(proveBank(statements, late)).toMatchObject({
    state: 'explained',
    unexplained: 0,
    causes: [{ cause: 'overdue', amount: -400 }],
  })
})
