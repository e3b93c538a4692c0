import { endpoints } from '@culvert/contract'
import { call, outcomeOf } from './asking.ts'
import { grant } from './bookActs.ts'
import { larkwoolRates } from './larkwool.ts'

/** A client that is being set up: its marketplace is connected and pulled, and nothing says yet how it is booked. */
export const loadLarkwool = async (): Promise<void> => {
  const { clientId: client } = await call(endpoints.addClient, {
    body: {
      ...{ name: 'Larkwool Yarns', country: 'US', base: 'USD', timeZone: 'America/Los_Angeles', locale: 'en-US' },
    },
  })
  const { accounts: usual } = await call(endpoints.startingChart, { client })
  await call(endpoints.takeChart, {
    client,
    body: { accounts: usual.map(account => ({ ...account, currency: 'USD' })) },
  })
  await call(endpoints.saveRates, { client, body: { rates: larkwoolRates } })
  const granted = await grant(client, 'openhall')
  const { pull } = await call(endpoints.connectShop, {
    client,
    params: { grant: granted },
    body: {
      ...{ source: 'openhall', name: 'Openhall', service: 'marketplace', shape: 'combined', shop: 'larkwool-yarns' },
      ...{ clearing: [{ currency: 'USD', account: '12700' }], banks: [], personalData: 'name' },
      make: [{ code: '12700', name: 'Openhall clearing', type: 'clearing', currency: 'USD' }],
    },
  })
  await outcomeOf(pull, client)
}
