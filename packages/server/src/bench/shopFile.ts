import { once } from 'node:events'
import { createWriteStream, type WriteStream } from 'node:fs'
import { addDays, formatAmount } from '@culvert/core'

/** What a shop and the gateway that collects for it report of the same orders, as files. */
export interface ShopFiles {
  readonly shop: string
  readonly gateway: string
  readonly balances: string
  /** Lines of both. */
  readonly rows: number
  /** The last day of them, local date. */
  readonly lastDay: string
}

export interface ShopPlan {
  readonly orders: number
  readonly days: number
  readonly from: string
  /** Begins every id, so that two files of one client are of other orders. */
  readonly id: string
}

const euros = (minor: number): string => formatAmount(minor, 'EUR')
const columns = 'line_id,occurred_at,kind,order_id,gateway,category,region,currency,amount,customer\n'
const regions = ['IE', 'DE', 'FR', 'NL']

/** One order in so many is paid back a week later, one is never collected, and one is collected three days late. */
const [refundedEvery, lostEvery, lateEvery] = [29, 997, 41]

interface Sides {
  shop: string
  gateway: string
  rows: number
  /** What the gateway takes in of the day's orders, whenever it does. */
  held: number
  /** By how much its balance moves, by local date. */
  readonly moves: Map<string, number>
}

const move = (to: Sides, date: string, amount: number): void => {
  to.moves.set(date, (to.moves.get(date) ?? 0) + amount)
}

const addOrder = (to: Sides, order: number, day: string, plan: ShopPlan): void => {
  const id = `${plan.id}-${order}`
  const at = `${day}T${String(8 + (order % 12)).padStart(2, '0')}:${String(order % 60).padStart(2, '0')}:00Z`
  const region = regions[order % 4]
  const goods = 1500 + ((order * 113) % 9000)
  const who = `Buyer ${(order * 7) % 40_000}`
  const said = (name: string, kind: string, gateway: string, amount: number) =>
    `${id}-${name},${at},${kind},${id},${gateway},,${region},EUR,${euros(amount)},${who}\n`
  to.shop +=
    said('s', 'sale', '', goods) + said('h', 'shipping', '', 450) + said('t', 'tender', 'brookpay', -goods - 450)
  to.rows += 3
  if (order % lostEvery === 5) return
  const collectedOn = order % lateEvery === 3 ? addDays(day, 3) : day
  const collected = (name: string, kind: string, amount: number, on: string): void => {
    to.gateway += `${id}-${name},${on}T21:15:00Z,${kind},${id},,,${region},EUR,${euros(amount)},\n`
    to.held += amount
    move(to, on, amount)
    to.rows++
  }
  collected('c', 'collected', goods + 450, collectedOn)
  collected('f', 'processing_fee', -(45 + (goods >> 6)), collectedOn)
  if (order % refundedEvery !== 11) return
  const back = addDays(day, 7)
  to.shop += `${id}-r,${back}T12:00:00Z,refund,${id},,,${region},EUR,${euros(-goods)},${who}\n${id}-u,${back}T12:00:00Z,tender_returned,${id},brookpay,,${region},EUR,${euros(goods)},${who}\n`
  collected('b', 'collected_back', -goods, back)
  to.rows += 2
}

/** Writes orders spread over days, three lines each at the shop and two at its gateway, which pays out every day and says what it holds. */
export const writeShop = async (prefix: string, plan: ShopPlan): Promise<ShopFiles> => {
  const files = { shop: `${prefix}shop.csv`, gateway: `${prefix}gateway.csv`, balances: `${prefix}balances.csv` }
  const [shop, gateway, balances] = [files.shop, files.gateway, files.balances].map(path =>
    createWriteStream(path),
  ) as [WriteStream, WriteStream, WriteStream]
  shop.write(columns)
  gateway.write(columns)
  const moves = new Map<string, number>()
  let rows = 0
  const perDay = Math.ceil(plan.orders / plan.days)
  for (let day = 0; day < plan.days; day++) {
    const date = addDays(plan.from, day)
    const sides: Sides = { shop: '', gateway: '', rows: 0, held: 0, moves }
    for (let order = day * perDay; order < Math.min(plan.orders, (day + 1) * perDay); order++)
      addOrder(sides, order, date, plan)
    if (sides.held > 0) {
      sides.gateway += `${plan.id}-p${day},${date}T23:00:00Z,payout,,,,,EUR,${euros(-sides.held)},\n`
      move(sides, date, -sides.held)
      sides.rows++
    }
    rows += sides.rows
    if (!shop.write(sides.shop)) await once(shop, 'drain')
    if (!gateway.write(sides.gateway)) await once(gateway, 'drain')
  }
  let available = 0
  balances.write('currency,at,available\n')
  for (const date of [...moves.keys()].sort()) {
    available += moves.get(date) ?? 0
    balances.write(`EUR,${date},${euros(available)}\n`)
  }
  await Promise.all([shop, gateway, balances].map(stream => new Promise(resolve => stream.end(resolve))))
  return { ...files, rows, lastDay: addDays(plan.from, plan.days - 1) }
}
