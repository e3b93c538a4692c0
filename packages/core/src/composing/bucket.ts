import type { WeightedLine } from '../activity/activityLine.ts'
import { addWide, negateWide, scaleWide, sumWide, type Wide } from '../money/minor.ts'
import { splitWide } from '../money/splitMinor.ts'
import { wideTaxOnTop, wideTaxWithin } from '../tax/computeTax.ts'
import { componentWeights, isWhole, type RatesInForce, type TaxCode } from '../tax/taxCode.ts'
import type { Resolved } from './resolveLine.ts'

/** Sums of a bucket's lines that had the same tax rates in force. Minor units. */
interface RateSums {
  readonly rates: RatesInForce | null
  /** Lines that are all tax, without and with those withheld by the marketplace. */
  allTax: Wide
  withheld: Wide
  /** Amount of lines whose tax is computed, and, rounded line by line, that tax. */
  toCompute: Wide
  computedPerLine: Wide
  /** Amount of lines that state their tax, and that tax. */
  stating: Wide
  stated: Wide
  /** Amount of lines that bear no tax of their own: no code, basis none or exclusive, reverse charge. */
  plain: Wide
  reversePerLine: Wide
  /** Lines whose tax was rounded on its own: stated, or a line of tax. */
  roundedAlone: number
  /** Lines whose tax is computed. */
  computedLines: number
}

/** Lines of one entry alike in account, tax code and segments, added up. */
export interface Bucket {
  readonly key: string
  /** Null where all lines are tax. */
  readonly account: string | null
  readonly taxCode: TaxCode | null
  readonly segments: string
  readonly byRates: Map<string, RateSums>
  readonly routes: Set<number>
}

/** Names the bucket of a resolved line within its entry. */
export const bucketKey = (resolved: Resolved): string =>
  JSON.stringify([resolved.account, resolved.taxCode?.code ?? '', resolved.segments])

/** What a bucket's name says: account null where all its lines are tax, tax code empty where it bears none. */
export const bucketOf = (key: string): { account: string | null; taxCode: string; segments: string } => {
  const [account, taxCode, segments] = JSON.parse(key) as [string | null, string, string]
  return { account, taxCode, segments }
}

export const emptyBucket = (resolved: Resolved): Bucket => ({
  key: bucketKey(resolved),
  account: resolved.account,
  taxCode: resolved.taxCode,
  segments: resolved.segments,
  byRates: new Map(),
  routes: new Set(),
})

const emptySums = (rates: RatesInForce | null): RateSums => ({
  rates,
  allTax: 0,
  withheld: 0,
  toCompute: 0,
  computedPerLine: 0,
  stating: 0,
  stated: 0,
  plain: 0,
  reversePerLine: 0,
  roundedAlone: 0,
  computedLines: 0,
})

/** Adds a line to its bucket: which of the five ways its tax is found is decided here, once. */
export const addToBucket = (bucket: Bucket, line: WeightedLine, resolved: Resolved): void => {
  const key = (resolved.allTax ? resolved.rates?.percents : resolved.rates?.key) ?? ''
  const sums = bucket.byRates.get(key) ?? emptySums(resolved.rates)
  bucket.byRates.set(key, sums)
  if (resolved.route) bucket.routes.add(resolved.route.id)
  const { taxCode, rates } = resolved
  if (resolved.allTax) {
    sums.allTax = addWide(sums.allTax, line.amount)
    sums.roundedAlone += line.count
    if (line.kind === 'tax_withheld') sums.withheld = addWide(sums.withheld, line.amount)
  } else if (!taxCode || !rates || taxCode.components.length === 0) {
    sums.plain = addWide(sums.plain, line.amount)
  } else if (taxCode.reverseCharge) {
    sums.plain = addWide(sums.plain, line.amount)
    sums.reversePerLine = addWide(
      sums.reversePerLine,
      perLine(line, amount => wideTaxOnTop(amount, rates.total)),
    )
  } else if (taxCode.basis === 'none') {
    sums.plain = addWide(sums.plain, line.amount)
  } else if (line.taxAmount !== null) {
    sums.stating = addWide(sums.stating, line.amount)
    sums.stated = addWide(sums.stated, line.taxAmount)
    sums.roundedAlone += line.count
  } else if (taxCode.basis === 'inclusive') {
    sums.toCompute = addWide(sums.toCompute, line.amount)
    sums.computedLines += line.count
    sums.computedPerLine = addWide(
      sums.computedPerLine,
      perLine(line, amount => wideTaxWithin(amount, rates.total)),
    )
  } else {
    sums.plain = addWide(sums.plain, line.amount)
  }
}

// Only asked for with tax rounded per line, where a weighted line holds lines of one amount; elsewhere it goes unused.
const perLine = (line: WeightedLine, tax: (amount: number) => Wide): Wide => {
  const each = line.amount / line.count
  if (!Number.isInteger(each)) return 0
  const own = tax(each)
  return line.count === 1 ? own : addWide(BigInt(own) * BigInt(line.count), 0)
}

/** What a bucket comes to. Minor units, plus is a credit. */
export interface BucketSums {
  /** N: to the bucket's account. */
  readonly net: Wide
  /** Tax per component account: plus to its liability account. */
  readonly taxes: readonly { readonly account: string; readonly amount: Wide }[]
  /** Reverse charge: `amount` is credited to `account`, what of it is taken back debited to `inputAccount` (negative: the other way round). */
  readonly reverse: readonly {
    readonly account: string
    readonly inputAccount: string
    readonly amount: Wide
    readonly input: Wide
  }[]
}

export const closeBucket = (bucket: Bucket, rounding: 'bucket' | 'line'): BucketSums => {
  const taxes: { account: string; amount: Wide }[] = []
  const reverse: BucketSums['reverse'][number][] = []
  let net: Wide = 0
  for (const sums of bucket.byRates.values()) {
    const tax = taxOf(sums, rounding)
    const taken = addWide(sums.allTax, recovered(addWide(tax, negateWide(sums.allTax)), sums.rates))
    net = addWide(net, netOf(sums, taken))
    if (bucket.taxCode && sums.rates) {
      taxes.push(...splitOver(bucket.taxCode, sums.rates, taken))
      if (bucket.taxCode.reverseCharge && bucket.account) {
        const charged = reverseOf(bucket.taxCode, { sums, rates: sums.rates, rounding })
        reverse.push(...charged.parts)
        net = addWide(net, negateWide(charged.cost))
      }
    }
  }
  return { net, taxes, reverse }
}

/** The share of a tax that is taken back, rounded; all of it where nothing else is said. */
const recovered = (tax: Wide, rates: RatesInForce | null): Wide => {
  if (!rates || isWhole(rates.recovery)) return tax
  return scaleWide(tax, rates.recovery.numerator, 100n * rates.recovery.denominator)
}

const netOf = (sums: RateSums, tax: Wide): Wide =>
  sumWide([sums.toCompute, sums.stating, sums.plain, sums.allTax, negateWide(tax)], amount => amount)

const taxOf = (sums: RateSums, rounding: 'bucket' | 'line'): Wide => {
  const computed =
    rounding === 'line' || sums.rates === null ? sums.computedPerLine : wideTaxWithin(sums.toCompute, sums.rates.total)
  return addWide(addWide(sums.allTax, sums.stated), computed)
}

const splitOver = (code: TaxCode, rates: RatesInForce, tax: Wide): { account: string; amount: Wide }[] => {
  if (tax === 0 || code.components.length === 0) return []
  const parts = splitWide(tax, componentWeights(rates))
  return code.components.map((component, index) => ({ account: component.account, amount: parts[index] as Wide }))
}

// N stays the whole amount, and what of the tax is not taken back. Output tax is a credit for a cost (negative N), so its sign is that of −N.
const reverseOf = (
  code: TaxCode,
  { sums, rates, rounding }: { sums: RateSums; rates: RatesInForce; rounding: 'bucket' | 'line' },
) => {
  // A code without components bears no tax.
  if (code.components.length === 0) return { parts: [], cost: 0 }
  const tax = negateWide(rounding === 'line' ? sums.reversePerLine : wideTaxOnTop(sums.plain, rates.total))
  const input = recovered(tax, rates)
  const weights = componentWeights(rates)
  const [charged, taken] = [splitWide(tax, weights), splitWide(input, weights)]
  return {
    cost: addWide(tax, negateWide(input)),
    parts: code.components.map((component, index) => ({
      account: component.account,
      inputAccount: component.inputAccount ?? component.account,
      amount: charged[index] as Wide,
      input: taken[index] as Wide,
    })),
  }
}

/**
 * Per rate set: tax seen (all but what the marketplace withheld), the net amount it should follow from, and how many amounts
 * of tax were rounded on the way.
 */
export const taxSeen = (bucket: Bucket, rounding: 'bucket' | 'line') =>
  [...bucket.byRates].map(([key, sums]) => {
    const tax = taxOf(sums, rounding)
    return {
      key,
      rates: sums.rates,
      seen: addWide(tax, negateWide(sums.withheld)),
      net: netOf(sums, tax),
      roundings: sums.roundedAlone + (rounding === 'line' ? sums.computedLines : Math.min(1, sums.computedLines)),
    }
  })
