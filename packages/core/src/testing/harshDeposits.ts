import { addDays, daysBetween } from '../activity/localDate.ts'
import type { OpenBankLine, OpenTransfer } from '../pairing/pairingItems.ts'
import { type DepositTruth, groupName } from './depositTruth.ts'
import { seededRandom } from './seededRandom.ts'

/** Keys that are part of other keys, as names of firms are. */
const sources = ['open', 'openhall', 'open hall', 'hall', 'brook', 'brookpay', 'brook pay', 'stall row'] as const
const strangers = ['TRANSFER M. ROWANTREE', 'RENT LOCK-UP', 'CARD CLAY SUPPLY', 'OPENING HALLWAY', 'BROOKSIDE PAYMENTS']

export interface HarshTruth extends DepositTruth {
  /** Deposits that a bank cut by more than the fee limit: what is certain of them is counted apart. */
  readonly farNetted: ReadonlySet<string>
}
export interface Harshness {
  readonly payouts: number
  readonly days: number
  /** Share of the deposits that bear their payout's reference, 0 to 1. */
  readonly referenced: number
  /** The most, in minor units, that a bank keeps of a deposit that it nets within the limit. */
  readonly bankFeeUpTo: number
  readonly seed: number
  /** Share of the deposits whose reference is cut off or mistyped to that of another payout of the same amount, where there is one; 0 to 1. Absent: none. */
  readonly misreferenced?: number
}

/**
 * Months as unkind as they come: payers whose keys are part of others', 35 in 100 amounts of ten values, deposits 0 to 14 days late, lost, split (in
 * parts that need not say so), joined with payouts before and after, netted by a fee within the limit or beyond it, chargebacks as debits, and strangers who pay the same
 * amount. Nothing arrives before it is paid, and no reference is false but for those misreferenced: each arrival is otherwise free.
 */
export const makeHarshDeposits = (harshness: Harshness): HarshTruth => {
  const { payouts, days, referenced, bankFeeUpTo, seed, misreferenced = 0 } = harshness
  const random = seededRandom(seed)
  const below = (limit: number): number => Math.floor(random() * limit)
  const oneOf = <Item>(items: readonly Item[]): Item => items[below(items.length)] as Item
  const transfers: OpenTransfer[] = []
  const bankLines: OpenBankLine[] = []
  const groups = new Set<string>()
  const farNetted = new Set<string>()
  const amount = (): number => (random() < 0.35 ? 10_000 * (1 + below(10)) : 1000 + below(400_000))
  const pay = (source: string, date: string, size: number): OpenTransfer => {
    const number = transfers.length
    const transfer: OpenTransfer = {
      id: `t${String(number).padStart(6, '0')}`,
      source,
      bankAccount: '1000',
      currency: 'EUR',
      date,
      amount: size,
      reference: random() < 0.95 ? `${source.slice(0, 2).toUpperCase()}P-${100_000 + number}` : null,
    }
    transfers.push(transfer)
    return transfer
  }
  const deposit = (date: string, size: number, description: string, reference = ''): OpenBankLine => {
    const id = `d${String(bankLines.length).padStart(6, '0')}`
    const line = { id, bankAccount: '1000', currency: 'EUR', date, amount: size, description, reference }
    bankLines.push(line)
    return line
  }
  const wording = (source: string): string =>
    oneOf([
      `${source.toUpperCase()} SETTL ${below(10_000)}`,
      `${source} payout`,
      `SEPA CT ${source.toUpperCase()}`,
      'CREDIT',
    ])
  const referenceOf = (paid: readonly OpenTransfer[]): string =>
    random() < referenced ? paid.map(one => one.reference ?? '').join(' ') : ''
  const lag = (): number => (random() < 0.7 ? below(4) : below(15))

  while (transfers.length < payouts) {
    const source = oneOf(sources)
    const date = addDays('2022-01-03', below(days))
    const chance = random()
    if (chance < 0.06) {
      const paid = Array.from({ length: 2 + below(3) }, (_, index) => pay(source, addDays(date, index), amount()))
      const sum = paid.reduce((whole, one) => whole + one.amount, 0)
      const line = deposit(addDays(paid.at(-1)?.date as string, lag()), sum, wording(source), referenceOf(paid))
      groups.add(groupName([line], paid))
      continue
    }
    if (chance < 0.09) {
      const drawn = pay(source, date, -amount())
      const line = deposit(addDays(date, lag()), drawn.amount, wording(source), referenceOf([drawn]))
      groups.add(groupName([line], [drawn]))
      continue
    }
    const paid = pay(source, date, amount())
    const arrived = addDays(date, lag())
    if (chance < 0.14) {
      const first = random() < 0.5 ? Math.floor(paid.amount / 2) : 1 + below(paid.amount - 1)
      const text = wording(source)
      const parts = [first, paid.amount - first].map(size => deposit(arrived, size, text, referenceOf([paid])))
      groups.add(groupName(parts, [paid]))
    } else if (chance < 0.17) {
      // Lost: it never arrives.
    } else if (chance < 0.21) {
      const line = deposit(arrived, paid.amount - 1 - below(bankFeeUpTo), wording(source), referenceOf([paid]))
      groups.add(groupName([line], [paid]))
    } else if (chance < 0.22) {
      const kept = Math.min(paid.amount - 1, bankFeeUpTo + 1 + below(3000))
      const line = deposit(arrived, paid.amount - kept, wording(source), referenceOf([paid]))
      groups.add(groupName([line], [paid]))
      for (const { id } of [line, paid]) farNetted.add(id)
    } else groups.add(groupName([deposit(arrived, paid.amount, wording(source), referenceOf([paid]))], [paid]))
    if (random() < 0.04) deposit(addDays(date, below(10)), paid.amount, oneOf(strangers))
  }
  const lines = bankLines.map(line => (random() < misreferenced ? misreference(line, transfers) : line))
  return { transfers, bankLines: lines, groups, farNetted }
}

/** The line with the reference of another payout of the same source and amount, dated 1 to 26 days apart from its own; itself where there is none. */
const misreference = (line: OpenBankLine, transfers: readonly OpenTransfer[]): OpenBankLine => {
  const own = transfers.find(one => one.reference !== null && one.reference === line.reference)
  const other =
    own &&
    transfers.find(one => {
      const days = Math.abs(daysBetween(own.date, one.date))
      return one.source === own.source && one.amount === own.amount && one !== own && days >= 1 && days <= 26
    })
  return other?.reference ? { ...line, reference: other.reference } : line
}
