import { addDays } from '@culvert/core'
import type { Row } from './openhall.ts'
import { type Random, seeded } from './random.ts'

/** Half a year of Larkwool Yarns on Openhall: a marketplace that collects sales tax and pays it over itself. */
export interface Larkwool {
  readonly lines: readonly Row[]
  readonly settlements: readonly Row[]
}

export const larkwoolFrom = '2025-12-29'
const weeks = 26

/** Where buyers live, how many of a hundred, and the percent of tax there. Oregon has none. */
const regions = [
  ['US-OR', 34, 0],
  ['US-WA', 28, 10.25],
  ['US-CA', 22, 7.25],
  ['US-NY', 16, 8.875],
] as const
const provinces = [
  ['CA-BC', 70, 5],
  ['CA-ON', 30, 13],
] as const

const yarns = [
  ['Yarn', 'YARN-DK', 'Lambswool, double knit', 1850],
  ['Yarn', 'YARN-LACE', 'Merino lace', 2600],
  ['Needles', 'NEEDLE-4', 'Circular needle, 4 mm', 1200],
  ['Patterns', 'PATT-CARDI', 'Pattern, open cardigan', 700],
] as const
const box = ['Subscription boxes', 'BOX-MONTH', 'Box of the month', 3800] as const

const money = (cents: number): string => (cents / 100).toFixed(2)

interface Order {
  readonly currency: 'USD' | 'CAD'
  readonly region: string
  readonly percent: number
  readonly goods: readonly [category: string, sku: string, description: string, price: number]
  readonly day: string
  /** A school or a shop that sells on: no tax, though its region has one. */
  readonly exempt: boolean
}

/** Weekly settlements in two currencies, from a seed: boxes in each month's first week, and weeks in Canada that cost more than they bring. */
export const makeLarkwool = (seed = 20_260_108): Larkwool => {
  const random = seeded(seed)
  const lines: Row[] = []
  const settlements: Row[] = []
  const state = { order: 40_000, line: 0 }
  for (let week = 0; week < weeks; week++) {
    const monday = addDays(larkwoolFrom, 7 * week)
    const id = `OH-L${monday.slice(2, 4)}${String(week + 1).padStart(2, '0')}`
    const moves = { USD: [] as Row[], CAD: [] as Row[] }
    for (const order of ordersOf(random, monday)) moves[order.currency].push(...linesOf(order, ++state.order))
    for (const currency of ['USD', 'CAD'] as const) {
      const own = moves[currency]
      own.push({
        kind: 'advertising_fee',
        amount: money(currency === 'USD' ? -random.whole(4, 9) * 1000 : -4500),
        occurred_at: `${addDays(monday, 6)}T20:00:00-07:00`,
        description: 'Promoted listings',
      })
      const sum = own.reduce((total, row) => total + Math.round(Number(row.amount) * 100), 0)
      // What is owed to the marketplace is drawn from a card.
      own.push({
        kind: 'payout',
        amount: money(-sum),
        occurred_at: `${addDays(monday, 6)}T21:00:00-07:00`,
        description: sum < 0 ? 'Drawn from the card' : 'Paid out',
      })
      for (const row of own)
        lines.push({ line_id: `LW-${String(++state.line).padStart(6, '0')}`, settlement_id: id, currency, ...row })
      settlements.push({
        ...{ settlement_id: id, period_start: monday, period_end: addDays(monday, 6), currency },
        ...{ opening_balance: '0.00', closing_balance: '0.00', payout_date: addDays(monday, 8) },
        ...{ payout_reference: `${id}-${currency}`, url: '' },
      })
    }
  }
  return { lines, settlements }
}

const ordersOf = (random: Random, monday: string): Order[] => {
  const orders: Order[] = []
  const day = () => addDays(monday, random.whole(0, 6))
  const american = (goods: Order['goods'], exempt: boolean): Order => {
    const [region, , percent] = random.pick(
      regions,
      regions.map(([, weight]) => weight),
    )
    return { currency: 'USD', region, percent, goods, day: day(), exempt }
  }
  for (let count = random.whole(18, 30); count > 0; count--)
    orders.push(american(random.pick(yarns), random.chance(0.06)))
  // Boxes are paid for in the first week of a month.
  if (Number(monday.slice(8, 10)) <= 7) for (let count = 0; count < 24; count++) orders.push(american(box, false))
  for (let count = random.whole(0, 4); count > 0; count--) {
    const [region, , percent] = random.pick(
      provinces,
      provinces.map(([, weight]) => weight),
    )
    orders.push({ currency: 'CAD', region, percent, goods: random.pick(yarns), day: day(), exempt: false })
  }
  return orders
}

const linesOf = ({ region, percent, goods, day, exempt }: Order, number: number): Row[] => {
  const [category, sku, description, price] = goods
  const order = String(number)
  const at = `${day}T${String(8 + (number % 12)).padStart(2, '0')}:${String(number % 60).padStart(2, '0')}:00-07:00`
  const own = { order_id: order, region, occurred_at: at }
  const tax = exempt ? 0 : Math.round((price * percent) / 100)
  const label = exempt ? 'exempt, certificate' : `${percent} % ${region}`
  return [
    { ...own, kind: 'sale', amount: money(price), category, sku, description, quantity: '1', tax_label: label },
    ...(tax === 0
      ? []
      : [
          { ...own, kind: 'tax', amount: money(tax), tax_label: label },
          {
            ...own,
            kind: 'tax_withheld',
            amount: money(-tax),
            tax_label: label,
            description: 'Paid over by the marketplace',
          },
        ]),
    { order_id: order, occurred_at: at, kind: 'selling_fee', amount: money(-Math.round(price * 0.12) - 25) },
  ]
}

/** What one of the other currency is worth, month by month. */
export const larkwoolRates = ['2025-12', '2026-01', '2026-02', '2026-03', '2026-04', '2026-05', '2026-06'].map(
  (month, at) => ({
    ...{ date: `${month}-01`, from: 'CAD', to: 'USD' },
    rate: (0.725 + at * 0.003).toFixed(4),
  }),
)
