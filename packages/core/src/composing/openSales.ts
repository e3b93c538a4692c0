import type { ActivityLine } from '../activity/activityLine.ts'
import { isCollection } from '../activity/kindTraits.ts'
import { sumMinor } from '../money/minor.ts'
import { channelsOfGateways, type OpenOrder, openOrders, orderCollectedFor } from '../tieout/openOrders.ts'
import type { Block } from './blocks.ts'
import { lineKey, weightedLine } from './lineKey.ts'
import { resolveLine } from './resolveLine.ts'
import type { Setup } from './setup.ts'

/** What blocks a gateway's settlement whose collections without a tender are most likely of open orders; null: nothing. */
export const blockOfOpenOrders = (
  collections: readonly (Parameters<typeof orderCollectedFor>[0] &
    Pick<ActivityLine, 'lineId' | 'kind' | 'category'>)[],
  on: { readonly orders: readonly OpenOrder[]; readonly channels: ReadonlyMap<string, ReadonlySet<string>> },
): Block | null => {
  const found = collections.flatMap(line => {
    const order = orderCollectedFor(line, on.orders, on.channels)
    return order ? [{ lineId: line.lineId, amount: line.amount, source: order.source, order: order.order }] : []
  })
  if (found.length === 0) return null
  return { reason: 'order_open', amount: sumMinor(found, one => one.amount), concerned: [], orders: found }
}

type DatedLine = ActivityLine & { readonly localDate: string }

/**
 * Tells of a gateway's lines what blocks them because an order is open that they are most likely of; only in a client whose matters of time have an age.
 * `lines`: all that are booked; `matched`: collections that a tender has booked, by their key.
 */
export const openSalesOf = (
  lines: readonly DatedLine[],
  setup: Setup,
  matched: ReadonlySet<string>,
): ((group: readonly ActivityLine[]) => Block | null) => {
  if (!setup.timing) return () => null
  const isElsewhere = (line: DatedLine): boolean => {
    const source = setup.sources.get(line.source)
    return (
      source !== undefined && resolveLine(weightedLine(line, line.localDate), setup, source, line.currency).elsewhere
    )
  }
  const alone = new Map(
    lines.flatMap(line =>
      isCollection(line.kind) && !matched.has(lineKey(line)) && !isElsewhere(line)
        ? [[lineKey(line), line] as const]
        : [],
    ),
  )
  if (alone.size === 0) return () => null
  const channels = channelsOfGateways(lines, setup.labels ?? new Map())
  const tendering = new Set([...channels.values()].flatMap(sources => [...sources]))
  const orders = openOrders(lines.filter(line => tendering.has(line.source) && !isElsewhere(line)))
  return group =>
    blockOfOpenOrders(
      group.flatMap(line => alone.get(lineKey(line)) ?? []),
      { orders, channels },
    )
}
