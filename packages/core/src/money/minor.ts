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

/** A sum on its way, minor units, exact however large: a number as long as it can be one, beyond that a bigint. */
export type Wide = number | bigint

const asWide = (sum: bigint): Wide => (sum >= BigInt(-maxMinor) && sum <= BigInt(maxMinor) ? Number(sum) : sum)

/** Adds two amounts, of which either may be beyond ±9·10^15. */
export const addWide = (one: Wide, other: Wide): Wide => {
  if (typeof one === 'number' && typeof other === 'number') {
    const sum = one + other
    if (sum <= maxMinor && sum >= -maxMinor) return sum === 0 ? 0 : sum
  }
  return asWide(BigInt(one) + BigInt(other))
}
/** The same amount the other way. */
export const negateWide = (amount: Wide): Wide => (typeof amount === 'bigint' ? -amount : amount === 0 ? 0 : -amount)

/** Sum over rows of what `amountOf` reads from each. */
export const sumWide = <Row>(rows: Iterable<Row>, amountOf: (row: Row) => Wide): Wide => {
  let sum: Wide = 0
  for (const row of rows) sum = addWide(sum, amountOf(row))
  return sum
}
export const isMinor = (amount: Wide): amount is number => typeof amount === 'number'

/** The amount itself. @throws MinorOutOfRange beyond ±9·10^15. */
export const narrow = (amount: Wide): number => {
  if (isMinor(amount)) return checkMinor(amount)
  throw new MinorOutOfRange(`amount out of range: ${amount}`)
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
  narrow(scaleWide(minor, numerator, denominator))

/** The same of a sum on its way. */
export const scaleWide = (amount: Wide, numerator: bigint, denominator: bigint): Wide =>
  asWide(divideHalfAway(BigInt(amount) * numerator, denominator))
