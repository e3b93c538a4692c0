import { endpoints } from '@culvert/contract'
import { call, outcomeOf, standins, versionOf } from './asking.ts'
import { codeAll, confirmCertain, confirmLikely, grant, heldAgainstLedger, payTaxes, postUpTo } from './bookActs.ts'
import { activityColumns, balanceColumns, bankColumns, camtFile, csvFile, settlementColumns } from './files.ts'
import { accounts, classes, type Demo, items, loadedTo, postedTo, routes, taxCodes, taxRows } from './kilnLane.ts'
import { openedOn, opening, taxPayments } from './kilnLaneBooks.ts'
import { cashText, chargesText, makeKilnLaneShop } from './kilnLaneShop.ts'
import { shopAccounts, shopLabels, shopRoutes, shopSources } from './kilnLaneShopSetup.ts'
import { firstStatement } from './statements.ts'

/** What the bank gave for Kiln Lane’s account, and for no other. */
export const bankCredentials = { key: 'kiln-lane-at-the-bank', secret: 'made-up-for-the-demo-too' }

/** A pottery on a marketplace. */
export const loadKilnLane = async (demo: Demo): Promise<void> => {
  const { clientId: client } = await call(endpoints.addClient, {
    body: {
      name: 'Kiln Lane Ceramics',
      country: 'IE',
      base: 'EUR',
      timeZone: 'Europe/Dublin',
      locale: 'en-IE',
      exchangeRounding: '7900',
    },
  })
  await call(endpoints.addAccounts, { client, body: accounts })
  await call(endpoints.saveTaxCodes, { client, body: { codes: taxCodes, version: await versionOf(client) } })
  await call(endpoints.addSource, {
    client,
    body: {
      source: 'openhall',
      name: 'Openhall',
      service: 'marketplace',
      shape: 'combined',
      clearing: [{ currency: 'EUR', account: '1210' }],
      banks: [
        { direction: 'into', currency: 'EUR', account: '1000' },
        { direction: 'from', currency: 'EUR', account: '1000' },
      ],
      bankTexts: ['OPENHALL SETTL'],
      options: { detail: ['category'] },
    },
  })
  await call(endpoints.saveTaxGrid, {
    client,
    body: { rows: taxRows, classes, byRows: true, version: await versionOf(client) },
  })
  await call(endpoints.saveRoutes, { client, body: { changed: routes, version: await versionOf(client) } })
  await call(endpoints.saveItems, { client, body: { items, version: await versionOf(client) } })
  await call(endpoints.grantBank, {
    client,
    params: { account: '1000' },
    body: { address: `${standins}/banks/skerrymoor`, credentials: bankCredentials },
  })
  const upload = (name: string, file: string) =>
    call(endpoints.upload, { client, params: { source: 'openhall' }, query: { name }, file })
  await upload('openhall.activity.csv', csvFile(activityColumns, demo.loaded.lines))
  await upload('openhall.settlements.csv', csvFile(settlementColumns, demo.loaded.settlements))
  await upload('openhall.balances.csv', csvFile(balanceColumns, demo.loaded.balances))
  const granted = await grant(client, 'openhall')
  await call(endpoints.attachShop, {
    client,
    params: { grant: granted },
    body: { source: 'openhall', shop: 'kiln-lane' },
  })
  await call(endpoints.postOpening, { client, body: { date: openedOn, lines: [...opening] } })
  await postUpTo(client, postedTo)
  await loadShop(client)
  await heldAgainstLedger(client, taxPayments)
  await call(endpoints.uploadStatement, {
    client,
    query: { name: 'skerrymoor-may.camt.xml' },
    file: camtFile(demo.bankLoaded, firstStatement),
  })
  await payTaxes(client, taxPayments, { bank: '1000', prefix: 'SKT' })
  await confirmCertain(client, '1000')
}

/** Its own shop and Saturday till, with all that is paid by: connected, pulled, posted, and paired. */
const loadShop = async (client: number): Promise<void> => {
  await call(endpoints.addAccounts, { client, body: shopAccounts })
  for (const source of shopSources) {
    const granted = await grant(client, source.source)
    const { pull } = await call(endpoints.connectShop, {
      client,
      params: { grant: granted },
      body: { ...source, shop: 'kiln-lane', personalData: 'name' },
    })
    await outcomeOf(pull, client)
  }
  await call(endpoints.saveRoutes, { client, body: { changed: shopRoutes, version: await versionOf(client) } })
  await call(endpoints.saveLabels, { client, body: { labels: shopLabels, version: await versionOf(client) } })
  for (const { source } of shopSources) await postUpTo(client, loadedTo, source)
  await call(endpoints.uploadStatement, {
    client,
    query: { name: 'skerrymoor-shop.csv' },
    file: csvFile(bankColumns, makeKilnLaneShop().bank),
  })
  await codeAll(client, '1010', [
    { text: cashText, account: '1050' },
    { text: chargesText, account: '6060' },
  ])
  await confirmCertain(client, '1010')
  await confirmLikely(client, '1010')
}
