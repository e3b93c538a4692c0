import { addDays, formatAmount, zoneOf } from '@culvert/core'
import { buyers, products } from './products.ts'
import { type Random, seeded } from './random.ts'

/** A line of activity as activity.csv has it, by column; absent is empty. */
export type Row = Record<string, string>

export interface Marketplace {
  /** In the order in which the marketplace came to know them. */
  readonly lines: readonly Row[]
  readonly settlements: readonly Row[]
  /** What the marketplace holds at the end of each day. */
  readonly balances: readonly Row[]
  readonly payouts: readonly Payout[]
}

export interface Payout {
  readonly settlementId: string
  readonly week: number
  readonly date: string
  readonly amount: number
}

export interface MarketplaceOptions {
  readonly seed: number
  /** A Monday. */
  readonly from: string
  readonly weeks: number
  readonly ordersPerWeek: number
  /** From this week on (1 is the first) buyers pay for gift wrap. */
  readonly giftWrapFrom: number
  /** Weeks that pay out exactly what the week before did. */
  readonly samePayoutAs: readonly number[]
  /** Week of an advance, paid back over the eight weeks after it; 0: none. */
  readonly advanceWeek: number
  /** Week of a chargeback; 0: none. */
  readonly chargebackWeek: number
}

const zone = zoneOf('Europe/Dublin')
const euros = (minor: number): string => formatAmount(minor, 'EUR')

interface Movement {
  readonly kind: string
  readonly amount: number
  readonly at: string
  readonly more?: Row
}

/** Makes a marketplace's activity: weekly settlements, from a seed. */
export const makeMarketplace = (options: MarketplaceOptions): Marketplace => {
  const random = seeded(options.seed)
  const state = { order: 90_000, line: 0, reserve: 0, advance: 0, lastPayout: 0 }
  const lines: Row[] = []
  const settlements: Row[] = []
  const payouts: Payout[] = []
  for (let week = 1; week <= options.weeks; week++) {
    const monday = addDays(options.from, 7 * (week - 1))
    const id = settlementId(monday)
    const moves = weekOf(random, options, { week, monday, state })
    const sum = moves.reduce((total, move) => total + move.amount, 0)
    const end = `${addDays(monday, 6)}T21:30:00Z`
    const payout = options.samePayoutAs.includes(week) ? state.lastPayout : null
    if (payout !== null) moves.push(madeEqual(payout - sum, end, state))
    const paid = payout ?? sum
    moves.push({ kind: 'payout', amount: -paid, at: `${addDays(monday, 6)}T22:00:00Z` })
    state.lastPayout = paid
    moves.sort((left, right) => (left.at < right.at ? -1 : left.at > right.at ? 1 : 0))
    for (const move of moves) lines.push(rowOf(move, `OH-${String(++state.line).padStart(6, '0')}`, id))
    settlements.push({
      settlement_id: id,
      period_start: monday,
      period_end: addDays(monday, 6),
      currency: 'EUR',
      opening_balance: '0.00',
      closing_balance: '0.00',
      payout_date: addDays(monday, 8),
      payout_reference: id.replace('OH-', 'OHP-'),
      url: '',
    })
    payouts.push({ settlementId: id, week, date: addDays(monday, 8), amount: paid })
  }
  return { lines, settlements, balances: balancesOf(lines), payouts }
}

/** What brings a week's payout to that of the week before: more is kept back, or a lost consignment is paid for. Released is only what is held. */
const madeEqual = (difference: number, at: string, state: { reserve: number }): Movement => {
  if (difference > 0)
    return { kind: 'adjustment', amount: difference, at, more: { description: 'Lost consignment, paid for' } }
  state.reserve -= difference
  return { kind: 'reserve_kept', amount: difference, at, more: { description: 'Kept back until reviewed' } }
}

/** OH- with year and week of its Sunday: OH-2611 is the 11th week of 2026. */
const settlementId = (monday: string): string => {
  const sunday = addDays(monday, 6)
  const dayOfYear = (Date.parse(sunday) - Date.parse(`${sunday.slice(0, 4)}-01-01`)) / 86_400_000
  return `OH-${sunday.slice(2, 4)}${String(Math.floor(dayOfYear / 7) + 1).padStart(2, '0')}`
}

const rowOf = (move: Movement, lineId: string, settlement: string): Row => ({
  line_id: lineId,
  settlement_id: settlement,
  occurred_at: move.at,
  kind: move.kind,
  currency: 'EUR',
  amount: euros(move.amount),
  ...move.more,
})

interface WeekContext {
  readonly week: number
  readonly monday: string
  readonly state: { order: number; reserve: number; advance: number }
}

const weekOf = (random: Random, options: MarketplaceOptions, context: WeekContext): Movement[] => {
  const { week, monday, state } = context
  const moves: Movement[] = []
  // Spring brings more buyers, and no two weeks are alike.
  const orders = Math.round(options.ordersPerWeek * (0.85 + 0.3 * random.next() + (week % 9 === 0 ? 0.15 : 0)))
  for (let count = 0; count < orders; count++)
    moves.push(...orderOf(random, options, { ...context, order: String(++state.order) }))
  const end = (minute: number) => `${addDays(monday, 6)}T21:${String(minute).padStart(2, '0')}:00Z`
  const gross = moves.reduce((sum, move) => sum + move.amount, 0)
  moves.push({
    kind: 'advertising_fee',
    amount: -random.whole(12, 24) * 500,
    at: end(0),
    more: { description: 'Promoted listings' },
  })
  if (week % 4 === 1)
    moves.push({
      kind: 'subscription_fee',
      amount: -3900,
      at: `${monday}T06:00:00Z`,
      more: { description: 'Shop plan, a month' },
    })
  if (state.reserve > 0)
    moves.push({
      kind: 'reserve_released',
      amount: state.reserve,
      at: `${monday}T07:00:00Z`,
      more: { description: 'Reserve of last week' },
    })
  state.reserve = Math.round((gross / 100) * 5)
  moves.push({
    kind: 'reserve_kept',
    amount: -state.reserve,
    at: end(10),
    more: { description: 'Reserve, 5 % of the week' },
  })
  moves.push(...rareMoves(random, options, { ...context, end }))
  return moves
}

const rareMoves = (
  random: Random,
  options: MarketplaceOptions,
  { week, monday, state, end }: WeekContext & { end: (minute: number) => string },
): Movement[] => {
  const moves: Movement[] = []
  if (week === options.advanceWeek) {
    state.advance = 160_000
    moves.push({
      kind: 'advance_received',
      amount: 160_000,
      at: `${monday}T08:00:00Z`,
      more: { description: 'Advance on coming sales' },
    })
  } else if (options.advanceWeek > 0 && week > options.advanceWeek && state.advance > 0) {
    state.advance -= 20_000
    moves.push({
      kind: 'advance_repaid',
      amount: -20_000,
      at: end(15),
      more: { description: 'Advance, one of eight parts' },
    })
  }
  if (week === options.chargebackWeek) {
    const order = String(state.order - 300)
    moves.push({
      kind: 'chargeback',
      amount: -7900,
      at: `${addDays(monday, 2)}T10:12:00Z`,
      more: { order_id: order, region: 'IE', category: 'Tableware' },
    })
    moves.push({
      kind: 'chargeback_fee',
      amount: -1240,
      at: `${addDays(monday, 2)}T10:12:00Z`,
      more: { order_id: order },
    })
  }
  if (random.chance(0.25))
    moves.push({
      kind: 'adjustment',
      amount: random.whole(4, 30) * 65,
      at: `${addDays(monday, 3)}T11:00:00Z`,
      more: { description: 'Lost parcel' },
    })
  return moves
}

const postage: Record<string, number> = { IE: 650, DE: 1190, FR: 1250 }

const orderOf = (random: Random, options: MarketplaceOptions, context: WeekContext & { order: string }): Movement[] => {
  const { order, week, monday } = context
  const region = random.pick(['IE', 'DE', 'FR'], [78, 13, 9])
  const product =
    region === 'IE'
      ? random.pick(
          products,
          products.map(one => one.weight),
        )
      : random.pick(products.slice(0, 9))
  const quantity = product.category === 'Tableware' && random.chance(0.2) ? random.whole(2, 4) : 1
  const at = `${addDays(monday, random.whole(0, 6))}T${String(random.whole(6, 20)).padStart(2, '0')}:${String(random.whole(0, 59)).padStart(2, '0')}:${String(random.whole(0, 59)).padStart(2, '0')}Z`
  const price = product.price * quantity
  const item = { order_id: order, category: product.category, sku: product.sku, region }
  const moves: Movement[] = [
    {
      kind: 'sale',
      amount: price,
      at,
      more: {
        ...item,
        description: product.name,
        quantity: String(quantity),
        unit_price: euros(product.price),
        customer: random.pick(buyers),
      },
    },
  ]
  const sent = product.category !== 'Classes'
  if (sent && random.chance(0.62))
    moves.push({ kind: 'shipping', amount: postage[region] as number, at, more: { order_id: order, region } })
  if (random.chance(0.09))
    moves.push({ kind: 'discount', amount: -Math.round(price / 10), at, more: { ...item, description: 'Voucher' } })
  if (sent && week >= options.giftWrapFrom && random.chance(0.06))
    moves.push({
      kind: 'other_charge',
      amount: 260,
      at,
      more: { order_id: order, category: 'Gift wrap', description: 'Gift wrap, plain', region },
    })
  moves.push({
    kind: 'selling_fee',
    amount: -Math.round(price * 0.12) - 25,
    at,
    more: { order_id: order },
  })
  if (sent && random.chance(0.1))
    moves.push({ kind: 'fulfilment_fee', amount: -random.pick([310, 445, 590]), at, more: { order_id: order } })
  if (random.chance(0.025)) {
    const back = `${addDays(monday, 6)}T${at.slice(11)}`
    moves.push({ kind: 'refund', amount: -price, at: back, more: { ...item, description: `${product.name} returned` } })
    moves.push({
      kind: 'fee_refund',
      amount: Math.round(price * 0.12),
      at: back,
      more: { order_id: order },
    })
  }
  return moves
}

/** At the end of each local day: all lines so far. The reserve is held apart. */
const balancesOf = (lines: readonly Row[]): Row[] => {
  const days = new Map<string, { available: number; reserve: number }>()
  let available = 0
  let reserve = 0
  const inTime = [...lines].sort((left, right) =>
    (left.occurred_at as string) < (right.occurred_at as string) ? -1 : 1,
  )
  for (const line of inTime) {
    const amount = Math.round(Number(line.amount) * 100)
    available += amount
    if (line.kind === 'reserve_kept' || line.kind === 'reserve_released') reserve -= amount
    days.set(zone.localDate(Date.parse(line.occurred_at as string)), { available, reserve })
  }
  return [...days]
    .sort(([left], [right]) => (left < right ? -1 : 1))
    .map(([date, sums]) => ({
      source: 'openhall',
      currency: 'EUR',
      at: `${date} 23:59`,
      available: euros(sums.available),
      pending: '0.00',
      reserve: euros(sums.reserve),
    }))
}
