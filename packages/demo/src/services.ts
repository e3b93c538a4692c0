import { makeCogwhistle } from './cogwhistle.ts'
import { makeCogwhistleTill } from './cogwhistleTill.ts'
import { makeKilnLaneShop } from './kilnLaneShop.ts'
import { makeLarkwool } from './larkwool.ts'
import { type Marketplace, makeMarketplace, type Row } from './openhall.ts'

/** Who signs in at the services for the practice; it sees its clients' shops. */
export const practiceLogin = 'Orla Quill of Tern & Tally'
const kilnLaneLogin = 'Aoife Marren of Kiln Lane'
const cogwhistleLogin = 'Wes Tolliver of Cogwhistle'

interface Told {
  readonly lines: readonly Row[]
  readonly settlements?: readonly Row[]
  readonly balances?: readonly Row[]
}
const galway = { place: 'Galway', country: 'IE', currency: 'EUR' }
const eugene = { place: 'Eugene, Oregon', country: 'US', currency: 'USD' }
const kingston = { place: 'Kingston, Ontario', country: 'CA', currency: 'CAD' }

/** What Larkwool's former books hold, as a ledger tells it. */
const larkwoolLists: Readonly<Record<string, readonly Row[]>> = {
  chart: [
    { number: '15100', name: 'Dye pots and looms', type: 'fixed asset', currency: 'USD' },
    { number: '20100', name: 'Fleece on credit', type: 'payable', currency: 'USD' },
    { number: '62100', name: 'Dyestuffs', type: 'cost of sales', currency: 'USD' },
  ],
  'tax-codes': [
    { code: 'OR0', name: 'Oregon, no sales tax', rate: '0', account: '22000', use: 'sales', country: 'US' },
  ],
  contacts: [
    { number: 'C-01', name: 'Harbour Knit Guild', type: 'customer', 'e-mail': 'guild@harbour.example', country: 'US' },
    { number: 'C-02', name: 'Needle & Thread Room', type: 'customer', country: 'US' },
    { number: 'S-01', name: 'Fernley Fleece Farm', type: 'supplier', country: 'US' },
  ],
  items: [{ sku: 'LW-SOCK-100', name: 'Sock yarn, 100 g', account: '40000', 'unit cost': '7.20' }],
  opening: [
    { account: '11000', debit: '386.50', credit: '' },
    { account: '20100', debit: '', credit: '386.50' },
  ],
  invoices: [
    {
      number: 'R-0117',
      contact: 'C-01',
      date: '2025-12-04',
      'due date': '2026-01-03',
      amount: '240.00',
      open: '240.00',
    },
    {
      number: 'R-0121',
      contact: 'C-02',
      date: '2025-12-19',
      'due date': '2026-01-18',
      amount: '196.50',
      open: '146.50',
    },
  ],
  bills: [
    { number: 'F-88', contact: 'S-01', date: '2025-12-11', 'due date': '2026-01-10', amount: '386.50', open: '386.50' },
  ],
}

/** A second shop under the same login, small and young: what one tries connecting on. */
export const makeSeconds = (): Marketplace =>
  makeMarketplace({
    ...{ seed: 20_260_406, from: '2026-04-06', weeks: 10, ordersPerWeek: 14 },
    ...{ giftWrapFrom: 99, samePayoutAs: [], advanceWeek: 0, chargebackWeek: 0 },
  })

/** What the stand-ins know, by service: shops, and who may see which. */
export const demoServices = (kilnLane: Told, bank: { readonly number: string; readonly lines: readonly Row[] }) => {
  const cogwhistle = makeCogwhistle()
  const shop = makeKilnLaneShop()
  const ofKilnLane = (told: Told) => ({ 'kiln-lane': { name: 'Kiln Lane Ceramics', ...galway, ...told } })
  const kilnLaneLogins = [
    { name: practiceLogin, shops: ['kiln-lane'] },
    { name: kilnLaneLogin, shops: ['kiln-lane'] },
  ]
  return {
    skerrymoor: {
      name: 'Skerrymoor Mutual',
      sort: 'bank',
      reports: 'lines of current accounts',
      shops: {
        [bank.number]: { name: `Kiln Lane Ceramics ${bank.number}`, ...galway, lines: bank.lines },
        US00SKER20260003: { name: 'Larkwool Yarns US00SKER20260003', ...eugene, lines: [] },
      },
      logins: [{ name: practiceLogin, shops: [bank.number, 'US00SKER20260003'] }],
    },
    tarnbook: {
      name: 'Tarnbook',
      sort: 'ledger',
      reports: 'accounts, tax codes, contacts, items, opening balances, open invoices and bills',
      shops: { 'larkwool-yarns': { name: 'Larkwool Yarns', ...eugene, lines: [], lists: larkwoolLists } },
      logins: [{ name: practiceLogin, shops: ['larkwool-yarns'] }],
    },
    openhall: {
      name: 'Openhall',
      sort: 'marketplace',
      reports: 'orders, fees, reserve and payouts by settlement',
      shops: {
        'kiln-lane': { name: 'Kiln Lane Ceramics', ...galway, ...kilnLane },
        'kiln-lane-seconds': { name: 'Kiln Lane Seconds', ...galway, ...makeSeconds() },
        'larkwool-yarns': { name: 'Larkwool Yarns', ...eugene, ...makeLarkwool() },
      },
      logins: [
        { name: practiceLogin, shops: ['kiln-lane', 'kiln-lane-seconds', 'larkwool-yarns'] },
        { name: kilnLaneLogin, shops: ['kiln-lane', 'kiln-lane-seconds'] },
      ],
    },
    fernstall: {
      name: 'Fernstall',
      sort: 'web_shop',
      reports: 'orders, tax by label, refunds and means of payment',
      shops: {
        ...ofKilnLane({ lines: shop.fernstall }),
        cogwhistle: {
          name: 'Cogwhistle Workshop',
          ...kingston,
          lines: [...cogwhistle.shop, ...cogwhistle.shopMissing],
        },
      },
      logins: [
        { name: practiceLogin, shops: ['kiln-lane', 'cogwhistle'] },
        { name: kilnLaneLogin, shops: ['kiln-lane'] },
        { name: cogwhistleLogin, shops: ['cogwhistle'] },
      ],
    },
    brookpay: {
      name: 'Brookpay',
      sort: 'card_processor',
      reports: 'collections, fees, chargebacks, payouts and balance',
      shops: {
        ...ofKilnLane({ lines: shop.brookpay, balances: shop.balances.brookpay }),
        cogwhistle: {
          name: 'Cogwhistle Workshop',
          ...kingston,
          lines: cogwhistle.gateway,
          balances: cogwhistle.balances,
        },
      },
      logins: [
        { name: practiceLogin, shops: ['kiln-lane', 'cogwhistle'] },
        { name: kilnLaneLogin, shops: ['kiln-lane'] },
        { name: cogwhistleLogin, shops: ['cogwhistle'] },
      ],
    },
    tillstone: {
      name: 'Tillstone',
      sort: 'till',
      reports: 'sales by trading day, tips, cash counted and means of payment',
      shops: {
        ...ofKilnLane({ lines: shop.tillstone }),
        cogwhistle: { name: 'Cogwhistle Workshop', ...kingston, lines: makeCogwhistleTill().tillstone },
      },
      logins: [
        { name: practiceLogin, shops: ['kiln-lane', 'cogwhistle'] },
        { name: kilnLaneLogin, shops: ['kiln-lane'] },
        { name: cogwhistleLogin, shops: ['cogwhistle'] },
      ],
    },
    oddpurse: {
      name: 'Oddpurse',
      sort: 'wallet',
      reports: 'collections, fees, what is paid from the balance, payouts and balance',
      shops: ofKilnLane({ lines: shop.oddpurse, balances: shop.balances.oddpurse }),
      logins: kilnLaneLogins,
    },
    thrimble: {
      name: 'Thrimble',
      sort: 'pay_later',
      reports: 'instalment plans collected, fees and payouts',
      shops: ofKilnLane({ lines: shop.thrimble, balances: shop.balances.thrimble }),
      logins: kilnLaneLogins,
    },
  }
}
