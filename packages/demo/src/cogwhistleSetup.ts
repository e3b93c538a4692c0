import type { Row } from './openhall.ts'

/** Number of Cogwhistle's account at Skerrymoor Mutual, as the bank writes it. */
export const cogwhistleNumber = 'CA00SKMR00000088120034'
export const cogwhistleFrom = '2026-03-02'
export const cogwhistleTo = '2026-06-21'
/** What is dated up to here is posted when the demo begins; deposits are confirmed up to the end of the month before. */
export const cogwhistlePostedTo = '2026-06-14'
export const cogwhistleConfirmedTo = '2026-05-31'

const account = (code: string, name: string, type: string, number: string | null = null) => ({
  code,
  name,
  type,
  currency: 'CAD',
  bankNumber: number,
})
export const cogwhistleAccounts = [
  account('10100', 'Skerrymoor operating 0034', 'bank', cogwhistleNumber),
  account('12200', 'Fernstall orders', 'clearing'),
  account('12300', 'Brookpay clearing', 'clearing'),
  account('12500', 'Customers, by bank transfer', 'receivable'),
  account('22000', 'HST payable', 'tax'),
  account('22010', 'GST payable', 'tax'),
  account('22020', 'QST payable', 'tax'),
  account('23000', 'Gift cards', 'current_liability'),
  account('40000', 'Parts', 'income'),
  account('40100', 'Repair labour', 'income'),
  account('41000', 'Shipping charged', 'income'),
  account('60000', 'Processing fees', 'expense'),
  account('60100', 'Bank charges', 'expense'),
  account('79000', 'Exchange rounding', 'other_income'),
]

const component = (name: string, to: string, percent: string) => ({
  name,
  account: to,
  inputAccount: null,
  compound: false,
  rates: [{ from: '2020-01-01', percent }],
})
const code = (name: string, title: string, components: readonly ReturnType<typeof component>[]) => ({
  code: name,
  name: title,
  treatment: 'taxed',
  basis: 'exclusive',
  use: 'sales',
  reverseCharge: false,
  country: 'CA',
  components,
})
export const cogwhistleTaxCodes = [
  code('H13', 'HST 13', [component('HST', '22000', '13')]),
  code('QC', 'GST 5 + QST 9.975', [component('GST', '22010', '5'), component('QST', '22020', '9.975')]),
]

const route = (kind: string, to: string | null, taxCode: string | null, more: Row = {}) => ({
  routeId: null,
  kind,
  account: to,
  taxCode,
  ...more,
})
/** All that Fernstall and Brookpay report but what Brookpay collects without an order. */
export const cogwhistleRoutes = [
  route('sale', '40000', null),
  route('sale', '40100', null, { category: 'Repairs' }),
  route('shipping', '41000', null),
  route('refund', '40000', null),
  route('tax', null, null),
  route('tax_refund', null, null),
  route('gift_card_sold', '23000', null),
  route('tender', '23000', null, { gateway: 'Gift card' }),
  route('tender', '12500', null, { gateway: 'Bank transfer' }),
  route('processing_fee', '60000', null),
]

/** Ontario's tax in Canada but for Quebec, and where no place is told: over the counter. */
export const cogwhistleTaxRows = [
  { region: null, code: 'H13' },
  { region: 'CA', code: 'H13' },
  { region: 'CA-QC', code: 'QC' },
]
