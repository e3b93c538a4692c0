import { endpoints } from '@culvert/contract'
import { startingChart } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { Router } from 'express'
import { z } from 'zod'
import { readReceived } from '../access/receiveFile.ts'
import { found } from '../access/refused.ts'
import { serve } from '../access/serve.ts'
import { asClient, type Database, oneRow } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadContacts } from '../ledger/contacts.ts'
import { loadTrace } from '../trace/loadTrace.ts'
import { loadAccount, saveAccount } from './accounts.ts'
import { readBalances, readRates } from './bookLists.ts'
import { readChart, takeChart } from './chartFile.ts'
import { readContacts, readOpenItems } from './contactFile.ts'
import { loadOpenItemPage, removeContact, saveContacts, saveOpenItems } from './contacts.ts'
import { askLedgerList, connectLedger, disconnectLedger, loadLedger } from './ledgerLink.ts'
import { loadChart, loadEntries, loadEntry, loadRegister } from './loadBooks.ts'
import { loadRates } from './loadRates.ts'
import { loadOpening, postOpening, undoOpening } from './openingBalances.ts'
import { saveRates } from './saveRates.ts'

const entryNumber = z.string().regex(/^\d{4}-\d{1,9}$/)

/** Without bounds where none are said. */
const bounded = <Range extends { from?: string | undefined; to?: string | undefined }>(range: Range) => ({
  ...range,
  from: range.from ?? null,
  to: range.to ?? null,
})

/** Chart of accounts, entries, registers and the trace of an amount. */
export const bookRoutes = (database: Database): Router => {
  const router = Router()
  serve(router, endpoints.rates, async ({ actor }) => ({ rates: await asClient(database, actor, loadRates) }))
  serve(router, endpoints.saveRates, async ({ actor, body }) => ({
    changed: await saveRates(database, actor, body.rates),
  }))
  serve(router, endpoints.chart, ({ actor, query }) => asClient(database, actor, tx => loadChart(tx, query.to ?? null)))
  serve(router, endpoints.chartAccount, ({ actor, params }) =>
    asClient(database, actor, tx => loadAccount(tx, params.account)),
  )
  serve(router, endpoints.saveAccount, async ({ actor, params, body: { version, ...account } }) => ({
    version: await saveAccount(database, actor, { code: params.account, account, version }),
  }))
  serve(router, endpoints.startingChart, ({ actor }) =>
    asClient(database, actor, async tx => {
      const { country, locale } = await oneRow(
        tx,
        { country: is.maybe(is.text), locale: is.text },
        sql`SELECT country, locale FROM client WHERE client_id = current_client()`,
      )
      return startingChart(country, locale)
    }),
  )
  serve(router, endpoints.readChart, ({ actor, query, request }) =>
    readReceived(request, body => asClient(database, actor, tx => readChart(tx, body, query))),
  )
  serve(router, endpoints.readRates, ({ actor, query, request }) =>
    readReceived(request, body => asClient(database, actor, tx => readRates(tx, body, query))),
  )
  serve(router, endpoints.readBalances, ({ actor, query, request }) =>
    readReceived(request, body => asClient(database, actor, tx => readBalances(tx, body, query))),
  )
  serve(router, endpoints.contacts, async ({ actor }) => ({ contacts: await asClient(database, actor, loadContacts) }))
  serve(router, endpoints.saveContacts, async ({ actor, body }) => ({
    changed: await saveContacts(database, actor, body.contacts),
  }))
  serve(router, endpoints.removeContact, async ({ actor, params }) => {
    await removeContact(database, actor, params.contact)
    return {}
  })
  serve(router, endpoints.readContacts, ({ actor, query, request }) =>
    readReceived(request, body => asClient(database, actor, tx => readContacts(tx, body, query))),
  )
  serve(router, endpoints.openItems, ({ actor }) => asClient(database, actor, loadOpenItemPage))
  serve(router, endpoints.saveOpenItems, async ({ actor, body }) => ({
    changed: await saveOpenItems(database, actor, body),
  }))
  serve(router, endpoints.readOpenItems, ({ actor, query, request }) =>
    readReceived(request, body => asClient(database, actor, tx => readOpenItems(tx, body, query))),
  )
  serve(router, endpoints.takeChart, ({ actor, body }) => takeChart(database, actor, body.accounts))
  serve(router, endpoints.ledger, async ({ actor }) => {
    const link = await asClient(database, actor, loadLedger)
    return {
      link: link && {
        grantId: link.grantId,
        name: link.name,
        company: link.company,
        login: link.login,
        ended: link.ended,
      },
    }
  })
  serve(router, endpoints.connectLedger, async ({ actor, params, body }) => {
    await connectLedger(database, actor, { grantId: params.grant, shop: body.shop })
    return {}
  })
  serve(router, endpoints.disconnectLedger, async ({ actor }) => ({ told: await disconnectLedger(database, actor) }))
  serve(router, endpoints.ledgerList, async ({ actor, params }) => ({
    csv: await askLedgerList(database, actor, params.list),
  }))
  serve(router, endpoints.opening, ({ actor }) => asClient(database, actor, loadOpening))
  serve(router, endpoints.postOpening, async ({ actor, body }) => ({
    number: await postOpening(database, actor, body),
  }))
  serve(router, endpoints.undoOpening, async ({ actor }) => {
    await undoOpening(database, actor)
    return {}
  })
  serve(router, endpoints.entries, ({ actor, query }) =>
    asClient(database, actor, tx => loadEntries(tx, bounded(query))),
  )
  serve(router, endpoints.entry, async ({ actor, params }) => {
    const number = entryNumber.parse(params.number)
    return found(await asClient(database, actor, tx => loadEntry(tx, number)), 'entry')
  })
  serve(router, endpoints.register, async ({ actor, params, query }) =>
    found(await asClient(database, actor, tx => loadRegister(tx, params.account, bounded(query))), 'account'),
  )
  serve(router, endpoints.trace, async ({ actor, query }) =>
    found(await asClient(database, actor, tx => loadTrace(tx, query)), 'way to trace'),
  )
  return router
}
