import type { WeightedLine } from '../activity/activityLine.ts'
import { isSupply } from '../activity/kindTraits.ts'
import { compareText } from '../mapping/compareText.ts'
import { addMinor, narrow } from '../money/minor.ts'
import { isForeign } from '../tax/taxGrid.ts'
import { addToBucket, type Bucket, emptyBucket, taxSeen } from './bucket.ts'
import { type Resolved, resolveLine, taxedAs } from './resolveLine.ts'
import type { SettlementActivity } from './settlementActivity.ts'
import type { Setup } from './setup.ts'

/** Supplies of one destination, class and period, and the tax that they bear under a setup. Minor units of `currency`, plus is owed. */
export interface SupplySums {
  readonly currency: string
  readonly region: string | null
  /** Empty: none. */
  readonly class: string
  /** First day of the period that their tax dates are of; null: before the first. */
  readonly since: string | null
  readonly lines: number
  /** Net of tax. */
  readonly base: number
  readonly tax: number
  /** Tax that the source stated, within amounts or in lines of its own; null: none. */
  readonly stated: number | null
  readonly codes: readonly string[]
  /** Amounts that no row serves. */
  readonly open: number
  /** Amounts with a code of another country, where nobody has said why. */
  readonly foreign: number
}

/** Lines that are taxed by less than what they should hang on. */
export interface HangingSums {
  readonly currency: string
  /** What goes back to no supply that is known: taxed as of its own day and place. */
  readonly lost: number
  readonly lostLines: number
  /** What goes along with an order without goods: taxed as goods without a class. */
  readonly unsplit: number
  readonly unsplitLines: number
}

const periodOf = (date: string, periods: readonly string[]): string | null =>
  periods.reduce<string | null>((found, day) => (day <= date ? day : found), null)

/** Names the place of a part of a line: what its tax hangs on. */
export const supplyPlace = (
  line: WeightedLine,
  setup: Setup,
  periods: readonly string[],
): Pick<SupplySums, 'region' | 'class' | 'since'> => {
  const { region, class: name, date } = taxedAs(line, setup, null)
  return { region: region || null, class: name, since: periodOf(date, periods) }
}

/** Adds up what supplies bear under a setup, by destination, class and period; lines that resolve to nothing count with their amount as open. */
export const supplySums = (
  settlements: readonly SettlementActivity[],
  setup: Setup,
  periods: readonly string[],
): { readonly sums: readonly SupplySums[]; readonly hanging: readonly HangingSums[] } => {
  const places = new Map<string, PlaceSums>()
  const hanging = new Map<string, HangingSums>()
  for (const activity of settlements) {
    const source = setup.sources.get(activity.source)
    if (!source) throw new RangeError(`unknown source ${activity.source}`)
    for (const line of activity.lines) {
      if (!isSupply(line.kind)) continue
      const resolution = resolveLine(line, setup, source, activity.currency)
      if (resolution.ok && resolution.elsewhere) continue
      noteHanging(hanging, line, activity.currency)
      const place = { ...supplyPlace(line, setup, periods), currency: activity.currency }
      const key = JSON.stringify([place.currency, place.region, place.class, place.since])
      const sums = places.get(key) ?? new PlaceSums(place, source.options.taxRounding)
      places.set(key, sums)
      sums.add(line, resolution.ok ? resolution : resolution.taxed, setup)
    }
  }
  return { sums: [...places.values()].map(one => one.total()).sort(byPlace), hanging: [...hanging.values()] }
}

const noteHanging = (
  all: Map<string, HangingSums>,
  { supply, amount, count }: WeightedLine,
  currency: string,
): void => {
  if (!supply?.lost && !supply?.unsplit) return
  const before = all.get(currency) ?? { currency, lost: 0, lostLines: 0, unsplit: 0, unsplitLines: 0 }
  all.set(
    currency,
    supply.lost
      ? { ...before, lost: addMinor(before.lost, amount), lostLines: before.lostLines + count }
      : { ...before, unsplit: addMinor(before.unsplit, amount), unsplitLines: before.unsplitLines + count },
  )
}

class PlaceSums {
  private readonly buckets = new Map<string, Bucket>()
  private lines = 0
  private open = 0
  private foreign = 0
  private stated: number | null = null

  constructor(
    private readonly place: Pick<SupplySums, 'currency' | 'region' | 'class' | 'since'>,
    private readonly rounding: 'bucket' | 'line',
  ) {}

  add(line: WeightedLine, resolved: Resolved | null, setup: Setup): void {
    this.lines += line.count
    if (!resolved) {
      this.open = addMinor(this.open, line.amount)
      return
    }
    const code = resolved.taxCode
    const bucket = this.buckets.get(code?.code ?? '') ?? emptyBucket(resolved)
    this.buckets.set(code?.code ?? '', bucket)
    addToBucket(bucket, line, resolved)
    const stated = resolved.allTax ? line.amount : line.taxAmount
    if (stated !== null) this.stated = addMinor(this.stated ?? 0, stated)
    const row = setup.taxRows?.serve(taxedAs(line, setup, resolved.route)) as { reason?: string } | null | undefined
    if (code && isForeign(code, this.place.region) && !row?.reason) this.foreign = addMinor(this.foreign, line.amount)
  }

  total(): SupplySums {
    const seen = [...this.buckets.values()].flatMap(bucket => taxSeen(bucket, this.rounding))
    return {
      ...this.place,
      lines: this.lines,
      base: seen.reduce((sum, one) => addMinor(sum, narrow(one.net)), 0),
      tax: seen.reduce((sum, one) => addMinor(sum, narrow(one.seen)), 0),
      stated: this.stated,
      codes: [...this.buckets.keys()].sort(compareText),
      open: this.open,
      foreign: this.foreign,
    }
  }
}

const byPlace = (left: SupplySums, right: SupplySums): number =>
  compareText(left.currency, right.currency) ||
  compareText(left.region ?? '~', right.region ?? '~') ||
  compareText(left.class, right.class) ||
  compareText(left.since ?? '', right.since ?? '')
