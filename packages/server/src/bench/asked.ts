import { addressOf, type Endpoint, endpoints } from '@culvert/contract'

/** What a benchmark asks the API for: a name for a person, and the address under a client's. */
export type AskedPage = readonly [name: string, address: (client: number) => string]

const page = (
  name: string,
  endpoint: Endpoint,
  params: Readonly<Record<string, string>> = {},
  query: Readonly<Record<string, string | number>> = {},
): AskedPage => [name, client => `/api${addressOf(endpoint, { client, params, query })}`]

const settlement = (source: string, key: string) => ({ source, key, currency: 'EUR' })

/** Of a client with one marketplace and settlements of hundreds of lines. */
export const marketplacePages: readonly AskedPage[] = [
  page('course bar', endpoints.course),
  page('find box, an amount', endpoints.find, {}, { q: '16.50' }),
  page('find box, an order', endpoints.find, {}, { q: '17-3' }),
  page('settlement list', endpoints.settlements, {}, { limit: 200 }),
  page('one settlement', endpoints.settlement, settlement('openhall', 'W-00500')),
  page('register', endpoints.register, { account: '1210' }, { limit: 200 }),
  page('chart of accounts', endpoints.chart),
  page('a proof', endpoints.clearing),
]

const day = settlement('fernstall', 'day:2024-02-05')

/** Every page's data of a seller with a shop and a gateway. */
export const sellerPages: readonly AskedPage[] = [
  page('course bar', endpoints.course),
  page('find box, an amount', endpoints.find, {}, { q: '19.50' }),
  page('find box, an order', endpoints.find, {}, { q: 'A-777' }),
  page('settlement list', endpoints.settlements, {}, { limit: 200 }),
  page('one settlement', endpoints.settlement, day),
  page('its lines', endpoints.settlementLines, day, { kind: 'sale' }),
  page('mapping', endpoints.mapping, { source: 'fernstall' }),
  page('register', endpoints.register, { account: '1220' }, { limit: 200 }),
  page('chart of accounts', endpoints.chart),
  page('clearing', endpoints.clearing),
  page('tie-out', endpoints.tieOut),
  page('months', endpoints.months),
  page('trace of an order', endpoints.trace, {}, { at: 'order', source: 'fernstall', order: 'A-777' }),
]

export const sellerProofs: readonly AskedPage[] = [
  page('proof of the channel', endpoints.proof, { account: '1220' }),
  page('proof of the gateway', endpoints.proof, { account: '1230' }),
  page('proof of the tax account', endpoints.proof, { account: '2200' }),
]
