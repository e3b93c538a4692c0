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
}

/** A code's rates in force on a date: effective percent per component and their sum. */
export interface RatesInForce {
  /** Names the set by its percents: lines with equal keys were taxed alike, whatever versions their rates are of. */
  readonly key: string
  /** First dates of the versions, by component. */
  readonly version: string
  readonly effective: readonly Fraction[]
  readonly total: Fraction
}

const rateOnDate = (component: TaxComponent, date: string): TaxRate | null => {
  let latest: TaxRate | null = null
  for (const rate of component.rates) if (rate.from <= date && (!latest || rate.from > latest.from)) latest = rate
  return latest
}

/**
 * The rates of `code` on a local date. A component without a version yet counts 0; null when no component has one
 * (the code is missing on that date). A code without components bears no tax.
 */
export const ratesInForce = (code: TaxCode, date: string): RatesInForce | null => {
  const versions = code.components.map(component => rateOnDate(component, date))
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
  return {
    key: effective.map(plainText).join(' '),
    version: versions.map(version => version?.from ?? '').join(' '),
    effective,
    total,
  }
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
