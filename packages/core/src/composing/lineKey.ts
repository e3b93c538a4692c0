import type { ActivityLine, WeightedLine } from '../activity/activityLine.ts'

/** Names a line among all sources. */
export const lineKey = (line: { source: string; lineId: string }): string => JSON.stringify([line.source, line.lineId])

/** One line as the weighted line of count 1. */
export const weightedLine = (line: ActivityLine, localDate: string): WeightedLine => ({
  source: line.source,
  kind: line.kind,
  category: line.category,
  sku: line.sku,
  location: line.location,
  gateway: line.gateway,
  method: line.method,
  taxLabel: line.taxLabel,
  region: line.region,
  localDate,
  amount: line.amount,
  taxAmount: line.taxAmount,
  count: 1,
  // A line holds the texts that rules look at under the same names.
  texts: line,
})
