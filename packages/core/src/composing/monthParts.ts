import type { WeightedLine } from '../activity/activityLine.ts'
import { isStock } from '../activity/kindTraits.ts'
import type { Route } from '../mapping/route.ts'
import { addToBucket, type Bucket, bucketKey, emptyBucket } from './bucket.ts'
import type { Resolution } from './resolveLine.ts'
import type { SettlementActivity } from './settlementActivity.ts'
import { endDate, entryDateOfLine } from './settlementDates.ts'
import type { Source } from './setup.ts'

/** Which route and bucket a weighted line went to; `index` is its place in the lines given. */
export interface Allocation {
  readonly index: number
  readonly bucket: string
  readonly entry: number
  readonly route: Route | null
}

/** The lines of one entry and its date. */
export interface MonthPart {
  readonly date: string
  /** Places of its lines in the activity's lines. */
  readonly indexes: readonly number[]
}

/** A settlement's entries: one, or with the option one per local month, the earlier ones dated the month's last day. */
export const monthParts = (activity: SettlementActivity, source: Source): MonthPart[] => {
  const end = endDate(activity)
  if (end === null || activity.lines.length === 0) return []
  const indexesByDate = new Map<string, number[]>()
  activity.lines.forEach((line, index) => {
    const date = entryDateOfLine(line.localDate, end, source)
    const indexes = indexesByDate.get(date)
    if (indexes) indexes.push(index)
    else indexesByDate.set(date, [index])
  })
  return [...indexesByDate]
    .map(([date, indexes]) => ({ date, indexes }))
    .sort((left, right) => (left.date < right.date ? -1 : 1))
}

/** Adds an entry's resolved lines up in buckets, and notes which line went to which. */
export const fillBuckets = (
  part: MonthPart,
  activity: SettlementActivity,
  resolutions: readonly Resolution[],
  entry: number,
  allocations: Allocation[],
): Map<string, Bucket> => {
  const buckets = new Map<string, Bucket>()
  for (const index of part.indexes) {
    const resolution = resolutions[index] as Resolution
    if (!resolution.ok || resolution.elsewhere) continue
    const key = bucketKey(resolution)
    const bucket = buckets.get(key) ?? emptyBucket(resolution)
    buckets.set(key, bucket)
    const line = activity.lines[index] as WeightedLine
    addToBucket(bucket, isStock(line.kind) ? mirrored(line) : line, resolution)
    allocations.push({ index, bucket: key, entry, route: resolution.route })
  }
  return buckets
}

// Stock that a till records as bought is debited to its account and credited to what is owed, past the clearing account.
const mirrored = (line: WeightedLine): WeightedLine => ({
  ...line,
  amount: line.amount === 0 ? 0 : -line.amount,
  taxAmount: line.taxAmount === null || line.taxAmount === 0 ? line.taxAmount : -line.taxAmount,
})
