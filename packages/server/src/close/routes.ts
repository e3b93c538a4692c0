import { endpoints, month } from '@culvert/contract'
import { Router } from 'express'
import { z } from 'zod'
import { serve } from '../access/serve.ts'
import { asClient, type Database } from '../database/connect.ts'
import { loadMonths, setLocked } from './loadClose.ts'
import { loadMonthState, type MonthChecks } from './loadMonthState.ts'
import { loadRegistrations, saveRegistration } from './registrations.ts'
import { fileTax, loadTaxFilings, withdrawTaxFiling } from './taxFilings.ts'

const filingId = z.coerce.number().int().min(1).max(2_147_483_647)

/** The months, and locking them. */
export const closeRoutes = (database: Database, checks: MonthChecks): Router => {
  const router = Router()
  serve(router, endpoints.months, async ({ actor }) => ({ months: await asClient(database, actor, loadMonths) }))
  serve(router, endpoints.month, ({ actor, params }) => {
    const wanted = month.parse(params.month)
    return asClient(database, actor, tx => loadMonthState(tx, wanted, checks))
  })
  serve(router, endpoints.setLocked, async ({ actor, body }) => {
    await setLocked(database, actor, body, checks)
    return {}
  })
  serve(router, endpoints.taxFilings, async ({ actor }) => ({
    filings: await asClient(database, actor, loadTaxFilings),
  }))
  serve(router, endpoints.registrations, ({ actor }) => asClient(database, actor, loadRegistrations))
  serve(router, endpoints.addRegistration, async ({ actor, body }) => ({
    id: await saveRegistration(database, actor, { id: null, ...body }),
  }))
  serve(router, endpoints.saveRegistration, async ({ actor, params, body }) => {
    await saveRegistration(database, actor, { id: filingId.parse(params.id), ...body })
    return {}
  })
  serve(router, endpoints.fileTax, async ({ actor, body }) => ({ id: await fileTax(database, actor, body) }))
  serve(router, endpoints.withdrawFiling, async ({ actor, params, body }) => {
    await withdrawTaxFiling(database, actor, filingId.parse(params.id), body.reason)
    return {}
  })
  return router
}
