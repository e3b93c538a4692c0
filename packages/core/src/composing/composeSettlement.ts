import type { WeightedLine } from '../activity/activityLine.ts'
import { footingDifference } from '../activity/footing.ts'
import { isStock } from '../activity/kindTraits.ts'
import { convertWide, rateOn } from '../money/exchange.ts'
import type { Fraction } from '../money/fraction.ts'
import { addWide, isMinor, negateWide, sumWide, type Wide } from '../money/minor.ts'
import { wideTaxOnTop } from '../tax/computeTax.ts'
import type { RatesInForce } from '../tax/taxCode.ts'
import { type Block, Blocks } from './blocks.ts'
import { type Bucket, closeBucket, taxSeen } from './bucket.ts'
import { type DraftEntry, finishedLines, mergeParts, type Part } from './draft.ts'
import { type Allocation, fillBuckets, type MonthPart, monthParts } from './monthParts.ts'
import { accountUsable, type Resolution, resolveLine } from './resolveLine.ts'
import type { SettlementActivity } from './settlementActivity.ts'
import type { Setup, Source } from './setup.ts'
import { composeTransfer } from './transfer.ts'

export interface Composed {
  readonly blocks: readonly Block[]
  /** Journals by month, then transfers; empty when blocked. */
  readonly entries: readonly DraftEntry[]
  readonly allocations: readonly Allocation[]
}

/** Local date that a settlement is dated by: of its last journal, or of its transfer where it has none. */
export const entryDateOf = (activity: SettlementActivity, { entries }: Composed): string | null => {
  const dates = entries.filter(entry => entry.document === 'journal').map(entry => entry.date)
  return dates.at(-1) ?? activity.day ?? activity.head?.periodEnd ?? activity.lastDate
}

/** Composes the journal entries (one, or one per month) and transfers of a settlement, or says all that blocks it. */
export const composeSettlement = (activity: SettlementActivity, setup: Setup): Composed => {
  const source = setup.sources.get(activity.source)
  if (!source) throw new RangeError(`unknown source ${activity.source}`)
  const resolutions = activity.lines.map(line => resolveLine(line, setup, source, activity.currency))
  const blocks = new Blocks()
  const clearing = source.clearing[activity.currency]
  const stockPayable = stockPayableOf(source, setup, activity.currency)
  resolutions.forEach((resolution, index) => {
    const line = activity.lines[index] as WeightedLine
    const noAccount = clearing === undefined || (isStock(line.kind) && stockPayable === null)
    const reasons = resolution.ok ? [] : resolution.reasons
    const all = noAccount && !resolution.elsewhere ? [...reasons, 'account_unusable' as const] : reasons
    blocks.addLine({ reasons: all, route: resolution.route }, line)
  })
  const transfers = composeTransfers(activity, setup, source, blocks)
  const difference = footingDifference(activity.head, activity.sumOfLines)
  if (difference !== null && difference !== 0) blocks.add('does_not_foot', difference)

  const parts = monthParts(activity, source)
  const allocations: Allocation[] = []
  const journals = parts.map((part, entry) => {
    const buckets = fillBuckets(part, activity, resolutions, entry, allocations)
    checkTax(part, { activity, setup, source, resolutions, buckets, blocks })
    const sums = sumsOf(part, activity, resolutions)
    return composeJournal(part, buckets, { activity, setup, source, clearing: clearing ?? '', blocks, sums })
  })
  if (!blocks.has('rate_missing')) blocks.addTransferRates()
  const reasons = blocks.list()
  const entries = [...journals, ...transfers].filter(entry => entry !== null && entry.lines.length > 0) as DraftEntry[]
  return { blocks: reasons, entries: reasons.length > 0 ? [] : entries, allocations }
}

const stockPayableOf = (source: Source, setup: Setup, currency: string): string | null => {
  const account = source.options.stockPayable
  return account !== null && accountUsable(setup.accounts.get(account), currency) ? account : null
}

/** What an entry moves on the clearing account and owes for stock, minor units. Lines booked elsewhere count in neither. */
const sumsOf = (part: MonthPart, activity: SettlementActivity, resolutions: readonly Resolution[]) => {
  const booked = part.indexes.filter(index => !resolutions[index]?.elsewhere)
  const amountOf = (index: number) => (activity.lines[index] as WeightedLine).amount
  const isStockLine = (index: number) => isStock((activity.lines[index] as WeightedLine).kind)
  return {
    clearing: sumWide(
      booked.filter(index => !isStockLine(index)),
      amountOf,
    ),
    stock: sumWide(booked.filter(isStockLine), amountOf),
  }
}

const composeJournal = (
  part: MonthPart,
  buckets: ReadonlyMap<string, Bucket>,
  context: {
    activity: SettlementActivity
    setup: Setup
    source: Source
    clearing: string
    blocks: Blocks
    sums: { clearing: Wide; stock: Wide }
  },
): DraftEntry | null => {
  const { activity, setup, source, sums } = context
  const { currency } = activity
  const rate = rateOfPart(part, activity, setup)
  const parts = [...buckets.values()].flatMap(bucket => bucketParts(bucket, source))
  const rest = { taxCode: '', segments: '', bucket: null, routes: [] }
  parts.push({ ...rest, account: context.clearing, amount: sums.clearing })
  if (sums.stock !== 0)
    parts.push({ ...rest, account: source.options.stockPayable ?? '', amount: negateWide(sums.stock) })
  const merged = mergeParts(parts)
  const money = { currency, base: setup.base, rate, exchangeRounding: setup.exchangeRounding }
  // Judged whatever else stops the entry: one reason hides no other.
  if (currency !== setup.base && rate === null) context.blocks.add('rate_missing', sums.clearing)
  if (merged.some(line => isBeyondRange(line.amount, money))) context.blocks.add('out_of_range', 0)
  if (context.blocks.any()) return null
  const lines = finishedLines(merged, money)
  if (Array.isArray(lines)) return { document: 'journal', date: part.date, currency, payoutLine: null, lines }
  context.blocks.add(lines, 0)
  return null
}

/** Whether an amount cannot stand in an entry, in its currency or, where a rate is known, in base. */
const isBeyondRange = (
  amount: Wide,
  { rate, ...money }: { readonly currency: string; readonly base: string; readonly rate: Fraction | null },
): boolean => !isMinor(amount) || (rate !== null && !isMinor(convertWide(amount, rate, money)))

const rateOfPart = ({ date }: MonthPart, { currency }: SettlementActivity, { base, rates }: Setup): Fraction | null =>
  currency === base ? null : rateOn(rates, { currency, base, date })

// A bucket's N above zero is a credit, so every part of it changes sign: plus is a debit in a draft.
const bucketParts = (bucket: Bucket, source: Source): Part[] => {
  const sums = closeBucket(bucket, source.options.taxRounding)
  const taxCode = bucket.taxCode?.code ?? ''
  const part = (account: string, amount: Wide, segments = ''): Part => ({
    account,
    taxCode,
    segments,
    amount: negateWide(amount),
    bucket: bucket.key,
    routes: bucket.routes,
  })
  return [
    ...(bucket.account === null ? [] : [part(bucket.account, sums.net, bucket.segments)]),
    ...sums.taxes.map(tax => part(tax.account, tax.amount)),
    ...sums.reverse.flatMap(tax => [part(tax.account, tax.amount), part(tax.inputAccount, negateWide(tax.input))]),
  ]
}

/**
 * Tax seen against expected, per code of an entry: beyond the source's tolerance, an amount in base, it differs. Judged on
 * every line that has a route and a code, also where something else stops it; not where the entry has no rate into base.
 */
const checkTax = (
  part: MonthPart,
  context: {
    activity: SettlementActivity
    setup: Setup
    source: Source
    resolutions: readonly Resolution[]
    buckets: ReadonlyMap<string, Bucket>
    blocks: Blocks
  },
): void => {
  const { activity, setup, source, resolutions, blocks } = context
  const { currency } = activity
  const tolerance = source.options.taxTolerance
  const rate = rateOfPart(part, activity, setup)
  if (tolerance === null || (currency !== setup.base && rate === null)) return
  const anyStopped = part.indexes.some(index => taxedThough(resolutions[index] as Resolution) !== null)
  const judged = anyStopped
    ? fillBuckets(
        part,
        activity,
        resolutions.map(one => taxedThough(one) ?? one),
        0,
        [],
      )
    : context.buckets
  for (const difference of taxDifferences(judged.values(), source.options.taxRounding)) {
    const inBase = rate ? convertWide(difference, rate, { currency, base: setup.base }) : difference
    if (!isMinor(inBase) || Math.abs(inBase) > tolerance) blocks.add('tax_differs', difference)
  }
}

const taxedThough = (resolution: Resolution): Resolution | null => (resolution.ok ? null : resolution.taxed)

/** Tax seen less tax expected, per code; expected is rounded per set of rates. */
const taxDifferences = (buckets: Iterable<Bucket>, rounding: 'bucket' | 'line'): Wide[] => {
  const byCode = new Map<string, Map<string, { rates: RatesInForce | null; seen: Wide; net: Wide }>>()
  for (const bucket of buckets) {
    if (!bucket.taxCode || bucket.taxCode.reverseCharge || bucket.taxCode.basis === 'none') continue
    const byRates = byCode.get(bucket.taxCode.code) ?? new Map()
    byCode.set(bucket.taxCode.code, byRates)
    for (const { key, rates, seen, net } of taxSeen(bucket, rounding)) {
      const before = byRates.get(key)
      byRates.set(key, { rates, seen: addWide(before?.seen ?? 0, seen), net: addWide(before?.net ?? 0, net) })
    }
  }
  return [...byCode.values()].map(byRates =>
    sumWide(byRates.values(), ({ rates, seen, net }) =>
      addWide(seen, rates ? negateWide(wideTaxOnTop(net, rates.total)) : 0),
    ),
  )
}

const composeTransfers = (
  activity: SettlementActivity,
  setup: Setup,
  source: Source,
  blocks: Blocks,
): (DraftEntry | null)[] =>
  activity.payouts
    .filter(payout => payout.amount !== 0)
    .map(payout => {
      const outcome = composeTransfer(payout, { activity, setup, source })
      if (outcome.ok) return outcome.entry
      const { reasons } = outcome
      if (reasons.includes('rate_missing')) blocks.transferWithoutRate(payout.amount)
      if (reasons.includes('out_of_range')) blocks.add('out_of_range', 0)
      const ofLine = reasons.filter(reason => reason === 'unmapped' || reason === 'account_unusable')
      blocks.addLine({ reasons: ofLine, route: null }, { ...payout, category: null, count: 1 })
      return null
    })
