import { endpoints } from '@culvert/contract'
import { Router } from 'express'
import { serve } from '../access/serve.ts'
import type { Database } from '../database/connect.ts'
import type { Consentables } from './consentable.ts'
import { askConsent, giveConsent, refuseConsent, withdrawConsent } from './consents.ts'

/** What is done only with another's consent. */
export const consentRoutes = (database: Database, consentables: Consentables): Router => {
  const router = Router()
  serve(router, endpoints.askConsent, ({ actor, body }) => askConsent(database, consentables, actor, body))
  serve(router, endpoints.giveConsent, ({ actor, params }) =>
    giveConsent(database, consentables, actor, params.consent),
  )
  serve(router, endpoints.refuseConsent, async ({ actor, params, body }) => {
    await refuseConsent(database, actor, { consentId: params.consent, reason: body.reason })
    return {}
  })
  serve(router, endpoints.withdrawConsent, async ({ actor, params }) => {
    await withdrawConsent(database, actor, params.consent)
    return {}
  })
  return router
}
