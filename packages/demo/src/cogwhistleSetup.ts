import type { Row } from './openhall.ts'
import type { OpeningLine, TaxPayment } from './taxPayments.ts'

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
  account('15000', 'Tools and stands', 'fixed_asset'),
  account('22000', 'GST and HST payable', 'tax'),
  account('22020', 'QST payable', 'tax'),
  account('23000', 'Gift cards', 'current_liability'),
  account('30000', 'Owner’s equity', 'equity'),
  account('40000', 'Parts', 'income'),
  account('40100', 'Repair labour', 'income'),
  account('40900', 'Discounts given', 'income'),
  account('41000', 'Shipping charged', 'income'),
  account('60000', 'Processing fees', 'expense'),
  account('60100', 'Bank charges', 'expense'),
  account('60900', 'Gifts and samples', 'expense'),
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
  code('QC', 'GST 5 + QST 9.975', [component('GST', '22000', '5'), component('QST', '22020', '9.975')]),
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
  route('discount', '40900', null),
  route('tax', null, null),
  route('tax_refund', null, null),
  route('gift_card_sold', '23000', null),
  route('tender', '23000', null, { gateway: 'Gift card' }),
  route('tender', '12500', null, { gateway: 'Bank transfer' }),
  route('processing_fee', '60000', null),
]

/** Of one payment so much may be written off, minor units of CAD. */
export const cogwhistleWriteOff = 500

/** Ontario's tax in Canada but for Quebec, and where no place is told: over the counter. */
export const cogwhistleTaxRows = [
  { region: null, code: 'H13' },
  { region: 'CA', code: 'H13' },
  { region: 'CA-QC', code: 'QC' },
]

/** The books begin where those of before ended: 286.30 was still to come from a customer, who paid a few days later. */
export const cogwhistleOpenedOn = '2026-03-01'
export const cogwhistleOpening: readonly OpeningLine[] = [
  { account: '10100', amount: 431_055 },
  { account: '12500', amount: 28_630 },
  { account: '15000', amount: 725_000 },
  { account: '22000', amount: -110_240 },
  { account: '22020', amount: -9_612 },
  { account: '23000', amount: -18_000 },
  { account: '30000', amount: -1_046_833 },
]

const quarter = { from: '2026-01-01', to: '2026-03-31', on: '2026-04-28' }
/** Filed and paid before the demo begins. The amounts are the ledger's: loading stops where they are not. */
export const cogwhistleTaxes: readonly TaxPayment[] = [
  { ...quarter, agency: 'Canadian tax office', text: 'TAX OFFICE GST HST Q1', accounts: ['22000'], amount: 391_102 },
  { ...quarter, agency: 'Quebec tax office', text: 'QUEBEC TAX OFFICE Q1', accounts: ['22020'], amount: 22_689 },
]
