import type { BankLine } from './bankRow.ts'

/** What a bank statement says of itself, beside its lines. Minor units, plus is money that the client has. */
export interface StatementHead {
  /** As the statement names it: the bank's own number, or an account code. */
  readonly bankAccount: string
  /** The bank's number of the statement; empty where it gives none. */
  readonly number: string
  readonly currency: string
  /** Local dates, both within it. */
  readonly from: string
  readonly to: string
  /** Null where it is not stated. */
  readonly opening: number | null
  readonly closing: number | null
  readonly lines: number
  /** Of its own lines. */
  readonly sum: number
}

/** Adds up the lines of a statement as they are read. */
export class StatementSum {
  lines = 0
  sum = 0
  first = ''
  last = ''
  /** This and the sum of what follows it, together. */
  and(next: StatementSum): StatementSum {
    const both = new StatementSum()
    both.lines = this.lines + next.lines
    both.sum = this.sum + next.sum
    both.first = [this.first, next.first].filter(Boolean).sort()[0] ?? ''
    both.last = this.last > next.last ? this.last : next.last
    return both
  }
  add(line: BankLine): void {
    this.lines++
    this.sum += line.amount
    if (this.first === '' || line.date < this.first) this.first = line.date
    if (line.date > this.last) this.last = line.date
  }
}

/** What the lines of a statement leave between its two balances: zero where it foots, null where it states none or one. */
export const statementDifference = ({
  opening,
  closing,
  sum,
}: Pick<StatementHead, 'opening' | 'closing' | 'sum'>): number | null =>
  opening === null || closing === null ? null : closing - opening - sum

/** Characters of a line's text that its id may be made of. */
const mostIdText = 600

/**
 * The id of a bank line: the bank's own reference, or, where it gives none, the day, amount and text. Alike ones are told apart by their place among them, and so are
 * lines that share a reference, as the parts of a batch do.
 */
export const bankLineId = (
  reference: string,
  { date, amount, description }: Pick<BankLine, 'date' | 'amount' | 'description'>,
  ids: Map<string, number>,
): string => {
  const key = reference === '' ? `${date} ${amount} ${description.slice(0, mostIdText)}` : reference
  const count = (ids.get(key) ?? 0) + 1
  ids.set(key, count)
  return reference !== '' && count === 1 ? reference : `${key} ${count}`
}
