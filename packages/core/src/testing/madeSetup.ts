import type { AccountType, Kind } from '../activity/kinds.ts'
import { type Account, defaultOptions, type Setup, type Source, type SourceOptions } from '../composing/setup.ts'
import type { Item } from '../mapping/item.ts'
import { routeBook } from '../mapping/resolveRoute.ts'
import type { Conditions, Route } from '../mapping/route.ts'
import type { Rule } from '../mapping/rule.ts'
import type { TaxCode } from '../tax/taxCode.ts'

/** A client with every kind mapped, tax codes of every sort, and sources of all three shapes in four currencies. */
export const currencies = ['EUR', 'USD', 'JPY', 'KWD'] as const

const chart: Record<string, AccountType> = {
  1300: 'current_asset',
  1310: 'current_asset',
  1390: 'current_asset',
  1400: 'inventory',
  2100: 'payable',
  2200: 'tax',
  2210: 'tax',
  2220: 'tax',
  2290: 'tax',
  2300: 'current_liability',
  2310: 'current_liability',
  2400: 'loan',
  4000: 'income',
  4010: 'income',
  4100: 'income',
  4200: 'income',
  6000: 'expense',
  6100: 'expense',
  6900: 'expense',
  7900: 'other_income',
}

const component = (name: string, account: string, percents: readonly string[], compound = false) => ({
  name,
  account,
  inputAccount: '2290',
  compound,
  rates: percents.map((percent, index) => ({ from: index === 0 ? '2020-01-01' : '2026-03-05', percent })),
})
const code = (name: string, more: Partial<TaxCode>): [string, TaxCode] => [
  name,
  {
    code: name,
    name,
    treatment: 'taxed',
    basis: 'inclusive',
    use: 'sales',
    reverseCharge: false,
    components: [component('VAT', '2200', ['23', '21'])],
    ...more,
  },
]

export const taxCodes: ReadonlyMap<string, TaxCode> = new Map([
  code('IN', {}),
  code('OUT', { basis: 'exclusive', components: [component('GST', '2210', ['5'])] }),
  code('TWO', { components: [component('GST', '2210', ['5']), component('QST', '2220', ['9.975'])] }),
  code('OVER', { components: [component('GST', '2210', ['5']), component('PST', '2220', ['8', '8.5'], true)] }),
  code('RC', { basis: 'none', use: 'purchases', reverseCharge: true }),
  code('FEE', { use: 'purchases' }),
  code('HELD', { treatment: 'withheld', basis: 'none', components: [component('Withheld', '2220', ['7'])] }),
  code('FREE', { treatment: 'exempt', basis: 'none', components: [] }),
])

let nextId = 0
export const madeRoute = (
  kind: Kind,
  account: string | null,
  taxCode: string | null = null,
  more: Partial<Route> & Conditions = {},
): Route => ({ id: ++nextId, kind, account, taxCode, segments: {}, block: false, from: null, ...more })

/** A route for every kind there is but payouts, and some narrower ones. */
export const madeRoutes: readonly Route[] = [
  madeRoute('sale', '4000', 'IN'),
  madeRoute('sale', '4010', 'TWO', { region: 'CA' }),
  madeRoute('sale', '4010', 'OVER', { region: 'CA-BC' }),
  madeRoute('sale', '4000', 'OUT', { region: 'US' }),
  madeRoute('sale', '4010', 'FREE', { category: 'Books', segments: { shelf: 'books' } }),
  madeRoute('sale', null, null, { sku: 'MUG', item: 'MUG' }),
  madeRoute('sale', '4100', null, { sku: 'HALL', elsewhere: true }),
  madeRoute('refund', '4200', 'IN'),
  madeRoute('refund', '4200', 'OUT', { region: 'US' }),
  madeRoute('shipping', '4100', 'IN'),
  madeRoute('shipping_refund', '4100', 'IN'),
  madeRoute('discount', '4000', 'IN'),
  madeRoute('other_charge', '4100', 'IN'),
  madeRoute('surcharge', '4100', 'OUT'),
  madeRoute('tip', '2310'),
  madeRoute('tax', null, 'OUT'),
  madeRoute('tax', '4100', 'FREE', { taxLabel: 'Bag levy', charge: true }),
  madeRoute('tax_refund', null, 'OUT'),
  madeRoute('tax_withheld', null, 'HELD'),
  madeRoute('gift_card_sold', '2300'),
  madeRoute('gift_card_redeemed', '2300'),
  madeRoute('processing_fee', '6000', 'FEE'),
  madeRoute('selling_fee', '6000', 'RC'),
  madeRoute('fulfilment_fee', '6100', 'RC'),
  madeRoute('advertising_fee', '6100', 'FEE'),
  madeRoute('subscription_fee', '6100', null),
  madeRoute('other_fee', '6900', null),
  madeRoute('fee_refund', '6000', 'RC'),
  madeRoute('chargeback', '4200', 'IN'),
  madeRoute('chargeback_fee', '6000', null),
  madeRoute('chargeback_reversal', '4200', 'IN'),
  madeRoute('reserve_kept', '1300'),
  madeRoute('reserve_released', '1300'),
  madeRoute('advance_received', '2400'),
  madeRoute('advance_repaid', '2400'),
  madeRoute('adjustment', '6900'),
  madeRoute('cash_rounding', '6900'),
  madeRoute('cash_variance', '6900'),
  madeRoute('purchase', '6100', 'FEE'),
  madeRoute('transfer_in', '1310'),
  madeRoute('tender', '1310'),
  madeRoute('tender_returned', '1310'),
  madeRoute('collected', '4000', 'IN'),
  madeRoute('collected_back', '4200', 'IN'),
  madeRoute('stock_received', '1400', 'FEE'),
  madeRoute('supplier_credit', '1400', 'FEE'),
  madeRoute('conversion', '1390'),
]

export const madeItems: ReadonlyMap<string, Item> = new Map([
  [
    'MUG',
    {
      code: 'MUG',
      name: 'Mug, speckled',
      otherNames: [],
      account: '4010',
      taxCode: 'IN',
      costs: [{ from: '2026-01-01', cost: 425 }],
    },
  ],
])

const clearingOf = (source: string, currency: string): string => `12-${source}-${currency}`
const bankOf = (currency: string): string => `10-${currency}`

export const madeSource = (
  key: string,
  shape: Source['shape'],
  options: Partial<SourceOptions> = {},
): [string, Source] => {
  const banks = currencies.map(currency => ({ account: bankOf(currency), region: null, currency }))
  return [
    key,
    {
      key,
      shape,
      clearing: Object.fromEntries(currencies.map(currency => [currency, clearingOf(key, currency)])),
      paysInto: banks,
      drawnFrom: banks,
      bankTexts: [],
      options: { ...defaultOptions, stockPayable: '2100', ...options },
    },
  ]
}

const account = (accountCode: string, type: AccountType, currency: string): [string, Account] => [
  accountCode,
  { code: accountCode, name: accountCode, type, currency },
]

export const madeSetup = (
  more: {
    readonly base?: string
    readonly options?: Partial<SourceOptions>
    readonly routes?: readonly Route[]
    readonly rules?: readonly Rule[]
  } = {},
): Setup => {
  const base = more.base ?? 'EUR'
  const sources = new Map([
    madeSource('openhall', 'combined', more.options),
    madeSource('stall', 'channel', more.options),
    madeSource('counterpay', 'gateway', more.options),
  ])
  return {
    base,
    exchangeRounding: '7900',
    accounts: new Map([
      ...Object.entries(chart).map(([accountCode, type]) => account(accountCode, type, base)),
      ...currencies.map(currency => account(bankOf(currency), 'bank', currency)),
      ...[...sources.keys()].flatMap(key =>
        currencies.map(currency => account(clearingOf(key, currency), 'clearing', currency)),
      ),
    ]),
    taxCodes,
    sources,
    routes: routeBook(more.routes ?? madeRoutes),
    rules: more.rules ?? [],
    items: madeItems,
    rates: currencies
      .filter(currency => currency !== base)
      .flatMap((currency, index) => [
        { date: '2026-01-01', from: currency, to: base, rate: ['0.9137', '0.0061', '2.9871'][index] as string },
        { date: '2026-03-10', from: base, to: currency, rate: ['1.1003', '171.37', '0.3391'][index] as string },
      ]),
  }
}
