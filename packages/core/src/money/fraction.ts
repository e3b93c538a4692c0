/** An exact fraction, for rates: percent or exchange. `denominator` is above zero. */
export interface Fraction {
  readonly numerator: bigint
  readonly denominator: bigint
}

export const zero: Fraction = { numerator: 0n, denominator: 1n }

/** Reads a decimal such as "13.5" or "0.7312" without loss. @throws RangeError for anything else. */
export const parseFraction = (text: string): Fraction => {
  const match = /^(-?\d+)(?:\.(\d+))?$/.exec(text)
  if (!match) throw new RangeError(`not a decimal: ${text}`)
  const [, whole = '', digits = ''] = match
  return { numerator: BigInt(whole + digits), denominator: 10n ** BigInt(digits.length) }
}

export const addFractions = (one: Fraction, other: Fraction): Fraction => ({
  numerator: one.numerator * other.denominator + other.numerator * one.denominator,
  denominator: one.denominator * other.denominator,
})

export const multiplyFractions = (one: Fraction, other: Fraction): Fraction => ({
  numerator: one.numerator * other.numerator,
  denominator: one.denominator * other.denominator,
})
