/** Largest amount, either sign, in minor units: below 2^53, so that it stays exact in a number. */
export const maxMinor = 9_000_000_000_000_000

/** An amount, or a sum on its way, that leaves ±9·10^15 minor units: beyond it numbers are no longer exact. */
export class MinorOutOfRange extends RangeError {
  override readonly name = 'MinorOutOfRange'
}

/** Returns `minor` if it is a whole number within ±9·10^15. @throws MinorOutOfRange otherwise. */
export const checkMinor = (minor: number): number => {
  if (!Number.isInteger(minor) || Math.abs(minor) > maxMinor) throw new MinorOutOfRange(`amount out of range: ${minor}`)
  return minor === 0 ? 0 : minor
}

/** Adds amounts of one currency, minor units. @throws RangeError when the sum, or a step to it, leaves ±9·10^15. */
export const addMinor = (...amounts: readonly number[]): number =>
  amounts.reduce((sum, amount) => checkMinor(sum + amount), 0)

/** The same amount the other way; zero stays zero, never minus zero. @throws RangeError beyond ±9·10^15. */
export const negateMinor = (minor: number): number => checkMinor(-minor)

/** Sum over rows of what `amountOf` reads from each, minor units. @throws RangeError beyond ±9·10^15. */
export const sumMinor = <Row>(rows: Iterable<Row>, amountOf: (row: Row) => number): number => {
  let sum = 0
  for (const row of rows) sum = checkMinor(sum + amountOf(row))
  return sum
}

/** numerator ÷ denominator, rounded half away from zero. @throws RangeError if `denominator` is 0. */
export const divideHalfAway = (numerator: bigint, denominator: bigint): bigint => {
  if (denominator === 0n) throw new RangeError('division by zero')
  const negative = numerator < 0n !== denominator < 0n
  const size = numerator < 0n ? -numerator : numerator
  const by = denominator < 0n ? -denominator : denominator
  const rounded = (2n * size + by) / (2n * by)
  return negative ? -rounded : rounded
}

/** minor × numerator ÷ denominator in minor units, rounded once, half away from zero. @throws RangeError out of range. */
export const scaleMinor = (minor: number, numerator: bigint, denominator: bigint): number =>
  checkMinor(Number(divideHalfAway(BigInt(minor) * numerator, denominator)))
