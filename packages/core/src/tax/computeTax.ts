import type { Fraction } from '../money/fraction.ts'
import { narrow, scaleWide, type Wide } from '../money/minor.ts'

/** Tax contained in a price that includes it: gross × r / (100 + r), minor units, rounded half away from zero. */
export const taxWithin = (gross: number, percent: Fraction): number => narrow(wideTaxWithin(gross, percent))

/** Tax on top of a price: net × r / 100, minor units, rounded half away from zero. */
export const taxOnTop = (net: number, percent: Fraction): number => narrow(wideTaxOnTop(net, percent))

/** The same of sums on their way. */
export const wideTaxWithin = (gross: Wide, percent: Fraction): Wide =>
  scaleWide(gross, percent.numerator, 100n * percent.denominator + percent.numerator)
export const wideTaxOnTop = (net: Wide, percent: Fraction): Wide =>
  scaleWide(net, percent.numerator, 100n * percent.denominator)
