import { bankNumber, makeBank } from './bank.ts'
import { taxPayments } from './kilnLaneBooks.ts'
import { makeMarketplace, type Row } from './openhall.ts'
import { products } from './products.ts'
import { taxBankLines } from './taxPayments.ts'

/** The last Sunday that the books know when the demo begins; two more weeks wait at the marketplace. */
export const loadedTo = '2026-06-21'
/** Settlements that end by this date are posted when the demo begins. */
export const postedTo = '2026-05-31'
export const weeks = 27

const account = (code: string, name: string, type: string, number: string | null = null) => ({
  code,
  name,
  type,
  currency: 'EUR',
  bankNumber: number,
})

export const accounts = [
  account('1000', 'Skerrymoor current account 4471', 'bank', bankNumber),
  account('1210', 'Openhall clearing', 'clearing'),
  account('1300', 'Reserve kept by Openhall', 'current_asset'),
  account('1320', 'Disputed payments', 'current_asset'),
  account('1500', 'Kilns and wheels', 'fixed_asset'),
  account('2200', 'VAT payable', 'tax'),
  account('2210', 'VAT on purchases', 'tax'),
  account('2220', 'VAT other EU countries', 'tax'),
  account('2400', 'Advance from Openhall', 'current_liability'),
  account('3000', 'Owner’s equity', 'equity'),
  account('4000', 'Sales, tableware', 'income'),
  account('4010', 'Sales, glaze kits', 'income'),
  account('4020', 'Sales, classes', 'income'),
  account('4030', 'Sales, books', 'income'),
  account('4100', 'Shipping charged', 'income'),
  account('4200', 'Sales returns', 'income'),
  account('4210', 'Discounts given', 'income'),
  account('5000', 'Clay and glaze', 'cost_of_sales'),
  account('6000', 'Selling fees', 'expense'),
  account('6010', 'Advertising', 'expense'),
  account('6020', 'Fulfilment fees', 'expense'),
  account('6030', 'Subscriptions', 'expense'),
  account('6040', 'Chargeback fees', 'expense'),
  account('6900', 'Small differences', 'expense'),
  account('7000', 'Compensation for losses', 'other_income'),
  account('7900', 'Exchange rounding', 'other_income'),
]

const taxCode = (code: string, name: string, percent: string, taxAccount: string) => ({
  code,
  name,
  country: /^(DE|FR)/.exec(code)?.[0] ?? 'IE',
  treatment: percent === '0' ? 'zero' : 'taxed',
  basis: 'inclusive',
  use: 'sales',
  reverseCharge: false,
  components: [
    { name: 'VAT', account: taxAccount, inputAccount: null, compound: false, rates: [{ from: '2020-01-01', percent }] },
  ],
})

/** A code whose only component changes its rate on a day. */
const withRate = (code: ReturnType<typeof taxCode>, rate: { from: string; percent: string }) => ({
  ...code,
  components: code.components.map(one => ({ ...one, rates: [...one.rates, rate] })),
})

/** The reduced rate falls in the middle of a quarter, and of a week: made up, so that a change of rate can be seen; the code's name says so. */
const reducedRateFrom = '2026-05-14'

export const taxCodes = [
  taxCode('S23', 'VAT 23', '23', '2200'),
  withRate(taxCode('S13', 'VAT, reduced rate (its change is made up)', '13.5', '2200'), {
    from: reducedRateFrom,
    percent: '9',
  }),
  taxCode('S0', 'VAT 0', '0', '2200'),
  taxCode('DE19', 'German VAT 19', '19', '2220'),
  taxCode('DE7', 'German VAT, reduced rate', '7', '2220'),
  taxCode('FR20', 'French VAT 20', '20', '2220'),
  taxCode('FR5', 'French VAT, reduced rate', '5.5', '2220'),
  { ...taxCode('P23', 'VAT 23 on purchases', '23', '2210'), use: 'purchases' },
  {
    code: 'RC23',
    name: 'VAT 23 reverse charge',
    treatment: 'taxed',
    basis: 'none',
    use: 'purchases',
    country: 'IE',
    reverseCharge: true,
    components: [
      {
        name: 'VAT',
        account: '2200',
        inputAccount: '2210',
        compound: false,
        rates: [{ from: '2020-01-01', percent: '23' }],
      },
    ],
  },
]

const route = (kind: string, to: string, code: string | null, more: Record<string, string> = {}) => ({
  routeId: null,
  kind,
  account: to,
  taxCode: code,
  ...more,
})

/** Every kind that Openhall reports but gift wrap, which nobody has mapped yet. Which tax a supply bears is the grid's. */
export const routes = [
  route('sale', '4000', null),
  route('sale', '4010', null, { category: 'Glaze kits' }),
  route('sale', '4020', null, { category: 'Classes' }),
  route('sale', '4030', null, { category: 'Books' }),
  route('refund', '4200', null),
  route('discount', '4210', null),
  route('shipping', '4100', null),
  route('chargeback', '1320', null),
  route('selling_fee', '6000', 'RC23'),
  route('fee_refund', '6000', 'RC23'),
  route('advertising_fee', '6010', 'RC23'),
  route('fulfilment_fee', '6020', 'RC23'),
  route('subscription_fee', '6030', 'RC23'),
  route('chargeback_fee', '6040', null),
  route('reserve_kept', '1300', null),
  route('reserve_released', '1300', null),
  route('advance_received', '2400', null),
  route('advance_repaid', '2400', null),
  route('adjustment', '7000', null),
]

const classOf = (category: string, name: string) => ({ category, sku: null, class: name })
export const classes = [
  classOf('Tableware', 'goods'),
  classOf('Glaze kits', 'goods'),
  classOf('Gift wrap', 'goods'),
  classOf('Books', 'books'),
  classOf('Classes', 'courses'),
]

const taxRow = (region: string, name: string, code: string) => ({ region, class: name, code })
/** What is sold where, and the tax it bears. Nobody has decided books to France: they are sold there for the first time in June. */
export const taxRows = [
  taxRow('IE', 'goods', 'S23'),
  taxRow('IE', 'courses', 'S13'),
  taxRow('IE', 'books', 'S0'),
  taxRow('DE', 'goods', 'DE19'),
  taxRow('DE', 'books', 'DE7'),
  taxRow('FR', 'goods', 'FR20'),
]

const incomeOf = { Tableware: '4000', 'Glaze kits': '4010', Classes: '4020', Books: '4030' } as const

/** What the ledger knows of the products: one under a code of its own, so that its title finds it, and one book not at all. */
export const items = products
  .filter(product => product.sku !== 'BOOK-2')
  .map(({ sku, name, category }) => ({
    code: sku === 'MUG-W' ? '10-441' : sku,
    name,
    otherNames: [],
    account: incomeOf[category],
    taxCode: null,
    costs: [],
  }))

export interface Demo {
  /** What the books know when the demo begins. */
  readonly loaded: {
    readonly lines: readonly Row[]
    readonly settlements: readonly Row[]
    readonly balances: readonly Row[]
  }
  /** What the marketplace's stand-in knows, in the order in which it came to know it. */
  readonly standIn: {
    readonly lines: readonly Row[]
    readonly settlements: readonly Row[]
    readonly balances: readonly Row[]
  }
  /** Bank lines that are brought in at the beginning, and those of the statement files to be brought in. */
  readonly bankLoaded: readonly Row[]
  readonly bankStatement: readonly Row[]
}

/** A line that the marketplace reports late, so that its settlement does not foot until it is pulled. */
const lateLine = { week: 24, kind: 'adjustment' }
/** A sale and its fee that come back changed after they were posted: the price was entered wrong. */
const correctedWeek = 20

/** Six months of Kiln Lane Ceramics on Openhall, with the faults that real life has. docs/demo.md says which. */
export const makeKilnLane = (seed = 20_260_105): Demo => {
  const made = makeMarketplace({
    seed,
    from: '2025-12-29',
    weeks,
    ordersPerWeek: 162,
    giftWrapFrom: 23,
    samePayoutAs: [22],
    advanceWeek: 7,
    chargebackWeek: 14,
  })
  const market = withDestinations(withLateLine(made))
  const idOfWeek = (week: number) => market.settlements[week - 1]?.settlement_id
  const isLoaded = (row: Row) => (row.settlement_id ?? '') <= (idOfWeek(25) ?? '')
  const isLate = (row: Row) => row.settlement_id === idOfWeek(lateLine.week) && row.description === 'Parcel found'
  const first = market.lines.filter(row => isLoaded(row) && !isLate(row))
  const later = market.lines.filter(row => !isLoaded(row))
  const bank = makeBank(market.payouts, {
    seed: seed + 1,
    splitWeeks: [12],
    lags: { 21: 3, 22: 0 },
    othersFrom: '2026-06-01',
    to: '2026-07-05',
  })
  return {
    loaded: {
      lines: first,
      settlements: market.settlements.slice(0, 25),
      balances: market.balances.filter(row => (row.at as string).slice(0, 10) <= loadedTo),
    },
    standIn: {
      lines: [...first, ...market.lines.filter(isLate), ...corrections(first, idOfWeek(correctedWeek) ?? ''), ...later],
      settlements: market.settlements,
      balances: market.balances,
    },
    bankLoaded: inDays([
      ...bank.filter(row => (row.date as string) <= postedTo),
      ...taxBankLines(taxPayments, { prefix: 'SKT', account: bankNumber, currency: 'EUR' }),
    ]),
    bankStatement: bank.filter(row => (row.date as string) > postedTo),
  }
}

const inDays = (rows: readonly Row[]): Row[] =>
  [...rows].sort((left, right) => (left.date as string).localeCompare(right.date as string))

/** A book goes to France for the first time in this week, and nobody has decided its tax. */
const bookToFrance = 23
/** An order of this week holds tableware and a book, so that its postage is taxed in parts. */
const mixedWeek = 18
/** A course of before the reduced rate fell is paid back after it, in this week. */
const courseBackWeek = 22

// Nothing here changes what a week comes to: regions, categories and orders do, and one sale becomes two.
const withDestinations = (market: ReturnType<typeof makeMarketplace>): typeof market => {
  const idOf = (week: number) => market.settlements[week - 1]?.settlement_id
  const { lines } = market
  const of = (week: number) => lines.filter(row => row.settlement_id === idOf(week))
  const sent = new Set(of(bookToFrance).flatMap(row => (row.kind === 'shipping' ? (row.order_id ?? []) : [])))
  const book = of(bookToFrance).find(
    row => row.kind === 'sale' && row.category === 'Books' && sent.has(row.order_id ?? ''),
  )
  const posted = new Set(of(mixedWeek).flatMap(row => (row.kind === 'shipping' ? (row.order_id ?? []) : [])))
  const pair = of(mixedWeek).find(
    row => row.kind === 'sale' && row.quantity === '2' && row.region === 'IE' && posted.has(row.order_id ?? ''),
  )
  const back = of(courseBackWeek).find(row => row.kind === 'refund' && row.region === 'IE')
  const course = lines.find(
    row =>
      row.kind === 'sale' &&
      row.category === 'Classes' &&
      (row.occurred_at as string) > '2026-05-01' &&
      (row.occurred_at as string) < reducedRateFrom &&
      Number(row.amount) >= -Number(back?.amount ?? 0),
  )
  return {
    ...market,
    lines: lines.flatMap((row): Row[] => {
      if (book && row.order_id === book.order_id && row.region) return [{ ...row, region: 'FR' }]
      if (row === pair) return halved(row)
      if (
        back &&
        course &&
        row.order_id === back.order_id &&
        row.settlement_id === back.settlement_id &&
        /refund/.test(row.kind ?? '')
      )
        return [
          {
            ...row,
            order_id: course.order_id ?? '',
            ...(row === back && {
              category: 'Classes',
              sku: course.sku ?? '',
              description: 'Course paid back',
            }),
          },
        ]
      return [row]
    }),
  }
}

/** Two pieces at one price: the second is a book. */
const halved = (row: Row): Row[] => {
  const half = (Number(row.amount) / 2).toFixed(2)
  const one = { ...row, quantity: '1', amount: half }
  return [
    one,
    { ...one, line_id: `${row.line_id}B`, category: 'Books', sku: 'BOOK-1', description: 'Throwing for beginners' },
  ]
}

// The late line must be in the balances and the payout from the start: it is made with the rest and only told later.
const withLateLine = (market: ReturnType<typeof makeMarketplace>): typeof market => {
  const id = market.settlements[lateLine.week - 1]?.settlement_id
  const inWeek = market.lines.filter(row => row.settlement_id === id)
  const from = inWeek.findIndex(row => row.kind === 'fulfilment_fee')
  const lines = market.lines.map(row =>
    row === inWeek[from] ? { ...row, kind: lateLine.kind, description: 'Parcel found', category: '' } : row,
  )
  return { ...market, lines }
}

/** The price rises, the fee takes it back to the cent: what the settlement comes to stays, what it is made of does not. */
const corrections = (lines: readonly Row[], id: string): Row[] => {
  const sale = lines.find(
    row => row.settlement_id === id && row.kind === 'sale' && row.category === 'Glaze kits' && row.region === 'IE',
  )
  const fee = lines.find(
    row => row.settlement_id === id && row.kind === 'selling_fee' && row.order_id === sale?.order_id,
  )
  if (!sale || !fee) return []
  const shifted = (row: Row, cents: number): Row => ({
    ...row,
    amount: (Math.round(Number(row.amount) * 100 + cents) / 100).toFixed(2),
  })
  return [shifted(sale, 400), shifted(fee, -400)]
}
