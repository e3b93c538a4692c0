import { shopBankNumber } from './kilnLaneShop.ts'
import type { Row } from './openhall.ts'

const account = (code: string, name: string, type: string, number: string | null = null) => ({
  ...{ code, name, type, currency: 'EUR', bankNumber: number },
})
/** What the shop, the till and their means of payment are booked to. */
export const shopAccounts = [
  account('1010', 'Skerrymoor shop account 4489', 'bank', shopBankNumber),
  account('1050', 'Cash of the Saturday till', 'current_asset'),
  account('1220', 'Fernstall orders', 'clearing'),
  account('1225', 'Tillstone sales', 'clearing'),
  account('1240', 'Brookpay clearing', 'clearing'),
  account('1250', 'Oddpurse wallet', 'clearing'),
  account('1260', 'Thrimble clearing', 'clearing'),
  account('2300', 'Gift cards', 'current_liability'),
  account('6050', 'Processing fees', 'expense'),
  account('6060', 'Bank charges', 'expense'),
]

const route = (kind: string, to: string, taxCode: string | null, more: Row = {}) => ({
  ...{ routeId: null, kind, account: to, taxCode, ...more },
})
export const shopRoutes = [
  route('gift_card_sold', '2300', null),
  route('tender', '2300', null, { gateway: 'Gift card' }),
  route('tender_returned', '2300', null, { gateway: 'Gift card' }),
  route('tender', '1050', null, { gateway: 'Cash' }),
  route('tender_returned', '1050', null, { gateway: 'Cash' }),
  route('cash_rounding', '6900', null),
  route('cash_variance', '6900', null),
  route('processing_fee', '6050', null),
  route('purchase', '5000', 'P23'),
  route('subscription_fee', '6050', null, { source: 'brookpay' }),
  route('subscription_fee', '6050', null, { source: 'oddpurse' }),
  route('subscription_fee', '6050', null, { source: 'thrimble' }),
]
/** Which means of payment of the shop and the till is which source. */
export const shopLabels = [
  { label: 'Card', source: 'brookpay' },
  { label: 'Oddpurse', source: 'oddpurse' },
  { label: 'Thrimble', source: 'thrimble' },
]

const channel = (source: string, name: string, service: string, clearing: string) => ({
  ...{ source, name, service, shape: 'channel', clearing: [{ currency: 'EUR', account: clearing }], banks: [] },
})
const gateway = (source: string, name: string, service: string, clearing: string) => ({
  ...{ source, name, service, shape: 'gateway', clearing: [{ currency: 'EUR', account: clearing }] },
  banks: [{ direction: 'into', currency: 'EUR', account: '1010' }],
  bankTexts: [name.toUpperCase()],
})
/** In the order in which they are connected: who reports sales before who collects. */
export const shopSources = [
  channel('fernstall', 'Fernstall', 'web_shop', '1220'),
  channel('tillstone', 'Tillstone', 'till', '1225'),
  gateway('brookpay', 'Brookpay', 'card_processor', '1240'),
  gateway('oddpurse', 'Oddpurse', 'wallet', '1250'),
  gateway('thrimble', 'Thrimble', 'pay_later', '1260'),
]
