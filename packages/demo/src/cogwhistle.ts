import { addDays, formatAmount } from '@culvert/core'
import { cogwhistleFrom, cogwhistleNumber, cogwhistleTaxes, cogwhistleTo } from './cogwhistleSetup.ts'
import type { Row } from './openhall.ts'
import { type Random, seeded } from './random.ts'
import { taxBankLines } from './taxPayments.ts'

export interface Cogwhistle {
  readonly shop: readonly Row[]
  /** The shop's report of the day that never came. */
  readonly shopMissing: readonly Row[]
  readonly gateway: readonly Row[]
  /** What Brookpay holds at the end of each day. */
  readonly balances: readonly Row[]
  readonly bank: readonly Row[]
}

const dollars = (minor: number): string => formatAmount(minor, 'CAD')
const parts = ['Chain, 9-speed', 'Brake pads', 'Inner tube', 'Freewheel', 'Saddle', 'Bell, brass', 'Pedals'] as const
const people = [
  'A. Marchbank',
  'Odile Fairweather',
  'T. Kestrel',
  'Noor Halloway',
  'P. Sedgewick',
  'Lise Quarrie',
] as const

/** What real life did to these days; docs/demo.md says where each shows. */
const faults = {
  /** The shop's report of this day never came, though people paid. */
  dayWithoutReport: '2026-05-27',
  /** An order of this day was said to be paid, and never was. */
  neverCollected: '2026-06-10',
  /** An order of this day is not paid yet. */
  unpaid: '2026-06-04',
  /** Collected 2.00 below what the order says. */
  shortCollection: '2026-06-09',
  /** Somebody paid without any order. */
  direct: '2026-06-16',
  /** A refund was promised and has not gone out. */
  refundNotPaid: '2026-06-15',
  /** The payout of this day bounces, and is sent again after two days. */
  bounced: '2026-05-19',
  returned: '2026-05-21',
  sentAgain: '2026-05-22',
  /** An order of this day is paid under a number of the gateway's own, and the name is written the other way round. */
  otherSpelling: '2026-06-03',
  /** A cheque that the bookkeeper before put on the gateway's account by hand. */
  cheque: '2026-05-12',
  /** Two payouts of following days come as one deposit. */
  joined: '2026-06-08',
  /** The bank between keeps 2.50 of this day's payout. */
  feeCut: '2026-06-11',
  /** The bank writes another name for once. */
  otherWording: '2026-06-12',
}

/** A workshop with a web shop and a gateway that pays out every working day, with the faults that real life has. */
export const makeCogwhistle = (seed = 20_260_302): Cogwhistle => {
  const random = seeded(seed)
  const made: Made = { shop: [], shopMissing: [], gateway: [], payouts: [], bounced: [] }
  const balances: Row[] = []
  const state = { order: 5000, line: 0, held: 0, before: 0, cards: 0, card: 0 }
  for (let day = cogwhistleFrom; day <= cogwhistleTo; day = addDays(day, 1)) {
    payOut(day, state, made)
    if (day === cogwhistleFrom || weekday(day) === 6) sellCard(day, state, made)
    const orders = random.whole(isWeekend(day) ? 3 : 6, isWeekend(day) ? 6 : 12)
    for (let count = 0; count < orders; count++) addOrder(random, { day, first: count === 0 }, state, made)
    if (day === faults.direct) collect({ day, order: 'D-17', amount: 18_000, customer: 'R. Thornbury' }, state, made)
    state.before = state.held
    balances.push({
      source: 'brookpay',
      currency: 'CAD',
      at: `${day}T23:59:59`,
      available: dollars(state.held),
      pending: '0.00',
      reserve: '0.00',
    })
  }
  const bank = [
    ...bankOf(made, random),
    ...customerLines(made.shop, seeded(seed + 1)),
    ...taxBankLines(cogwhistleTaxes, { prefix: 'CWT', account: cogwhistleNumber, currency: 'CAD' }),
  ].sort((left, right) => (left.date as string).localeCompare(right.date as string))
  return { shop: made.shop, shopMissing: made.shopMissing, gateway: made.gateway, balances, bank }
}

interface Paid {
  readonly day: string
  readonly amount: number
}
interface State {
  order: number
  line: number
  /** What Brookpay holds now, and at the end of the day before. */
  held: number
  before: number
  /** What is left on the gift cards sold, and how many were. */
  cards: number
  card: number
}
interface Made {
  readonly shop: Row[]
  readonly shopMissing: Row[]
  readonly gateway: Row[]
  readonly payouts: Paid[]
  /** Payouts that the bank sent back. */
  readonly bounced: Paid[]
}

const weekday = (day: string): number => new Date(`${day}T12:00:00Z`).getUTCDay()
const isWeekend = (day: string): boolean => weekday(day) % 6 === 0
const offset = (day: string): string => (day < '2026-03-08' ? '-05:00' : '-04:00')

/** On working days what stood there the evening before goes to the bank, early in the morning. */
const payOut = (day: string, state: State, made: Made): void => {
  if (isWeekend(day) || state.before <= 0) return
  const bounced = made.payouts.find(payout => payout.day === faults.bounced)
  const again = day === faults.sentAgain && bounced ? [bounced.amount] : []
  for (const amount of [state.before - sumOf(again), ...again]) {
    made.gateway.push(gatewayLine(state, { kind: 'payout', at: `${day}T06:00:00`, day, amount: -amount }))
    made.payouts.push({ day, amount })
    state.held -= amount
  }
  if (day !== faults.returned || !bounced) return
  const { amount } = bounced
  made.gateway.push(
    gatewayLine(state, {
      kind: 'payout_returned',
      at: `${day}T10:00:00`,
      day,
      amount,
      more: { description: 'Payout sent back by the bank' },
    }),
  )
  made.bounced.push({ day, amount })
  state.held += amount
}

const sumOf = (amounts: readonly number[]): number => amounts.reduce((sum, amount) => sum + amount, 0)

/** Every Saturday somebody buys a gift card, and as the books begin a firm buys several: what is redeemed has been sold before. */
const sellCard = (day: string, state: State, made: Made): void => {
  const amount = day === cogwhistleFrom ? 50_000 : 12_500
  const order = `G-${++state.card}`
  const customer = day === cogwhistleFrom ? 'Kettle Row Co-op' : 'A. Marchbank'
  const line = (kind: string, minor: number, more: Row = {}): Row => ({
    line_id: `${order}-${kind}`,
    occurred_at: `${day}T10:00:00${offset(day)}`,
    kind,
    order_id: order,
    customer,
    currency: 'CAD',
    amount: dollars(minor),
    ...more,
  })
  made.shop.push(
    line('gift_card_sold', amount, { description: 'Gift card' }),
    line('tender', -amount, { gateway: 'Card' }),
  )
  collect({ day, order, amount, customer }, state, made)
  state.cards += amount
}

const gatewayLine = (
  state: State,
  line: { kind: string; at: string; day: string; amount: number; more?: Row },
): Row => ({
  line_id: `BP-${String(++state.line).padStart(5, '0')}`,
  occurred_at: `${line.at}${offset(line.day)}`,
  kind: line.kind,
  currency: 'CAD',
  amount: dollars(line.amount),
  ...line.more,
})

const collect = (
  paid: { day: string; order: string; amount: number; customer: string },
  state: State,
  made: Made,
): void => {
  const { day, amount } = paid
  const more = { order_id: paid.order, customer: paid.customer, method: 'card' }
  const fee = Math.round(amount * 0.029) + 30
  made.gateway.push(
    gatewayLine(state, { kind: 'collected', at: `${day}T18:00:00`, day, amount, more }),
    gatewayLine(state, { kind: 'processing_fee', at: `${day}T18:00:01`, day, amount: -fee, more }),
  )
  state.held += amount - fee
}

const addOrder = (random: Random, { day, first }: { day: string; first: boolean }, state: State, made: Made): void => {
  const order = `F-${++state.order}`
  const customer = random.pick(people)
  const quebec = random.chance(0.15)
  const repair = !quebec && random.chance(0.25)
  const net = repair ? random.whole(40, 160) * 100 : random.whole(9, 95) * 100 + random.pick([0, 49, 95])
  const shipping = repair ? 0 : 950
  const tax = Math.round((net + shipping) * (quebec ? 0.14975 : 0.13))
  const total = net + shipping + tax
  const wanted = random.pick(['Card', 'Gift card', 'Bank transfer'] as const, [92, 3, 5])
  // A card pays no more than what is left on those that were sold.
  const by = wanted === 'Gift card' && total > state.cards ? 'Card' : wanted
  if (by === 'Gift card') state.cards -= total
  let minute = random.whole(9 * 60, 20 * 60)
  const line = (kind: string, amount: number, more: Row = {}): Row => ({
    line_id: `${order}-${kind}`,
    occurred_at: `${day}T${clock(minute++)}${offset(day)}`,
    kind,
    order_id: order,
    region: quebec ? 'CA-QC' : 'CA-ON',
    customer,
    currency: 'CAD',
    amount: dollars(amount),
    ...more,
  })
  const lines = [
    line('sale', net, {
      category: repair ? 'Repairs' : 'Parts',
      description: repair ? 'Repair at the bench' : random.pick(parts),
    }),
    ...(shipping > 0 ? [line('shipping', shipping)] : []),
    line('tax', tax, { tax_label: quebec ? 'GST + QST' : 'HST' }),
    ...(first && day === faults.unpaid ? [] : [line('tender', -total, { gateway: by })]),
  ]
  if (first && day === faults.refundNotPaid)
    lines.push(
      line('refund', -net, { category: 'Parts' }),
      line('tax_refund', -tax + Math.round(shipping * 0.13), { tax_label: 'HST' }),
      line('tender_returned', net + tax - Math.round(shipping * 0.13), { gateway: 'Card' }),
    )
  const report = day === faults.dayWithoutReport ? made.shopMissing : made.shop
  report.push(...lines)
  const unpaid = first && (day === faults.neverCollected || day === faults.unpaid)
  if (by !== 'Card' || unpaid) return
  const short = first && day === faults.shortCollection ? 200 : 0
  const other = first && day === faults.otherSpelling
  const paidAs = other ? { order: 'BPX-3071', customer: reversed(customer) } : { order, customer }
  collect({ day, amount: total - short, ...paidAs }, state, made)
}

/** A name as a bank writes it: `Odile Fairweather` is `FAIRWEATHER, ODILE`. */
const reversed = (name: string): string => {
  const words = name.toUpperCase().split(' ')
  return `${words.at(-1)}, ${words.slice(0, -1).join(' ')}`
}

const clock = (minute: number): string =>
  `${String(Math.floor(minute / 60) % 24).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}:00`

/** The bank's words for the cheque that somebody booked to the gateway's account. */
export const chequeText = 'CHEQUE 000341'

/** A deposit the next working day for each payout, joined, cut or under another name where life was so; and the bank's own charges. */
const bankOf = ({ payouts, bounced }: Made, random: Random): Row[] => {
  const rows: { date: string; amount: number; description: string }[] = []
  let carried = 0
  for (const { day, amount } of payouts) {
    if (day === faults.joined) {
      carried = amount
      continue
    }
    const cut = day === faults.feeCut ? 250 : 0
    const name = day === faults.otherWording ? 'SKM TRANSFER CENTRE' : 'BROOKPAY'
    rows.push({
      date: nextWorkingDay(day),
      amount: amount + carried - cut,
      description: `${name} ${random.whole(100_000, 999_999)}`,
    })
    carried = 0
  }
  for (const { day, amount } of bounced) rows.push({ date: day, amount: -amount, description: 'BROOKPAY RETURNED' })
  rows.push({ date: faults.cheque, amount: 6420, description: chequeText })
  for (const month of ['2026-03', '2026-04', '2026-05', '2026-06'])
    rows.push({ date: `${month}-05`, amount: -1200, description: 'MONTHLY CHARGES' })
  return rows
    .sort((left, right) => (left.date < right.date ? -1 : left.date > right.date ? 1 : 0))
    .map((row, index) => ({
      line_id: `CW${String(index + 1).padStart(4, '0')}`,
      date: row.date,
      bank_account: cogwhistleNumber,
      amount: dollars(row.amount),
      currency: 'CAD',
      description: row.description,
      reference: '',
    }))
}

/** How the bank writes what a customer sends: with the order that they name. */
export const customerText = /^TRANSFER FROM .* (F-\d+|FEBRUARY)$/

/** Four in five customers who pay by transfer have done so, some days after their order; one still owed something as the books began. */
const customerLines = (shop: readonly Row[], random: Random): Row[] => {
  const line = (date: string, from: string, order: string, amount: string): Row => ({
    line_id: `CWC-${order}`,
    date,
    bank_account: cogwhistleNumber,
    amount,
    currency: 'CAD',
    description: `TRANSFER FROM ${from.toUpperCase()} ${order}`,
    reference: '',
  })
  const paid = shop
    .filter(row => row.kind === 'tender' && row.gateway === 'Bank transfer' && random.chance(0.8))
    .map(row =>
      line(
        nextWorkingDay(addDays((row.occurred_at as string).slice(0, 10), random.whole(1, 8))),
        row.customer as string,
        row.order_id as string,
        (row.amount as string).replace('-', ''),
      ),
    )
  return [line('2026-03-06', 'Kettle Row Co-op', 'FEBRUARY', '286.30'), ...paid].filter(
    row => (row.date as string) <= cogwhistleTo,
  )
}

const nextWorkingDay = (day: string): string => {
  let next = addDays(day, 1)
  while (isWeekend(next)) next = addDays(next, 1)
  return next
}
