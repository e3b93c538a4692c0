import { endpoints } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Router } from 'express'
import { found } from '../access/refused.ts'
import { serve } from '../access/serve.ts'
import { asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { Jobs } from '../jobs/boss.ts'
import { fileOrJob } from '../jobs/readFile.ts'
import { atOnceOrJob, startJob } from '../jobs/startJob.ts'
import { saveGrant } from './bankGrant.ts'
import { loadBankProof } from './bankProof.ts'
import { codeLine } from './codeLine.ts'
import { mostAtOnce } from './confirmMany.ts'
import { confirmFewCertain, confirmPairings } from './confirmPairings.ts'
import { connectBank, disconnectBank } from './connectBank.ts'
import { loadBankPage } from './loadBank.ts'
import { propose } from './proposals.ts'
import { setAsideItems } from './setAsideItems.ts'
import { startPull } from './startPull.ts'
import { loadStatementImport, takeStatementBack } from './takeStatementBack.ts'
import { undoPairings } from './undoPairings.ts'
import { uploadStatement } from './uploadStatement.ts'
import { loadWordings, saveWording } from './wordings.ts'

const loadAccounts = (tx: Transaction) =>
  rowsOf(
    tx,
    {
      code: is.text,
      name: is.text,
      currency: is.text,
      bankNumber: is.maybe(is.text),
      lines: is.whole,
      from: is.maybe(is.text),
      to: is.maybe(is.text),
      bank: is.whole,
      books: is.whole,
      open: is.whole,
    },
    sql`
    SELECT a.code, a.name, a.currency, a.bank_number AS "bankNumber", coalesce(b.lines, 0)::int AS lines, b."from"::text, b."to"::text,
      coalesce(b.amount, 0)::bigint AS bank,
      coalesce((SELECT sum(debit - credit) FROM account_total t WHERE t.client_id = a.client_id AND t.account = a.code), 0)::bigint AS books,
      (SELECT count(*)::int FROM open_bank_line o WHERE o.client_id = a.client_id AND o.bank_account = a.code) AS open
    FROM account a LEFT JOIN (SELECT bank_account, count(*) AS lines, min(date) AS "from", max(date) AS "to", sum(amount) AS amount
      FROM bank_line WHERE client_id = current_client() GROUP BY 1) b ON b.bank_account = a.code
    WHERE a.client_id = current_client() AND a.type IN ('bank', 'card') ORDER BY a.code`,
  )

/** Bank accounts, statements and pairing. */
export const bankRoutes = (database: Database, jobs: Jobs): Router => {
  const router = Router()
  serve(router, endpoints.bankAccounts, async ({ actor }) => ({
    accounts: await asClient(database, actor, loadAccounts),
  }))
  serve(router, endpoints.uploadStatement, ({ actor, query: { name, ...told }, request }) =>
    fileOrJob({ database, jobs, actor, request }, { sort: 'statement', subject: 'bank', name, told }, body =>
      uploadStatement(database, actor, { name, body, told }),
    ),
  )
  serve(router, endpoints.importedStatement, ({ actor, params }) =>
    asClient(database, actor, tx => loadStatementImport(tx, params.job)),
  )
  serve(router, endpoints.takeStatementBack, ({ actor, params }) => takeStatementBack(database, actor, params.job))
  serve(router, endpoints.connectBank, async ({ actor, params, body }) => {
    await connectBank(database, actor, { ...body, grantId: params.grant })
    return {}
  })
  serve(router, endpoints.disconnectBank, async ({ actor, params }) => ({
    told: await disconnectBank(database, actor, params.account),
  }))
  serve(router, endpoints.grantBank, async ({ actor, params, body }) => {
    await saveGrant(database, actor, params.account, body)
    return { changed: 1 }
  })
  serve(router, endpoints.wordings, async ({ actor }) => ({ sources: await asClient(database, actor, loadWordings) }))
  serve(router, endpoints.saveWording, async ({ actor, body }) => {
    await saveWording(database, actor, body)
    return { changed: 1 }
  })
  serve(router, endpoints.bank, async ({ actor, params, query: { from, to } }) =>
    found(
      await asClient(database, actor, tx => loadBankPage(tx, params.account, { from: from ?? null, to: to ?? null })),
      'bank account',
    ),
  )
  serve(router, endpoints.bankProof, async ({ actor, params, query }) =>
    found(await asClient(database, actor, tx => loadBankProof(tx, params.account, query.to ?? null)), 'bank account'),
  )
  serve(router, endpoints.proposals, ({ actor, params }) => propose(database, actor, params.account))
  serve(router, endpoints.code, async ({ actor, params, body: { account: to, ...body } }) => {
    const pairings = await codeLine(database, actor, { ...body, to, account: params.account })
    return { changed: pairings.length, pairings }
  })
  serve(router, endpoints.setAsideItems, async ({ actor, params, body }) => {
    const pairings = await setAsideItems(database, actor, { ...body, account: params.account })
    return { changed: pairings.length, pairings }
  })
  serve(router, endpoints.pullBank, async ({ actor, params }) => ({
    job: await startPull(database, jobs, actor, params.account),
  }))
  serve(router, endpoints.confirm, ({ actor, body }) =>
    atOnceOrJob(database, jobs, actor, {
      small: body.groups.length <= mostAtOnce,
      act: () => confirmPairings(database, actor, body),
      job: { sort: 'confirm', subject: body.account, asked: body, total: body.groups.length },
    }),
  )
  serve(router, endpoints.confirmCertain, async ({ actor, params: { account } }) => {
    const few = await confirmFewCertain(database, actor, account, mostAtOnce)
    if (few) return few
    const job = { sort: 'confirm_certain', subject: account, asked: { account } } as const
    return { job: await asClient(database, actor, tx => startJob(tx, jobs, actor, job)) }
  })
  serve(router, endpoints.undoPairings, async ({ actor, body }) => ({
    changed: await undoPairings(database, actor, body.pairings),
  }))
  return router
}
