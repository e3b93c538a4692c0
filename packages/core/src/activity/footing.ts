import { addMinor } from '../money/minor.ts'

/**
 * Closing − opening − the sum of all lines, minor units; zero when the settlement foots, null where the source does not
 * state both balances.
 */
export const footingDifference = (
  head: { openingBalance: number | null; closingBalance: number | null } | null,
  sumOfLines: number,
): number | null =>
  head === null || head.openingBalance === null || head.closingBalance === null
    ? null
    : addMinor(head.closingBalance, -head.openingBalance, -sumOfLines)
