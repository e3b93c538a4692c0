import type { WeightedLine } from '../activity/activityLine.ts'
import { isTaxKind } from '../activity/kindTraits.ts'
import { compareText } from '../mapping/compareText.ts'
import { addMinor, narrow } from '../money/minor.ts'
import { taxOnTop } from '../tax/computeTax.ts'
import type { RatesInForce, TaxCode } from '../tax/taxCode.ts'
import { type Bucket, taxSeen } from './bucket.ts'
import { type Allocation, fillBuckets, monthParts } from './monthParts.ts'
import { type Resolved, resolveLine } from './resolveLine.ts'
import type { SettlementActivity } from './settlementActivity.ts'
import type { Setup } from './setup.ts'

/** Tax of one code at one set of rates. Minor units of `currency`; plus is owed. */
export interface CodeCheck {
  readonly taxCode: string
  readonly currency: string
  /** First dates of the rate versions in force, by component; names the version. */
  readonly version: string
  /** Percent of all components together. */
  readonly percent: number
  /** What the tax is worked out on, net of it. */
  readonly base: number
  readonly booked: number
  readonly expected: number
  readonly difference: number
  /** Amounts of tax that were rounded on the way: a difference of no more minor units is rounding alone. */
  readonly roundings: number
}

/** Tax as a source charged it in one region under one label, beside the rates that the map gives these lines. */
export interface LabelCheck {
  readonly source: string
  readonly currency: string
  readonly region: string | null
  readonly taxLabel: string | null
  readonly base: number
  readonly tax: number
  readonly lines: number
  /** tax ÷ base in percent, to two digits; null without a base. */
  readonly seenPercent: number | null
  readonly mapped: readonly { readonly taxCode: string; readonly percent: number }[]
}

export interface TaxCheck {
  readonly codes: readonly CodeCheck[]
  readonly labels: readonly LabelCheck[]
}

/**
 * Checks the tax of settlements as they compose under a map: per code and rate version what is booked beside what its base
 * calls for, and per region and label the rate that the source charged beside the rate mapped. Lines that resolve to
 * nothing take no part; reverse charge and codes that bear no tax have nothing to differ.
 */
export const checkTax = (settlements: readonly SettlementActivity[], setup: Setup): TaxCheck => {
  const codes = new Map<string, CodeSums>()
  const labels = new LabelSums()
  for (const activity of settlements) {
    const source = setup.sources.get(activity.source)
    if (!source) throw new RangeError(`unknown source ${activity.source}`)
    const resolutions = activity.lines.map(line => resolveLine(line, setup, source, activity.currency))
    const unused: Allocation[] = []
    monthParts(activity, source).forEach((part, entry) => {
      for (const bucket of fillBuckets(part, activity, resolutions, entry, unused).values())
        addCode(codes, bucket, { currency: activity.currency, rounding: source.options.taxRounding })
    })
    resolutions.forEach((resolution, index) => {
      if (resolution.ok && !resolution.elsewhere)
        labels.add(activity.lines[index] as WeightedLine, resolution, activity.currency)
    })
  }
  return { codes: [...codes.values()].map(codeCheck).sort(byCode), labels: labels.list() }
}

interface CodeSums {
  readonly taxCode: string
  readonly currency: string
  readonly rates: RatesInForce
  base: number
  booked: number
  roundings: number
}

const addCode = (
  codes: Map<string, CodeSums>,
  bucket: Bucket,
  at: { currency: string; rounding: 'bucket' | 'line' },
): void => {
  const { taxCode } = bucket
  if (!taxCode || taxCode.reverseCharge || taxCode.basis === 'none') return
  for (const { rates, seen, net, roundings } of taxSeen(bucket, at.rounding)) {
    if (!rates) continue
    const key = JSON.stringify([taxCode.code, at.currency, rates.key])
    const sums = codes.get(key) ?? {
      taxCode: taxCode.code,
      currency: at.currency,
      rates,
      base: 0,
      booked: 0,
      roundings: 0,
    }
    codes.set(key, sums)
    sums.base = addMinor(sums.base, narrow(net))
    sums.booked = addMinor(sums.booked, narrow(seen))
    sums.roundings += roundings
  }
}

const codeCheck = ({ taxCode, currency, rates, base, booked, roundings }: CodeSums): CodeCheck => {
  const expected = taxOnTop(base, rates.total)
  return {
    taxCode,
    currency,
    version: rates.version,
    percent: percentOf(rates),
    base,
    booked,
    expected,
    difference: addMinor(booked, -expected),
    roundings,
  }
}

const percentOf = ({ total }: RatesInForce): number => Number(total.numerator) / Number(total.denominator)

const byCode = (left: CodeCheck, right: CodeCheck): number =>
  compareText(left.taxCode, right.taxCode) ||
  compareText(left.currency, right.currency) ||
  compareText(left.version, right.version)

interface LabelRow {
  readonly source: string
  readonly currency: string
  readonly region: string | null
  readonly taxLabel: string | null
  /** Its tax comes in lines of its own, worked out on all that is sold untaxed into the region. */
  onTop: boolean
  base: number
  tax: number
  lines: number
  readonly mapped: Map<string, number>
}

class LabelSums {
  private readonly rows = new Map<string, LabelRow>()
  /** Sold into a region at prices that state no tax, by source, currency and region: what lines of tax are worked out on. */
  private readonly untaxed = new Map<string, number>()

  add(line: WeightedLine, resolved: Resolved, currency: string): void {
    const charged = chargedOf(line, resolved)
    if (charged === null) return
    if (charged.as === 'untaxed') {
      const key = JSON.stringify([line.source, currency, line.region])
      this.untaxed.set(key, addMinor(this.untaxed.get(key) ?? 0, charged.base))
      return
    }
    const row = this.rowOf(line, currency)
    row.onTop ||= charged.as === 'on_top'
    row.base = addMinor(row.base, charged.base)
    row.tax = addMinor(row.tax, charged.tax)
    row.lines += line.count
    note(row, resolved.taxCode, resolved.rates)
  }

  list(): LabelCheck[] {
    return [...this.rows.values()]
      .map(({ onTop, mapped, ...row }) => {
        const sold = this.untaxed.get(JSON.stringify([row.source, row.currency, row.region])) ?? 0
        const base = onTop ? addMinor(row.base, sold) : row.base
        return {
          ...row,
          base,
          seenPercent: base === 0 ? null : Math.round((row.tax / base) * 10_000) / 100,
          mapped: [...mapped].map(([taxCode, percent]) => ({ taxCode, percent })).sort(byMapped),
        }
      })
      .sort(byLabel)
  }

  private rowOf({ source, region, taxLabel }: WeightedLine, currency: string): LabelRow {
    const key = JSON.stringify([source, currency, region, taxLabel])
    const known = this.rows.get(key)
    if (known) return known
    const row = { source, currency, region, taxLabel, onTop: false, base: 0, tax: 0, lines: 0, mapped: new Map() }
    this.rows.set(key, row)
    return row
  }
}

/** What a line says of the tax that its source charged, in minor units. */
export interface Charged {
  /** `on_top`: it is tax; `within`: it states its tax; `untaxed`: sold into a region where tax comes in lines of its own. */
  readonly as: 'on_top' | 'within' | 'untaxed'
  readonly base: number
  readonly tax: number
}

/** What a line says of the tax that its source charged; null: nothing. */
export const chargedOf = (
  line: Pick<WeightedLine, 'kind' | 'amount' | 'taxAmount'>,
  { taxCode, allTax }: Pick<Resolved, 'taxCode' | 'allTax'>,
): Charged | null => {
  if (allTax) return line.kind === 'tax_withheld' ? null : { as: 'on_top', base: 0, tax: line.amount }
  if (taxCode && !taxCode.reverseCharge && taxCode.basis !== 'none' && line.taxAmount !== null)
    return { as: 'within', base: addMinor(line.amount, -line.taxAmount), tax: line.taxAmount }
  return taxCode?.basis === 'exclusive' && !isTaxKind(line.kind) ? { as: 'untaxed', base: line.amount, tax: 0 } : null
}

const note = (row: LabelRow, taxCode: TaxCode | null, rates: RatesInForce | null): void => {
  if (taxCode && rates) row.mapped.set(taxCode.code, percentOf(rates))
}

const byMapped = (left: { taxCode: string }, right: { taxCode: string }): number =>
  compareText(left.taxCode, right.taxCode)

const byLabel = (left: LabelCheck, right: LabelCheck): number =>
  compareText(left.source, right.source) ||
  compareText(left.currency, right.currency) ||
  compareText(left.region ?? '', right.region ?? '') ||
  compareText(left.taxLabel ?? '', right.taxLabel ?? '')
