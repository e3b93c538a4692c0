import { addDays, formatAmount, zoneOf } from '@culvert/core'
import type { Row } from './openhall.ts'
import { buyers, type Product, products } from './products.ts'
import { type Random, seeded } from './random.ts'

/** Kiln Lane's own shop and Saturday till, what their means of payment collected, and the bank account that these pay into. */
export interface KilnLaneShop {
  readonly fernstall: readonly Row[]
  readonly tillstone: readonly Row[]
  readonly brookpay: readonly Row[]
  readonly oddpurse: readonly Row[]
  readonly thrimble: readonly Row[]
  /** What each of the three holds at the end of each day. */
  readonly balances: Readonly<Record<Gateway, readonly Row[]>>
  readonly bank: readonly Row[]
}

/** Number of Kiln Lane's second account at Skerrymoor Mutual, as the bank writes it. */
export const shopBankNumber = 'IE00SKMR00000044714489'
const from = '2026-01-05'
/** The last day on which anything is paid through a gateway: the shop shuts for two weeks in June. */
const openTo = '2026-06-12'
const to = '2026-06-21'

type Gateway = 'brookpay' | 'oddpurse' | 'thrimble'
type Means = 'Card' | 'Oddpurse' | 'Thrimble' | 'Gift card' | 'Cash'
const gatewayOf: Partial<Record<Means, Gateway>> = { Card: 'brookpay', Oddpurse: 'oddpurse', Thrimble: 'thrimble' }

/** What a gateway takes of a payment, minor units. */
const feeOf: Record<Gateway, (amount: number) => number> = {
  brookpay: amount => Math.round(amount * 0.014) + 25,
  oddpurse: amount => Math.round(amount * 0.029) + 35,
  thrimble: amount => Math.round(amount * 0.049),
}
const prefixOf: Record<Gateway, string> = { brookpay: 'KBP', oddpurse: 'KOP', thrimble: 'KTH' }
const names: Record<Gateway, string> = { brookpay: 'BROOKPAY', oddpurse: 'ODDPURSE', thrimble: 'THRIMBLE' }
/** Left on the wallet when it pays out: clay and glaze are paid for from there. */
const keptOnWallet = 40_000

const zone = zoneOf('Europe/Dublin')
const euros = (minor: number): string => formatAmount(minor, 'EUR')
const weekday = (day: string): number => new Date(`${day}T12:00:00Z`).getUTCDay()
const isWeekend = (day: string): boolean => weekday(day) % 6 === 0
const nextWorkingDay = (day: string): string => {
  let next = addDays(day, 1)
  while (isWeekend(next)) next = addDays(next, 1)
  return next
}

/** A local time of day as a moment with its offset. */
const at = (day: string, time: string): string =>
  `${day}T${time}${zone.localDate(Date.parse(`${day}T23:30:00Z`)) === day ? '+00:00' : '+01:00'}`

interface State {
  readonly random: Random
  order: number
  line: number
  /** What is left on the gift cards sold. */
  cards: number
  cash: number
  readonly held: Record<Gateway, number>
  /** The same at the end of the day before. */
  readonly before: Record<Gateway, number>
  readonly refunds: { readonly on: string; readonly run: () => void }[]
}
type Made = { -readonly [Key in keyof KilnLaneShop]: KilnLaneShop[Key] extends readonly Row[] ? Row[] : never } & {
  readonly holdings: Record<Gateway, Row[]>
}

/** Half a year of a shop and a till, with a processor, a wallet, a pay-later service, cash and gift cards, from a seed. */
export const makeKilnLaneShop = (seed = 20_260_107): KilnLaneShop => {
  const made = {
    ...{ fernstall: [], tillstone: [], brookpay: [], oddpurse: [], thrimble: [], bank: [] },
    holdings: { brookpay: [], oddpurse: [], thrimble: [] },
  } as unknown as Made
  const none = () => ({ brookpay: 0, oddpurse: 0, thrimble: 0 })
  const state: State = {
    ...{ random: seeded(seed), order: 7000, line: 0, cards: 0, cash: 0 },
    ...{ held: none(), before: none(), refunds: [] },
  }
  for (let day = from; day <= to; day = addDays(day, 1)) {
    payOut(day, state, made)
    if (day <= openTo) trade(day, state, made)
    monthly(day, state, made)
    for (const gateway of ['brookpay', 'oddpurse', 'thrimble'] as const) {
      state.before[gateway] = state.held[gateway]
      made.holdings[gateway].push({
        ...{ source: gateway, currency: 'EUR', at: `${day}T23:59:59` },
        ...{ available: euros(state.held[gateway]), pending: '0.00', reserve: '0.00' },
      })
    }
  }
  const { holdings, bank, ...sources } = made
  const inDays = [...bank].sort((left, right) => (left.date as string).localeCompare(right.date as string))
  return {
    ...sources,
    balances: holdings,
    bank: inDays.map((row, index) => ({ ...row, line_id: `SS${String(index + 1).padStart(4, '0')}` })),
  }
}

const trade = (day: string, state: State, made: Made): void => {
  const { random } = state
  const due = state.refunds.filter(refund => refund.on === day)
  for (const refund of due) refund.run()
  if (weekday(day) === 6) {
    sellCard(day, state, made)
    for (let count = random.whole(6, 12); count > 0; count--) sellAtTill(day, state, made)
    countTill(day, state, made)
  }
  for (let count = random.whole(isWeekend(day) ? 2 : 1, 4); count > 0; count--) sellInShop(day, state, made)
}

const lineOf =
  (day: string, order: string, minute: { now: number }) =>
  (kind: string, minor: number, more: Row = {}): Row => ({
    line_id: `${order}-${kind}-${minute.now}`,
    occurred_at: at(day, clock(minute.now++)),
    ...{ kind, order_id: order, currency: 'EUR', amount: euros(minor), ...more },
  })
const clock = (minute: number): string =>
  `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}:00`

const pickProduct = (random: Random, region: string): Product => {
  // Which tax a book to France bears nobody has decided: the shop does not send any there.
  const sold = products.filter(one =>
    region === 'IE' ? true : one.category === 'Tableware' || (region === 'DE' && one.category === 'Books'),
  )
  return random.pick(
    sold,
    sold.map(one => one.weight),
  )
}

const goodsOf = (product: Product, quantity: number, region: string): Row => ({
  ...{ category: product.category, sku: product.sku, description: product.name, region },
  ...{ quantity: String(quantity), unit_price: euros(product.price) },
})

const postage: Readonly<Record<string, number>> = { IE: 650, DE: 1190, FR: 1250 }

const sellInShop = (day: string, state: State, made: Made): void => {
  const { random } = state
  const order = `K-${++state.order}`
  const region = random.pick(['IE', 'DE', 'FR'], [88, 7, 5])
  const product = pickProduct(random, region)
  const quantity = product.category === 'Tableware' && random.chance(0.25) ? 2 : 1
  const customer = random.pick(buyers)
  const line = lineOf(day, order, { now: random.whole(8 * 60, 21 * 60) })
  const price = product.price * quantity
  const shipping = product.category === 'Classes' ? 0 : (postage[region] ?? 0)
  const discount = random.chance(0.06) ? Math.round(price / 10) : 0
  const total = price + shipping - discount
  const wanted = random.pick(['Card', 'Oddpurse', 'Thrimble', 'Gift card'] as const, [58, 24, 12, 6])
  const by = wanted === 'Gift card' && total > state.cards ? 'Card' : wanted
  made.fernstall.push(
    line('sale', price, { ...goodsOf(product, quantity, region), customer }),
    ...(shipping > 0 ? [line('shipping', shipping, { region, customer })] : []),
    ...(discount > 0 ? [line('discount', -discount, { region, customer, description: 'Voucher' })] : []),
    line('tender', -total, { gateway: by, customer }),
  )
  pay(day, { order, by, amount: total, customer }, state, made)
  if (discount > 0 || !random.chance(0.04)) return
  state.refunds.push({
    on: addDays(day, 6),
    run: () => {
      const back = lineOf(addDays(day, 6), order, { now: 9 * 60 })
      made.fernstall.push(
        back('refund', -price, { ...goodsOf(product, quantity, region), customer }),
        back('tender_returned', price, { gateway: by, customer }),
      )
      pay(addDays(day, 6), { order, by, amount: -price, customer }, state, made)
    },
  })
}

/** What is paid, or given back, by a means of payment. */
const pay = (
  day: string,
  { order, by, amount, customer }: { order: string; by: Means; amount: number; customer: string },
  state: State,
  made: Made,
): void => {
  if (by === 'Gift card') state.cards -= amount
  if (by === 'Cash') state.cash += amount
  const gateway = gatewayOf[by]
  if (!gateway) return
  const more = { order_id: order, customer, method: by === 'Card' ? 'card' : '' }
  move(
    gateway,
    { kind: amount > 0 ? 'collected' : 'collected_back', at: at(day, '21:30:00'), amount, more },
    state,
    made,
  )
  if (amount > 0)
    move(
      gateway,
      { kind: 'processing_fee', at: at(day, '21:30:01'), amount: -feeOf[gateway](amount), more },
      state,
      made,
    )
}

const move = (
  gateway: Gateway,
  line: { kind: string; at: string; amount: number; more?: Row },
  state: State,
  made: Made,
): void => {
  made[gateway].push({
    line_id: `${prefixOf[gateway]}-${String(++state.line).padStart(5, '0')}`,
    ...{ occurred_at: line.at, kind: line.kind, currency: 'EUR', amount: euros(line.amount), ...line.more },
  })
  state.held[gateway] += line.amount
}

/** Every Saturday somebody buys gift cards in the shop: what is redeemed has been sold before. */
const sellCard = (day: string, state: State, made: Made): void => {
  const order = `K-G${state.order}`
  const amount = state.random.pick([2500, 5000, 7500])
  const line = lineOf(day, order, { now: 10 * 60 })
  const customer = state.random.pick(buyers)
  made.fernstall.push(
    line('gift_card_sold', amount, { description: 'Gift card', customer }),
    line('tender', -amount, { gateway: 'Card', customer }),
  )
  state.cards += amount
  pay(day, { order, by: 'Card', amount, customer }, state, made)
}

const sellAtTill = (day: string, state: State, made: Made): void => {
  const { random } = state
  const order = `T-${++state.order}`
  const product = pickProduct(random, 'IE')
  const line = lineOf(day, order, { now: random.whole(9 * 60, 16 * 60) })
  const wanted = random.pick(['Card', 'Cash', 'Gift card'] as const, [55, 40, 5])
  const by = wanted === 'Gift card' && product.price > state.cards ? 'Cash' : wanted
  // Coins below five cent are not given.
  const rounding = by === 'Cash' ? Math.round(product.price / 5) * 5 - product.price : 0
  const paid = product.price + rounding
  made.tillstone.push(
    line('sale', product.price, { ...goodsOf(product, 1, 'IE'), location: 'Saturday market' }),
    ...(rounding === 0 ? [] : [line('cash_rounding', rounding, { location: 'Saturday market' })]),
    line('tender', -paid, { gateway: by, location: 'Saturday market' }),
  )
  pay(day, { order, by, amount: paid, customer: '' }, state, made)
}

/** In the evening the drawer is counted: once a month something lacks. On Monday it is brought to the bank. */
const countTill = (day: string, state: State, made: Made): void => {
  const lacks = Number(day.slice(8)) <= 7 ? state.random.whole(1, 6) * 50 : 0
  if (lacks > 0) {
    const line = lineOf(day, `Z-${day}`, { now: 17 * 60 })
    made.tillstone.push(
      line('cash_variance', -lacks, { description: 'Drawer counted', location: 'Saturday market' }),
      line('tender_returned', lacks, { gateway: 'Cash', location: 'Saturday market' }),
    )
    state.cash -= lacks
  }
  toBank(made, { date: addDays(day, 2), amount: state.cash, description: cashText })
  state.cash = 0
}

/** How the bank writes what is brought from the Saturday till. */
export const cashText = 'CASH LODGED GALWAY'
/** And what it takes each month. */
export const chargesText = 'ACCOUNT CHARGES'

const toBank = (made: Made, row: { date: string; amount: number; description: string; reference?: string }): void => {
  made.bank.push({
    ...{ line_id: '', date: row.date, bank_account: shopBankNumber, amount: euros(row.amount), currency: 'EUR' },
    ...{ description: row.description, reference: row.reference ?? '' },
  })
}

/** The processor pays out each working day, the wallet on Fridays, the pay-later service on Thursdays: what stood there the evening before. */
const payOut = (day: string, state: State, made: Made): void => {
  const amounts: Record<Gateway, number> = {
    brookpay: isWeekend(day) ? 0 : state.before.brookpay,
    oddpurse: weekday(day) === 5 ? state.before.oddpurse - keptOnWallet : 0,
    thrimble: weekday(day) === 4 ? state.before.thrimble : 0,
  }
  for (const gateway of ['brookpay', 'oddpurse', 'thrimble'] as const) {
    const amount = amounts[gateway]
    if (amount <= 0) continue
    const number = `${prefixOf[gateway]}${day.replaceAll('-', '').slice(2)}`
    move(
      gateway,
      { kind: 'payout', at: at(day, '06:00:00'), amount: -amount, more: { description: number } },
      state,
      made,
    )
    toBank(made, { date: nextWorkingDay(day), amount, description: `${names[gateway]} ${number}` })
  }
}

/** Clay is paid for from the wallet in the middle of the month; the processor's terminal and the bank cost something. */
const monthly = (day: string, state: State, made: Made): void => {
  const date = day.slice(8)
  if (date === '15' && state.held.oddpurse > keptOnWallet / 2)
    move(
      'oddpurse',
      {
        ...{ kind: 'purchase', at: at(day, '11:00:00'), amount: -state.random.whole(96, 180) * 100 },
        more: { category: 'Clay and glaze', description: 'Clay and glaze, paid from the wallet', customer: '' },
      },
      state,
      made,
    )
  if (date === '20')
    for (const gateway of ['brookpay', 'thrimble', 'oddpurse'] as const)
      if (gateway === 'brookpay' || day > openTo)
        move(
          gateway,
          {
            ...{ kind: 'subscription_fee', at: at(day, '23:10:00'), amount: -(gateway === 'brookpay' ? 990 : 100) },
            more: { description: gateway === 'brookpay' ? 'Card terminal, a month' : 'Account, half a year' },
          },
          state,
          made,
        )
  if (date === '19') toBank(made, { date: day, amount: -250, description: chargesText })
  // The shop is shut, but for one who comes with a gift card.
  if (day === to) {
    const order = `K-${++state.order}`
    const [product] = products.filter(one => one.price <= state.cards)
    const line = lineOf(day, order, { now: 12 * 60 })
    const till = lineOf(day, `T-${++state.order}`, { now: 12 * 60 })
    if (!product) throw new Error('no gift card is left')
    made.fernstall.push(
      line('sale', product.price, { ...goodsOf(product, 1, 'IE'), customer: buyers[0] }),
      line('tender', -product.price, { gateway: 'Gift card', customer: buyers[0] }),
    )
    const book = products.find(one => one.sku === 'BOOK-1')
    if (!book) throw new Error('no such book')
    made.tillstone.push(
      till('sale', book.price, goodsOf(book, 1, 'IE')),
      till('tender', -book.price, { gateway: 'Cash' }),
    )
    state.cards -= product.price
  }
}
