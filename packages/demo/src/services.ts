import { makeCogwhistle } from './cogwhistle.ts'
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

/** A second shop under the same login, small and young: what one tries connecting on. */
const makeSeconds = (): Marketplace =>
  makeMarketplace({
    ...{ seed: 20_260_406, from: '2026-04-06', weeks: 10, ordersPerWeek: 14 },
    ...{ giftWrapFrom: 99, samePayoutAs: [], advanceWeek: 0, chargebackWeek: 0 },
  })

/** What the stand-ins know, by service: shops, and who may see which. */
export const demoServices = (kilnLane: Told) => {
  const cogwhistle = makeCogwhistle()
  const shop = makeKilnLaneShop()
  const ofKilnLane = (told: Told) => ({ 'kiln-lane': { name: 'Kiln Lane Ceramics', ...galway, ...told } })
  const kilnLaneLogins = [
    { name: practiceLogin, shops: ['kiln-lane'] },
    { name: kilnLaneLogin, shops: ['kiln-lane'] },
  ]
  return {
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
      shops: ofKilnLane({ lines: shop.tillstone }),
      logins: kilnLaneLogins,
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
