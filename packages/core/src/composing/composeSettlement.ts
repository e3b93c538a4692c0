import type { SettlementHead, WeightedLine } from '../activity/activityLine.ts'
import { footingDifference } from '../activity/footing.ts'
import { isStock } from '../activity/kinds.ts'
import { rateOn } from '../money/exchange.ts'
import { addMinor, sumMinor } from '../money/minor.ts'
import { taxOnTop } from '../tax/computeTax.ts'
import { type Block, Blocks } from './blocks.ts'
import { type Bucket, closeBucket, taxSeen } from './bucket.ts'
import { type DraftEntry, finishLines, mergeParts, type Part } from './draft.ts'
import { type Allocation, fillBuckets, type MonthPart, monthParts } from './monthParts.ts'
import { accountUsable, type Resolution, resolveLine } from './resolveLine.ts'
import type { Setup, Source } from './setup.ts'
import { composeTransfer, type PayoutLine } from './transfer.ts'

/** Lines of one settlement, or of one business day of a source, ready to be composed. */
export interface SettlementActivity {
  readonly source: string
  readonly currency: string
  readonly settlementId: string | null
  /** Business day, where lines have no settlement. */
  readonly day: string | null
  readonly head: SettlementHead | null
  /** Available lines that are booked: neither payouts nor collections that a tender has booked. */
  readonly lines: readonly WeightedLine[]
  readonly payouts: readonly PayoutLine[]
  /** Sum of all available lines, payouts and left-out ones too; what footing is judged on. */
  readonly sumOfLines: number
  /** Local date of the last line, by instant, that is no payout. */
  readonly lastDate: string | null
}

export interface Composed {
  readonly blocks: readonly Block[]
  /** Journals by month, then transfers; empty when blocked. */
  readonly entries: readonly DraftEntry[]
  readonly allocations: readonly Allocation[]
}

/** Composes the journal entries (one, or one per month) and transfers of a settlement, or says all that blocks it. */
export const composeSettlement = (activity: SettlementActivity, setup: Setup): Composed => {
  const source = setup.sources.get(activity.source)
  if (!source) throw new RangeError(`unknown source ${activity.source}`)
  const resolutions = activity.lines.map(line => resolveLine(line, setup, source, activity.currency))
  const blocks = new Blocks()
  resolutions.forEach((resolution, index) => {
    const line = activity.lines[index] as WeightedLine
    if (!resolution.ok) blocks.addLine(resolution, line)
    else if (isStock(line.kind) && !stockPayableOf(source, setup, activity.currency))
      blocks.addLine({ reason: 'account_unusable', route: resolution.route }, line)
  })
  const clearing = source.clearing[activity.currency]
  if (clearing === undefined)
    for (const line of activity.lines) blocks.addLine({ reason: 'account_unusable', route: null }, line)
  const transfers = composeTransfers(activity, setup, source, blocks)
  const difference = footingDifference(activity.head, activity.sumOfLines)
  if (difference !== null && difference !== 0) blocks.add('does_not_foot', difference)

  const parts = monthParts(activity, source)
  const allocations: Allocation[] = []
  const journals = parts.map((part, entry) => {
    const buckets = fillBuckets(part, activity, resolutions, entry, allocations)
    checkTax(buckets, source, blocks)
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
    clearing: sumMinor(
      booked.filter(index => !isStockLine(index)),
      amountOf,
    ),
    stock: sumMinor(booked.filter(isStockLine), amountOf),
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
    sums: { clearing: number; stock: number }
  },
): DraftEntry | null => {
  const { activity, setup, source, sums } = context
  const { currency } = activity
  const rate = currency === setup.base ? null : rateOn(setup.rates, { currency, base: setup.base, date: part.date })
  if (currency !== setup.base && rate === null) {
    context.blocks.add('rate_missing', sums.clearing)
    return null
  }
  const parts = [...buckets.values()].flatMap(bucket => bucketParts(bucket, source))
  const rest = { taxCode: '', segments: '', bucket: null, routes: [] }
  parts.push({ ...rest, account: context.clearing, amount: sums.clearing })
  if (sums.stock !== 0) parts.push({ ...rest, account: source.options.stockPayable ?? '', amount: -sums.stock })
  const merged = mergeParts(parts)
  if (context.blocks.list().length > 0) return null
  const lines = finishLines(merged, { currency, base: setup.base, rate, exchangeRounding: setup.exchangeRounding })
  if (!lines) context.blocks.add('account_unusable', 0)
  return lines && { document: 'journal', date: part.date, currency, payoutLine: null, lines }
}

// A bucket's N above zero is a credit, so every part of it changes sign: plus is a debit in a draft.
const bucketParts = (bucket: Bucket, source: Source): Part[] => {
  const sums = closeBucket(bucket, source.options.taxRounding)
  const taxCode = bucket.taxCode?.code ?? ''
  const part = (account: string, amount: number, segments = ''): Part => ({
    account,
    taxCode,
    segments,
    amount: amount === 0 ? 0 : -amount,
    bucket: bucket.key,
    routes: bucket.routes,
  })
  return [
    ...(bucket.account === null ? [] : [part(bucket.account, sums.net, bucket.segments)]),
    ...sums.taxes.map(tax => part(tax.account, tax.amount)),
    ...sums.reverse.flatMap(tax => [part(tax.account, tax.amount), part(tax.inputAccount, -tax.amount)]),
  ]
}

const checkTax = (buckets: ReadonlyMap<string, Bucket>, source: Source, blocks: Blocks): void => {
  const tolerance = source.options.taxTolerance
  if (tolerance === null) return
  const byCode = new Map<
    string,
    Map<string, { rates: ReturnType<typeof taxSeen>[number]['rates']; seen: number; net: number }>
  >()
  for (const bucket of buckets.values()) {
    if (!bucket.taxCode || bucket.taxCode.reverseCharge || bucket.taxCode.basis === 'none') continue
    const byRates = byCode.get(bucket.taxCode.code) ?? new Map()
    byCode.set(bucket.taxCode.code, byRates)
    for (const { key, rates, seen, net } of taxSeen(bucket, source.options.taxRounding)) {
      const before = byRates.get(key)
      byRates.set(key, { rates, seen: addMinor(before?.seen ?? 0, seen), net: addMinor(before?.net ?? 0, net) })
    }
  }
  for (const byRates of byCode.values()) {
    const difference = sumMinor(byRates.values(), ({ rates, seen, net }) =>
      addMinor(seen, rates ? -taxOnTop(net, rates.total) : 0),
    )
    if (Math.abs(difference) > tolerance) blocks.add('tax_differs', difference)
  }
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
      if (outcome.reason === 'rate_missing') blocks.transferWithoutRate(payout.amount)
      else
        blocks.addLine(
          { reason: outcome.reason, route: null },
          {
            kind: payout.kind,
            category: null,
            amount: payout.amount,
            count: 1,
          },
        )
      return null
    })
