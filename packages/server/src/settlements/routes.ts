import { endpoints, settlementKey } from '@culvert/contract'
import { Router } from 'express'
import type { RefusalCode } from '../access/refusals.ts'
import { found, Refused } from '../access/refused.ts'
import { serve } from '../access/serve.ts'
import { listLines } from '../activity/activityLines.ts'
import type { SettlementKey } from '../activity/settlementKey.ts'
import { asClient, type Database } from '../database/connect.ts'
import type { Jobs } from '../jobs/boss.ts'
import { atOnceOrJob } from '../jobs/startJob.ts'
import { bookCorrection, type CorrectionOutcome } from './bookCorrection.ts'
import { listSettlements } from './listSettlements.ts'
import { loadSettlement } from './loadSettlement.ts'
import { mostAtOnce } from './manyAtOnce.ts'
import { postSettlements } from './postSettlements.ts'
import { sayNoDouble, setAside, takeUp } from './setAside.ts'
import { takeBack } from './takeBack.ts'

const correctionRefusals = {
  not_posted: 'not_posted',
  nothing_to_correct: 'nothing_to_correct',
  blocked: 'correction_blocked',
  payout: 'payout_changed',
} as const satisfies Record<Extract<CorrectionOutcome, { ok: false }>['reason'], RefusalCode>

const many = (sort: 'post' | 'take_back', keys: readonly SettlementKey[]) => ({
  small: keys.length <= mostAtOnce,
  job: { sort, subject: '', asked: { keys }, total: keys.length },
})

/** Settlements: list, one, post, take back, set aside, corrections. */
export const settlementRoutes = (database: Database, jobs: Jobs): Router => {
  const router = Router()
  serve(router, endpoints.settlements, ({ actor, query: { state, source, from, to, ...part } }) =>
    asClient(database, actor, tx =>
      listSettlements(tx, {
        state: state ?? null,
        source: source ?? null,
        from: from ?? null,
        to: to ?? null,
        ...part,
      }),
    ),
  )
  serve(router, endpoints.settlement, async ({ actor, params }) => {
    const key = settlementKey.parse(params)
    return found(await asClient(database, actor, tx => loadSettlement(tx, key)), 'settlement')
  })
  serve(router, endpoints.settlementLines, ({ actor, params, query }) => {
    const key = settlementKey.parse(params)
    return asClient(database, actor, tx => listLines(tx, key, query))
  })
  serve(router, endpoints.post, ({ actor, body }) =>
    atOnceOrJob(database, jobs, actor, {
      ...many('post', body.keys),
      act: () => postSettlements(database, actor, body.keys),
    }),
  )
  serve(router, endpoints.takeBack, ({ actor, body }) =>
    atOnceOrJob(database, jobs, actor, {
      ...many('take_back', body.keys),
      act: () => takeBack(database, actor, body.keys),
    }),
  )
  serve(router, endpoints.setAside, async ({ actor, body }) => ({
    changed: await setAside(database, actor, body.keys, body.reason),
  }))
  serve(router, endpoints.sayNoDouble, async ({ actor, body }) => ({
    changed: await sayNoDouble(database, actor, body.keys),
  }))
  serve(router, endpoints.takeUp, async ({ actor, body }) => ({ changed: await takeUp(database, actor, body.keys) }))
  serve(router, endpoints.correct, async ({ actor, params }) => {
    const outcome = await bookCorrection(database, actor, settlementKey.parse(params))
    if (!outcome.ok) throw new Refused(correctionRefusals[outcome.reason])
    return { changed: outcome.entries }
  })
  return router
}
