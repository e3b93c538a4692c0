import { addWide, checkMinor, negateWide, type Wide } from './minor.ts'

/**
 * Splits `total` (minor units) in proportion to `weights` (not negative) by largest remainder; ties go to the earlier
 * part, so the parts always add up to the whole. A negative total is split by its size. When all weights are zero the
 * first part takes all. @throws RangeError without parts.
 * @example splitMinor(100, [1n, 1n, 1n]) // [34, 33, 33]
 */
export const splitMinor = (total: number, weights: readonly bigint[]): number[] => {
  checkMinor(total)
  return splitWide(total, weights) as number[]
}

/** The same of a sum on its way. @throws RangeError without parts. */
export const splitWide = (total: Wide, weights: readonly bigint[]): Wide[] => {
  if (weights.length === 0) throw new RangeError('nothing to split over')
  const whole = weights.reduce((sum, weight) => sum + weight, 0n)
  if (whole === 0n) return weights.map((_, index) => (index === 0 ? total : 0))
  const size = BigInt(total)
  return splitSize(size < 0n ? -size : size, weights, whole).map(part => (total < 0 ? negateWide(part) : part))
}

const splitSize = (size: bigint, weights: readonly bigint[], whole: bigint): Wide[] => {
  const parts = weights.map((weight, index) => {
    const share = size * weight
    return { index, floor: share / whole, remainder: share % whole }
  })
  let rest = size - parts.reduce((sum, part) => sum + part.floor, 0n)
  const inOrder = [...parts].sort((left, right) =>
    left.remainder === right.remainder ? left.index - right.index : left.remainder < right.remainder ? 1 : -1,
  )
  for (const part of inOrder) {
    if (rest === 0n) break
    part.floor += 1n
    rest -= 1n
  }
  return parts.map(part => addWide(part.floor, 0))
}
