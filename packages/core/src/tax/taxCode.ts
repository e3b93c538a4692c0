import { addFractions, type Fraction, multiplyFractions, parseFraction, zero } from '../money/fraction.ts'

export type TaxBasis = 'inclusive' | 'exclusive' | 'none'

/** What the law makes of what a code is used for; `withheld`: the marketplace collects and pays the tax over itself. */
export const treatments = ['taxed', 'zero', 'exempt', 'outside', 'withheld'] as const
export type Treatment = (typeof treatments)[number]

export interface TaxRate {
  /** First local date of this version. */
  readonly from: string
  readonly percent: string
}
export interface TaxComponent {
  readonly name: string
  readonly account: string
  /** Takes the input side of reverse charge. */
  readonly inputAccount: string | null
  /** Taken on the price and all components before it. */
  readonly compound: boolean
  readonly rates: readonly TaxRate[]
}
export interface TaxCode {
  readonly code: string
  readonly name: string
  readonly treatment: Treatment
  readonly basis: TaxBasis
  readonly use: 'sales' | 'purchases'
  readonly reverseCharge: boolean
  readonly components: readonly TaxComponent[]
  /** Country whose tax it is; null or absent: not said. */
  readonly country?: string | null
  /** Of purchases and reverse charge: how much of the tax is taken back, percent in versions; absent, or before the first: all of it. */
  readonly recovery?: readonly TaxRate[]
}

/** A code's rates in force on a date: effective percent per component and their sum. */
export interface RatesInForce {
  /** Names the set by its percents: lines with equal keys were taxed alike, whatever versions their rates are of. */
  readonly key: string
  /** The same without what is recoverable: tax itself is not split by that. */
  readonly percents: string
  /** First dates of the versions, by component. */
  readonly version: string
  readonly effective: readonly Fraction[]
  readonly total: Fraction
  /** Percent of the tax that is taken back; the rest is cost. */
  readonly recovery: Fraction
}

const rateOnDate = (rates: readonly TaxRate[], date: string): TaxRate | null => {
  let latest: TaxRate | null = null
  for (const rate of rates) if (rate.from <= date && (!latest || rate.from > latest.from)) latest = rate
  return latest
}

/**
 * The rates of `code` on a local date. A component without a version yet counts 0; null when no component has one
 * (the code is missing on that date). A code without components bears no tax.
 */
export const ratesInForce = (code: TaxCode, date: string): RatesInForce | null => {
  const versions = code.components.map(component => rateOnDate(component.rates, date))
  if (code.components.length > 0 && versions.every(version => version === null)) return null
  let total = zero
  const effective = code.components.map((component, index) => {
    const percent = versions[index]?.percent
    let rate = percent === undefined ? zero : parseFraction(percent)
    if (component.compound)
      rate = multiplyFractions(
        rate,
        addFractions(
          { numerator: 1n, denominator: 1n },
          {
            numerator: total.numerator,
            denominator: total.denominator * 100n,
          },
        ),
      )
    total = addFractions(total, rate)
    return rate
  })
  const recovery = recoveryOn(code, date)
  const percents = effective.map(plainText).join(' ')
  return {
    key: isWhole(recovery) ? percents : `${percents} of ${plainText(recovery)}`,
    percents,
    version: versions.map(version => version?.from ?? '').join(' '),
    effective,
    total,
    recovery,
  }
}

const whole: Fraction = { numerator: 100n, denominator: 1n }

/** Whether a recovery takes all of a tax back. */
export const isWhole = ({ numerator, denominator }: Fraction): boolean => numerator === 100n * denominator

/** Percent of a code's tax that is taken back on a date. */
const recoveryOn = (code: TaxCode, date: string): Fraction => {
  if (code.use !== 'purchases' && !code.reverseCharge) return whole
  const percent = rateOnDate(code.recovery ?? [], date)?.percent
  return percent === undefined ? whole : parseFraction(percent)
}

// Denominators are powers of ten: 23.0 and 23 are one rate.
const plainText = ({ numerator, denominator }: Fraction): string => {
  let [top, under] = [numerator, denominator]
  while (under > 1n && top % 10n === 0n) [top, under] = [top / 10n, under / 10n]
  return `${top}/${under}`
}

/** Weights that split a tax over the components: effective rates over one denominator. */
export const componentWeights = ({ effective }: RatesInForce): bigint[] => {
  const common = effective.reduce((product, rate) => product * rate.denominator, 1n)
  return effective.map(rate => (rate.numerator * common) / rate.denominator)
}
