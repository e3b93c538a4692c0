import { endpoints, subjectKey } from '@culvert/contract'
import { isCurrency } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { Router } from 'express'
import { readReceived } from '../access/receiveFile.ts'
import { found, Refused } from '../access/refused.ts'
import { serve } from '../access/serve.ts'
import { factsOf } from '../acts/changes.ts'
import { recordAct } from '../acts/recordAct.ts'
import { asClient, type Database } from '../database/connect.ts'
import { currentVersion, loadItems, loadTaxCodes } from '../setup/loadMap.ts'
import { readItems } from './itemFile.ts'
import { loadAccounts, loadMapping } from './loadMapping.ts'
import { loadMissing } from './loadMissing.ts'
import { loadRulesPage } from './loadRules.ts'
import { loadStarter } from './loadStarter.ts'
import { listTaxLines, loadTaxCheck } from './loadTaxCheck.ts'
import { listGridLines, loadTaxGrid } from './loadTaxGrid.ts'
import { makeMissing } from './makeMissing.ts'
import { loadMissingNames, makeNames } from './missingNames.ts'
import { loadProducts } from './productsSeen.ts'
import { saveItems } from './saveItems.ts'
import { saveRoutes } from './saveRoutes.ts'
import { refuseBadRules, saveRules } from './saveRules.ts'
import { saveTaxCodes } from './saveTaxCodes.ts'
import { saveTaxRows } from './saveTaxRows.ts'
import { readTaxes } from './taxCodeFile.ts'
import { countTouchedLines, listTouchedLines } from './touchedLines.ts'

/** Routes, rules, items, tax and the chart of accounts that they point into. */
export const mappingRoutes = (database: Database): Router => {
  const router = Router()
  serve(router, endpoints.mapping, async ({ actor, params }) =>
    found(await asClient(database, actor, tx => loadMapping(tx, params.source)), 'source'),
  )
  serve(router, endpoints.starter, async ({ actor, params }) => ({
    rows: await asClient(database, actor, tx => loadStarter(tx, params.source)),
  }))
  serve(router, endpoints.missing, async ({ actor }) => (await asClient(database, actor, loadMissing)).page)
  serve(router, endpoints.makeMissing, ({ actor, body }) => makeMissing(database, actor, body))
  serve(router, endpoints.missingNames, ({ actor }) => asClient(database, actor, loadMissingNames))
  serve(router, endpoints.makeNames, ({ actor, body }) => makeNames(database, actor, body))
  serve(router, endpoints.rules, ({ actor }) => asClient(database, actor, loadRulesPage))
  serve(router, endpoints.saveRules, async ({ actor, body: { rules, version } }) => ({
    version: await saveRules(database, actor, rules, version),
  }))
  serve(router, endpoints.touchedByRules, ({ actor, body: { rules } }) =>
    asClient(database, actor, async tx => {
      await refuseBadRules(tx, rules)
      return countTouchedLines(tx, rules)
    }),
  )
  serve(router, endpoints.ruleLines, ({ actor, body: { rule } }) =>
    asClient(database, actor, async tx => {
      await refuseBadRules(tx, [rule])
      return found(await listTouchedLines(tx, rule), 'line')
    }),
  )
  serve(router, endpoints.taxCheck, ({ actor, query: { month } }) =>
    asClient(database, actor, tx => loadTaxCheck(tx, month || null)),
  )
  serve(router, endpoints.taxLines, ({ actor, query }) => {
    const { month, currency, region, class: name, since, hanging, code, source, label, part } = query
    const place = { region: region ?? null, class: name ?? '', since: since ?? null }
    const charged = {
      source: source ?? '',
      region: region ?? null,
      taxLabel: label ?? null,
      part: part ?? 'tax',
    } as const
    const wanted = code ? { code } : hanging ? { hanging } : source ? { charged } : { place }
    return asClient(database, actor, tx => listTaxLines(tx, month, { currency, ...wanted }))
  })
  serve(router, endpoints.taxGrid, ({ actor }) => asClient(database, actor, loadTaxGrid))
  serve(router, endpoints.gridLines, async ({ actor, body }) =>
    found(await asClient(database, actor, tx => listGridLines(tx, body)), 'line'),
  )
  serve(router, endpoints.saveTaxGrid, ({ actor, body: { version, ...grid } }) =>
    saveTaxRows(database, actor, grid, version),
  )
  serve(router, endpoints.items, ({ actor }) =>
    asClient(database, actor, async tx => ({
      items: await loadItems(tx),
      accounts: await loadAccounts(tx),
      taxCodes: await loadTaxCodes(tx),
      version: await currentVersion(tx),
    })),
  )
  serve(router, endpoints.readItems, ({ actor, query, request }) =>
    readReceived(request, body => asClient(database, actor, tx => readItems(tx, body, query))),
  )
  serve(router, endpoints.readTaxes, ({ actor, query, request }) =>
    readReceived(request, body => asClient(database, actor, tx => readTaxes(tx, body, query))),
  )
  serve(router, endpoints.products, ({ actor }) => asClient(database, actor, loadProducts))
  serve(router, endpoints.saveItems, async ({ actor, body: { items, version } }) => ({
    version: await saveItems(database, actor, items, version),
  }))
  serve(router, endpoints.saveRoutes, ({ actor, body: { version, ...change } }) =>
    saveRoutes(database, actor, { ...change, madeFrom: version }),
  )
  serve(router, endpoints.saveTaxCodes, async ({ actor, body: { codes, version } }) => ({
    version: await saveTaxCodes(database, actor, codes, version),
  }))
  serve(router, endpoints.accounts, async ({ actor }) => ({ accounts: await asClient(database, actor, loadAccounts) }))
  serve(router, endpoints.addAccounts, async ({ actor, body }) => {
    const accounts = [body].flat()
    const unknown = accounts.find(account => !isCurrency(account.currency))
    if (unknown) throw new Refused('currency_unknown', { currency: unknown.currency })
    await asClient(database, actor, async tx => {
      await tx.execute(sql`
      INSERT INTO account (client_id, code, name, type, currency, bank_number, description)
      SELECT current_client(), a.code, a.name, a.type, a.currency, a."bankNumber", a.description
      FROM jsonb_to_recordset(${JSON.stringify(accounts)}::jsonb)
        AS a(code text, name text, type text, currency char(3), "bankNumber" text, description text)`)
      await recordAct(tx, actor, {
        sort: 'add_accounts',
        note: `${accounts.length}`,
        touched: accounts.map(({ code, ...account }) => ({
          subject: 'account',
          key: subjectKey(code),
          after: factsOf(account),
        })),
      })
    })
    return {}
  })
  return router
}
