import { addFractions, type Fraction, parseFraction, zero } from './fraction.ts'

const shape = /^-?\d+(?:[.,]\d+)?$/

/** Reads a quantity ("2", "0.75", "1,5") exactly; null for anything else. */
export const parseQuantity = (text: string): Fraction | null =>
  shape.test(text) ? parseFraction(text.replace(',', '.')) : null

/** Adds quantities exactly. */
export const sumQuantities = (quantities: Iterable<Fraction>): Fraction => {
  let sum = zero
  for (const quantity of quantities) sum = addFractions(sum, quantity)
  return sum
}
