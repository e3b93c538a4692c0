/** A statement with both its balances. Minor units, plus is money that the client has; local dates, both within it. */
export interface ProvingStatement {
  readonly number: string
  readonly format: string
  readonly from: string
  readonly to: string
  readonly opening: number
  readonly closing: number
  readonly lines: number
  /** Of its own lines, as it was read. */
  readonly sum: number
}

/** Things of one cause: what they come to, how many they are, and the first of them. */
export interface ProofItems<Item> {
  readonly amount: number
  readonly count: number
  readonly items: readonly Item[]
}

/** All of one bank account up to the day on which its last statement ends. */
export interface BankBooks<Item> {
  /** Balance of the account in the books. */
  readonly books: number
  /** What its opening entries say. */
  readonly openingEntries: number
  /** Sums of the stored lines by local date. */
  readonly lineSums: readonly { readonly date: string; readonly amount: number }[]
  /** Lines that nothing is booked for; plus is money in. */
  readonly unbooked: ProofItems<Item>
  /** What is booked and has not come, or not all of it: plus is money that the books have and the statement has not. */
  readonly onTheWay: ProofItems<Item>
  /** The same of what should have come by now. */
  readonly overdue: ProofItems<Item>
  /** Entries that stand on the account and are no transfer, bank line or opening. */
  readonly others: ProofItems<Item>
}

export type BankCause = 'opening' | 'unbooked' | 'on_the_way' | 'overdue' | 'others' | 'gap'

/** Where the balances of two statements do not meet. */
export interface StatementGap {
  /** The one after it. */
  readonly statement: ProvingStatement
  readonly from: string
  readonly to: string
  /** What moved there by the balances, and no statement tells. */
  readonly amount: number
}

export interface BankProof<Item> {
  readonly date: string
  readonly books: number
  readonly causes: readonly ({ readonly cause: BankCause } & ProofItems<Item>)[]
  readonly gaps: readonly StatementGap[]
  /** Statements whose lines do not lead from one balance to the other, and those that contradict the others. */
  readonly notFooting: readonly ProvingStatement[]
  readonly unexplained: number
  readonly statement: number
  /** `closed`: nothing is to be mended; `explained`: named causes lead to the statement, and some are to be mended; `open`: something is unexplained. */
  readonly state: 'closed' | 'explained' | 'open'
}

const inOrder = (left: ProvingStatement, right: ProvingStatement): number =>
  left.from < right.from ? -1 : left.from > right.from ? 1 : left.to < right.to ? -1 : left.to > right.to ? 1 : 0

/**
 * Statements one after the other, each next being one that begins where the one before ends, if there is one: of one day there may be several. One that lies within the
 * one before tells nothing new.
 */
export const chainStatements = (statements: readonly ProvingStatement[]): readonly ProvingStatement[] => {
  const left = [...statements].sort(inOrder)
  const chain: ProvingStatement[] = []
  while (left.length > 0) {
    const last = chain.at(-1)
    const following = last
      ? left.findIndex(one => one.opening === last.closing && one.to >= last.to && one.from <= nextDay(last.to))
      : 0
    const [next] = left.splice(Math.max(0, following), 1)
    if (!next) break
    const within = last !== undefined && following < 0 && next.to <= last.to
    if (!within) chain.push(next)
  }
  return chain
}

const dayMs = 86_400_000
const nextDay = (date: string): string => new Date(Date.parse(date) + dayMs).toISOString().slice(0, 10)
const dayBefore = (date: string): string => new Date(Date.parse(date) - dayMs).toISOString().slice(0, 10)

/**
 * Holds a bank account against its statements: books + causes = what the last statement says. Null without a statement that says both balances. What came before the
 * first statement is in its opening balance, and is held against it.
 */
export const proveBank = <Item>(
  statements: readonly ProvingStatement[],
  account: BankBooks<Item>,
): BankProof<Item> | null => {
  const chain = chainStatements(statements)
  const [first] = chain
  const last = chain.at(-1)
  if (!first || !last) return null
  const between = (from: string, to: string): number =>
    account.lineSums.reduce((sum, { date, amount }) => (date >= from && date <= to ? sum + amount : sum), 0)
  const counted = countsByOnes(chain)
  const gaps = chain.slice(1).flatMap((statement, at) => {
    const before = chain[at] as ProvingStatement
    const found = gapBefore(before, statement, between)
    return found.length > 0 || !isLeftOut(before, statement, counted) ? found : [emptyGap(before, statement)]
  })
  const opening = first.opening - account.openingEntries - between('0000-00-00', dayBefore(first.from))
  const gapSum = gaps.reduce((sum, gap) => sum + gap.amount, 0)
  const alone = (amount: number, count: number) => ({ amount, count, items: [] })
  const causes = [
    { cause: 'opening' as const, ...alone(opening, opening === 0 ? 0 : 1) },
    { cause: 'unbooked' as const, ...account.unbooked },
    { cause: 'on_the_way' as const, ...account.onTheWay, amount: 0 - account.onTheWay.amount },
    { cause: 'overdue' as const, ...account.overdue, amount: 0 - account.overdue.amount },
    { cause: 'others' as const, ...account.others, amount: 0 - account.others.amount },
    { cause: 'gap' as const, ...alone(gapSum, gaps.length) },
  ].filter(one => one.count > 0)
  const explained = causes.reduce((sum, one) => sum + one.amount, account.books)
  const unexplained = last.closing - explained
  const balanceAfter = (day: string): number =>
    gaps.reduce((sum, gap) => (gap.to <= day ? sum + gap.amount : sum), first.opening + between(first.from, day))
  // One that tells days again tells the same balances, or one of the two is wrong.
  const contradicting = statements.filter(
    one =>
      !chain.includes(one) &&
      (balanceAfter(dayBefore(one.from)) !== one.opening || balanceAfter(one.to) !== one.closing),
  )
  const notFooting = [...chain.filter(one => one.opening + one.sum !== one.closing), ...contradicting]
  const toMend = causes.some(one => one.cause !== 'on_the_way') || notFooting.length > 0
  return {
    date: last.to,
    books: account.books,
    causes,
    gaps,
    notFooting,
    unexplained,
    statement: last.closing,
    state: unexplained !== 0 ? 'open' : toMend ? 'explained' : 'closed',
  }
}

/** The number of a statement, of those that number them; a year before it (2026/12) does not count. */
const numberOf = ({ number }: ProvingStatement): number | null => {
  const digits = /(\d{1,9})$/.exec(number.trim())?.[1]
  return digits === undefined ? null : Number(digits)
}

/** Whether the bank numbers its statements by ones: most numbers follow the one before. */
const countsByOnes = (chain: readonly ProvingStatement[]): boolean => {
  const steps = chain.slice(1).map((one, at) => (numberOf(one) ?? 0) - (numberOf(chain[at] as ProvingStatement) ?? 0))
  return steps.length > 0 && 2 * steps.filter(step => step === 1).length >= steps.length
}

/** Days that no statement tells, beyond which one is missing where no numbers say otherwise: over a week no bank is shut. */
const mostQuietDays = 7

// What a statement that is missing holds may come to nothing: then the balances meet all the same.
const isLeftOut = (before: ProvingStatement, next: ProvingStatement, counted: boolean): boolean => {
  const [from, to] = [numberOf(before), numberOf(next)]
  if (from !== null && to !== null && to === from + 1) return false
  if (counted && from !== null && to !== null && to > from + 1) return true
  const quiet = (Date.parse(next.from) - Date.parse(before.to)) / dayMs - 1
  return quiet > mostQuietDays
}

const emptyGap = (before: ProvingStatement, statement: ProvingStatement): StatementGap => {
  const [from, to] = [nextDay(before.to), dayBefore(statement.from)]
  return { statement, from: from <= to ? from : statement.from, to: from <= to ? to : before.to, amount: 0 }
}

const gapBefore = (
  before: ProvingStatement,
  statement: ProvingStatement,
  between: (from: string, to: string) => number,
): readonly StatementGap[] => {
  if (statement.opening === before.closing) return []
  const [from, to] = [nextDay(before.to), dayBefore(statement.from)]
  // Lines that are there for the days between are no gap; of days that both tell, the second tells them again.
  const told = from <= to ? between(from, to) : 0 - between(statement.from, before.to)
  const amount = statement.opening - before.closing - told
  return amount === 0
    ? []
    : [{ statement, from: from <= to ? from : statement.from, to: from <= to ? to : before.to, amount }]
}
