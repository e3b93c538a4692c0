import type { ActivityLine } from '../activity/activityLine.ts'
import { isPayout, isStock, isTender } from '../activity/kindTraits.ts'
import { daysBetween } from '../activity/localDate.ts'
import { type GatewayLabels, gatewayOf } from '../mapping/gatewayLabels.ts'
import { addMinor } from '../money/minor.ts'

/** Days within which an order of a channel is most likely what a gateway collected for. */
export const openOrderDays = 7
/** Days after which an order that is sold, and neither tendered nor given back, is to be decided. */
export const openOrderLimit = 14

/** An order of a channel, and what of it is open: what was sold less what was tendered, minor units. */
export interface OpenOrder {
  readonly source: string
  readonly order: string
  readonly currency: string
  readonly amount: number
  /** Local dates of its first and its last line. */
  readonly from: string
  readonly to: string
}

type DatedLine = Pick<ActivityLine, 'source' | 'kind' | 'orderId' | 'currency' | 'amount'> & {
  readonly localDate: string
}

/**
 * Orders of the given lines that are not paid, or paid without a sale. Lines are those that are booked of channels; what is booked elsewhere is left out
 * by the caller.
 */
export const openOrders = (lines: Iterable<DatedLine>): OpenOrder[] => {
  const orders = new Map<string, { -readonly [Key in keyof OpenOrder]: OpenOrder[Key] }>()
  for (const { source, kind, orderId, currency, amount, localDate } of lines) {
    if (!orderId || isPayout(kind) || isStock(kind)) continue
    const key = JSON.stringify([source, orderId, currency])
    const order = orders.get(key)
    if (!order) orders.set(key, { source, order: orderId, currency, amount, from: localDate, to: localDate })
    else {
      order.amount = addMinor(order.amount, amount)
      if (localDate < order.from) order.from = localDate
      if (localDate > order.to) order.to = localDate
    }
  }
  return [...orders.values()].filter(order => order.amount !== 0)
}

/** The channels that tender to each gateway, as their lines say. */
export const channelsOfGateways = (
  lines: Iterable<Pick<ActivityLine, 'source' | 'kind' | 'gateway'>>,
  labels: GatewayLabels,
): Map<string, Set<string>> => {
  const channels = new Map<string, Set<string>>()
  for (const line of lines) {
    const gateway = isTender(line.kind) ? gatewayOf(line, labels) : null
    if (gateway === null || gateway === line.source) continue
    channels.set(gateway, (channels.get(gateway) ?? new Set()).add(line.source))
  }
  return channels
}

/**
 * The open order that a collection without a tender is most likely of: of a channel that tenders to the gateway, by the same amount and currency, with a line
 * within seven days. Null: none. Booked by its route, the same sale would stand in the books twice.
 */
export const orderCollectedFor = (
  collection: Pick<DatedLine, 'source' | 'currency' | 'amount' | 'localDate'>,
  orders: readonly OpenOrder[],
  channels: ReadonlyMap<string, ReadonlySet<string>>,
): OpenOrder | null => {
  const own = channels.get(collection.source)
  if (!own || collection.amount === 0) return null
  const day = collection.localDate
  const daysOff = ({ from, to }: OpenOrder): number =>
    day < from ? daysBetween(day, from) : day > to ? daysBetween(to, day) : 0
  return (
    orders.find(
      order =>
        own.has(order.source) &&
        order.currency === collection.currency &&
        order.amount === collection.amount &&
        daysOff(order) <= openOrderDays,
    ) ?? null
  )
}
