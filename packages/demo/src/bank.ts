import { addDays, formatAmount } from '@culvert/core'
import type { Payout, Row } from './openhall.ts'
import { seeded } from './random.ts'

/** Number of Kiln Lane's account at Skerrymoor Mutual, as the bank writes it. */
export const bankNumber = 'IE00SKMR00000044714471'

interface BankOptions {
  readonly seed: number
  /** Payouts of these weeks come in two parts. */
  readonly splitWeeks: readonly number[]
  /** Days from payout to deposit of these weeks; all others 1 or 2. */
  readonly lags: Readonly<Record<number, number>>
  /** Movements that are no payout are made from this date on. */
  readonly othersFrom: string
  readonly to: string
}

const others: readonly { text: string; amount: number; day: number }[] = [
  { text: 'RENT LOCK-UP', amount: -64_000, day: 1 },
  { text: 'CARD CLAY SUPPLY', amount: -21_240, day: 12 },
  { text: 'TRANSFER M. ROWANTREE', amount: 8_500, day: 18 },
]

/** The bank's side: a deposit for each payout, late or in parts as real ones are, and what else moves on the account. */
export const makeBank = (payouts: readonly Payout[], options: BankOptions): Row[] => {
  const random = seeded(options.seed)
  const rows: Omit<Row, 'line_id'>[] = []
  const add = (date: string, amount: number, description: string, reference = ''): void => {
    if (date <= options.to)
      rows.push({
        date,
        bank_account: bankNumber,
        amount: formatAmount(amount, 'EUR'),
        currency: 'EUR',
        description,
        reference,
      })
  }
  for (const payout of payouts) {
    const date = addDays(payout.date, options.lags[payout.week] ?? random.pick([1, 1, 1, 2]))
    const text = `OPENHALL SETTL ${payout.settlementId.slice(3)}`
    if (options.splitWeeks.includes(payout.week)) {
      const first = Math.round(payout.amount * 0.6)
      add(date, first, 'OPENHALL SETTL 1/2')
      add(addDays(date, 1), payout.amount - first, 'OPENHALL SETTL 2/2')
    } else add(date, payout.amount, options.lags[payout.week] === undefined ? text : 'OPENHALL SETTL')
  }
  for (
    let month = options.othersFrom.slice(0, 7);
    month <= options.to.slice(0, 7);
    month = addDays(`${month}-28`, 5).slice(0, 7)
  )
    for (const other of others) {
      const date = `${month}-${String(other.day).padStart(2, '0')}`
      if (date >= options.othersFrom) add(date, other.amount, other.text)
    }
  return rows
    .sort((left, right) =>
      (left.date as string) < (right.date as string) ? -1 : (left.date as string) > (right.date as string) ? 1 : 0,
    )
    .map((row, index) => ({ line_id: `SK${String(index + 1).padStart(5, '0')}`, ...row }))
}
