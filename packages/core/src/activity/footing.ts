import { addWide, negateWide, type Wide } from '../money/minor.ts'

/**
 * Closing − opening − the sum of all lines, minor units; zero when the settlement foots, null where the source does not
 * state both balances.
 */
export const footingDifference = (
  head: { openingBalance: number | null; closingBalance: number | null } | null,
  sumOfLines: Wide,
): Wide | null =>
  head === null || head.openingBalance === null || head.closingBalance === null
    ? null
    : addWide(addWide(head.closingBalance, negateWide(head.openingBalance)), negateWide(sumOfLines))
