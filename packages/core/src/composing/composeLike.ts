import type { ActivityLine } from '../activity/activityLine.ts'
import { sumWide } from '../money/minor.ts'
import type { SupplyBook } from '../tax/supply.ts'
import { type Composed, composeSettlement } from './composeSettlement.ts'
import { weightedLine } from './lineKey.ts'
import type { Setup } from './setup.ts'
import { supplyParts } from './supplyParts.ts'

/** Where a decision is booked: against which account, on which local date, by how much (minor units, what it moves that account by). */
export interface BookedAgainst {
  readonly setup: Setup
  /** The supplies that the line may belong to. */
  readonly book: SupplyBook
  readonly account: string
  readonly date: string
  readonly amount: number
}

/**
 * Composes what a line would be booked as if it were one of another kind: with that kind's routes and tax, on the date of a decision, against
 * an account that takes what a settlement's clearing account would. @throws RangeError for a source that the setup does not know
 */
export const composeLike = (line: ActivityLine, kind: 'refund' | 'discount', on: BookedAgainst): Composed => {
  const { setup, date, amount } = on
  const { currency } = line
  const known = setup.sources.get(line.source)
  if (!known) throw new RangeError(`unknown source ${line.source}`)
  const options = { ...known.options, splitAtMonthEnd: false, taxTolerance: null }
  const source = { ...known, clearing: { [currency]: on.account }, options }
  const like: ActivityLine = { ...line, kind, amount, taxAmount: null, status: 'available' }
  const aside: Setup = { ...setup, sources: new Map([...setup.sources, [source.key, source]]) }
  const lines = supplyParts({ ...like, localDate: date }, weightedLine(like, date), {
    book: on.book,
    setup: aside,
    source,
    undoesOrder: kind === 'refund',
  })
  return composeSettlement(
    {
      ...{ source: source.key, currency, day: date, settlementId: null, head: null, payouts: [], lastDate: date },
      lines,
      sumOfLines: sumWide(lines, part => part.amount),
    },
    aside,
  )
}
