import {
  itemRow,
  mapVersion,
  month as monthSchema,
  newAccount,
  ruleBody,
  saveRoutes as saveRoutesBody,
  saveRulesBody,
  saveTaxRowsBody,
  taxCodeRow,
  taxLinesQuery,
} from '@culvert/contract'
import { isCurrency } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { Router } from 'express'
import { z } from 'zod'
import { actorOf } from '../access/establish.ts'
import { found, Refused } from '../access/refused.ts'
import { asClient, type Database } from '../database/connect.ts'
import { currentVersion, loadItems, loadTaxCodes } from './loadMap.ts'
import { loadAccounts, loadMapping } from './loadMapping.ts'
import { loadRulesPage } from './loadRules.ts'
import { loadStarter } from './loadStarter.ts'
import { listSupplies, loadTaxCheck } from './loadTaxCheck.ts'
import { loadTaxGrid } from './loadTaxGrid.ts'
import { loadProducts } from './productsSeen.ts'
import { saveItems } from './saveItems.ts'
import { saveRoutes } from './saveRoutes.ts'
import { refuseBadRules, saveRules } from './saveRules.ts'
import { saveTaxCodes } from './saveTaxCodes.ts'
import { saveTaxRows } from './saveTaxRows.ts'
import { countTouchedLines } from './touchedLines.ts'

/** Routes, tax codes and the chart of accounts that they point into. */
export const mappingRoutes = (database: Database): Router => {
  const router = Router()
  router.get('/mapping/:source', async (request, response) => {
    response.json(
      found(await asClient(database, actorOf(response), tx => loadMapping(tx, request.params.source)), 'source'),
    )
  })
  router.get('/mapping/:source/starter', async (request, response) => {
    response.json({ rows: await asClient(database, actorOf(response), tx => loadStarter(tx, request.params.source)) })
  })
  router.get('/rules', async (_request, response) => {
    response.json(await asClient(database, actorOf(response), loadRulesPage))
  })
  router.put('/rules', async (request, response) => {
    const { rules, version } = saveRulesBody.parse(request.body)
    response.json({ version: await saveRules(database, actorOf(response), rules, version) })
  })
  // What rules would touch, before they are saved.
  router.post('/rules/touched', async (request, response) => {
    const { rules } = z.object({ rules: z.array(ruleBody).max(500) }).parse(request.body)
    response.json(
      await asClient(database, actorOf(response), async tx => {
        await refuseBadRules(tx, rules)
        return countTouchedLines(tx, rules)
      }),
    )
  })
  router.get('/tax-check', async (request, response) => {
    const { month } = z.object({ month: monthSchema.optional() }).parse({ month: request.query.month || undefined })
    response.json(await asClient(database, actorOf(response), tx => loadTaxCheck(tx, month ?? null)))
  })
  router.get('/tax-check/lines', async (request, response) => {
    const { month, currency, region, class: name, since, hanging } = taxLinesQuery.parse(request.query)
    const place = { region: region ?? null, class: name ?? '', since: since ?? null }
    response.json(
      await asClient(database, actorOf(response), tx =>
        listSupplies(tx, month, { currency, ...(hanging ? { hanging } : { place }) }),
      ),
    )
  })
  router.get('/tax-grid', async (_request, response) => {
    response.json(await asClient(database, actorOf(response), loadTaxGrid))
  })
  router.put('/tax-grid', async (request, response) => {
    const { version, ...grid } = saveTaxRowsBody.parse(request.body)
    response.json(await saveTaxRows(database, actorOf(response), grid, version))
  })
  router.get('/items', async (_request, response) => {
    response.json(
      await asClient(database, actorOf(response), async tx => ({
        items: await loadItems(tx),
        accounts: await loadAccounts(tx),
        taxCodes: await loadTaxCodes(tx),
        version: await currentVersion(tx),
      })),
    )
  })
  router.get('/items/products', async (_request, response) => {
    response.json(await asClient(database, actorOf(response), loadProducts))
  })
  router.put('/items', async (request, response) => {
    const { items, version } = z
      .object({ items: z.array(itemRow).min(1).max(5000), version: mapVersion })
      .parse(request.body)
    response.json({ version: await saveItems(database, actorOf(response), items, version) })
  })
  router.put('/routes', async (request, response) => {
    const { version, ...change } = saveRoutesBody.parse(request.body)
    response.json(await saveRoutes(database, actorOf(response), { ...change, madeFrom: version }))
  })
  router.put('/tax-codes', async (request, response) => {
    const { codes, version } = z
      .object({ codes: z.array(taxCodeRow).min(1).max(500), version: mapVersion })
      .parse(request.body)
    response.json({ version: await saveTaxCodes(database, actorOf(response), codes, version) })
  })
  router.get('/accounts', async (_request, response) => {
    response.json({ accounts: await asClient(database, actorOf(response), loadAccounts) })
  })
  router.post('/accounts', async (request, response) => {
    const accounts = z
      .array(newAccount)
      .min(1)
      .max(5000)
      .parse(Array.isArray(request.body) ? request.body : [request.body])
    const unknown = accounts.find(account => !isCurrency(account.currency))
    if (unknown) throw new Refused(400, `${unknown.currency} is no currency`)
    await asClient(database, actorOf(response), tx =>
      tx.execute(sql`
      INSERT INTO account (client_id, code, name, type, currency, bank_number)
      SELECT current_client(), a.code, a.name, a.type, a.currency, a."bankNumber"
      FROM jsonb_to_recordset(${JSON.stringify(accounts)}::jsonb) AS a(code text, name text, type text, currency char(3), "bankNumber" text)`),
    )
    response.status(201).json({})
  })
  return router
}
