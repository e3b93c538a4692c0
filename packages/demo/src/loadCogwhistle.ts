import { endpoints } from '@culvert/contract'
import { call, outcomeOf, versionOf } from './asking.ts'
import { codeAll, confirmCertain, grant, heldAgainstLedger, payTaxes, postUpTo } from './bookActs.ts'
import { chequeText, customerText, makeCogwhistle } from './cogwhistle.ts'
import {
  cogwhistleAccounts,
  cogwhistleConfirmedTo,
  cogwhistleOpenedOn,
  cogwhistleOpening,
  cogwhistlePostedTo,
  cogwhistleRoutes,
  cogwhistleTaxCodes,
  cogwhistleTaxes,
  cogwhistleTaxRows,
  cogwhistleTo,
  cogwhistleWriteOff,
} from './cogwhistleSetup.ts'
import { drawerText, makeCogwhistleTill, terminalText, tillAccounts, tillRoutes } from './cogwhistleTill.ts'
import { activityColumns, balanceColumns, bankColumns, csvFile } from './files.ts'
import type { Row } from './openhall.ts'

/** A workshop with a web shop and a gateway of its own, whose files are brought in, and a till that is connected. */
export const loadCogwhistle = async (): Promise<void> => {
  const made = makeCogwhistle()
  const { clientId: client } = await call(endpoints.addClient, {
    body: {
      name: 'Cogwhistle Workshop',
      country: 'CA',
      base: 'CAD',
      timeZone: 'America/Toronto',
      cutOff: '04:30',
      locale: 'en-CA',
      exchangeRounding: '79000',
    },
  })
  await call(endpoints.addAccounts, { client, body: [...cogwhistleAccounts, ...tillAccounts] })
  await call(endpoints.saveTaxCodes, { client, body: { codes: cogwhistleTaxCodes, version: await versionOf(client) } })
  const banks = [{ direction: 'into' as const, currency: 'CAD', account: '10100' }]
  for (const source of [
    {
      source: 'fernstall',
      name: 'Fernstall',
      service: 'web_shop' as const,
      shape: 'channel' as const,
      clearing: [{ currency: 'CAD', account: '12200' }],
      banks: [],
    },
    {
      source: 'brookpay',
      name: 'Brookpay',
      service: 'card_processor' as const,
      shape: 'gateway' as const,
      clearing: [{ currency: 'CAD', account: '12300' }],
      banks,
    },
  ])
    await call(endpoints.addSource, { client, body: source })
  await call(endpoints.saveTaxGrid, {
    client,
    body: { rows: cogwhistleTaxRows, classes: [], byRows: true, version: await versionOf(client) },
  })
  await call(endpoints.saveRoutes, {
    client,
    body: { changed: cogwhistleRoutes, version: await versionOf(client) },
  })
  await call(endpoints.saveLabels, {
    client,
    body: { labels: [{ label: 'Card', source: 'brookpay' }], version: await versionOf(client) },
  })
  await call(endpoints.saveWriteOff, { client, body: { upTo: cogwhistleWriteOff, from: null } })
  const upload = (source: string, columns: readonly string[], rows: readonly Row[], name: string) =>
    call(endpoints.upload, { client, params: { source }, query: { name }, file: csvFile(columns, rows) })
  await upload('fernstall', activityColumns, made.shop, 'fernstall.activity.csv')
  await upload('brookpay', activityColumns, made.gateway, 'brookpay.activity.csv')
  await upload('brookpay', balanceColumns, made.balances, 'brookpay.balances.csv')
  await call(endpoints.postOpening, { client, body: { date: cogwhistleOpenedOn, lines: [...cogwhistleOpening] } })
  await postUpTo(client, cogwhistlePostedTo)
  const till = makeCogwhistleTill()
  const granted = await grant(client, 'tillstone')
  const { pull } = await call(endpoints.connectShop, {
    client,
    params: { grant: granted },
    body: {
      ...{ source: 'tillstone', name: 'Tillstone', service: 'till', shape: 'channel', shop: 'cogwhistle' },
      ...{ clearing: [{ currency: 'CAD', account: '12400' }], banks: [], personalData: 'name' },
    },
  })
  await outcomeOf(pull, client)
  await call(endpoints.saveRoutes, { client, body: { changed: tillRoutes, version: await versionOf(client) } })
  await postUpTo(client, cogwhistleTo, 'tillstone')
  await heldAgainstLedger(client, cogwhistleTaxes)
  const statement = (name: string, rows: readonly Row[]) =>
    call(endpoints.uploadStatement, { client, query: { name }, file: csvFile(bankColumns, rows) })
  const isEarly = (row: Row) => (row.date as string) <= cogwhistleConfirmedTo
  await statement('skerrymoor-may.csv', made.bank.filter(isEarly))
  const code = (row: Row, account: string, memo: string) =>
    call(endpoints.code, {
      client,
      params: { account: '10100' },
      body: { bankLine: row.line_id ?? '', account, taxCode: null, memo },
    })
  for (const row of made.bank.filter(isEarly)) {
    if (row.description === 'MONTHLY CHARGES') await code(row, '60100', '')
    if (row.description === chequeText) await code(row, '12300', 'cheque of a customer, put here by hand')
    const order = customerText.exec(row.description as string)?.[1]
    if (order) await code(row, '12500', `paid by transfer: ${order}`)
  }
  await payTaxes(client, cogwhistleTaxes, { bank: '10100', prefix: 'CWT' })
  await confirmCertain(client, '10100')
  await statement(
    'skerrymoor-june.csv',
    made.bank.filter(row => !isEarly(row)),
  )
  await statement('skerrymoor-till.csv', till.bank)
  await codeAll(client, '10110', [
    { text: drawerText, account: '10200' },
    { text: terminalText, account: '12600' },
  ])
}
