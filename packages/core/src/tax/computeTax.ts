import type { Fraction } from '../money/fraction.ts'
import { scaleMinor } from '../money/minor.ts'

/** Tax contained in a price that includes it: gross × r / (100 + r), minor units, rounded half away from zero. */
export const taxWithin = (gross: number, percent: Fraction): number =>
  scaleMinor(gross, percent.numerator, 100n * percent.denominator + percent.numerator)

/** Tax on top of a price: net × r / 100, minor units, rounded half away from zero. */
export const taxOnTop = (net: number, percent: Fraction): number =>
  scaleMinor(net, percent.numerator, 100n * percent.denominator)
