import { randomUUID } from 'node:crypto'
import { bankAsideBody, bankGrantBody, codeBody, confirmBody, wordingBody } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Router } from 'express'
import { z } from 'zod'
import { actorOf } from '../access/establish.ts'
import { withFile } from '../access/receiveFile.ts'
import { found } from '../access/refused.ts'
import { asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import type { Jobs } from '../jobs/boss.ts'
import { endDeadPulls } from '../sources/deadPulls.ts'
import { beginPull } from '../sources/pullLog.ts'
import { saveGrant } from './bankGrant.ts'
import { codeLine } from './codeLine.ts'
import { confirmCertain, confirmPairings } from './confirmPairings.ts'
import { loadBankPage } from './loadBank.ts'
import { loadProposals } from './proposals.ts'
import { setAsideItems } from './setAsideItems.ts'
import { undoPairings } from './undoPairings.ts'
import { uploadStatement } from './uploadStatement.ts'
import { loadWordings, saveWording } from './wordings.ts'

const loadAccounts = (tx: Transaction) =>
  rowsOf(
    tx,
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
  router.get('/bank', async (_request, response) => {
    response.json({ accounts: await asClient(database, actorOf(response), loadAccounts) })
  })
  router.post('/bank/statements', async (request, response) => {
    const { name } = z.object({ name: z.string().max(300).default('statement') }).parse(request.query)
    const actor = actorOf(response)
    response.json(await withFile(request, body => uploadStatement(database, actor, { name, body })))
  })
  router.put('/bank/:account/grant', async (request, response) => {
    await saveGrant(database, actorOf(response), request.params.account, bankGrantBody.parse(request.body))
    response.json({ changed: 1 })
  })
  router.get('/bank-wordings', async (_request, response) => {
    response.json({ sources: await asClient(database, actorOf(response), loadWordings) })
  })
  router.post('/bank-wordings', async (request, response) => {
    await saveWording(database, actorOf(response), wordingBody.parse(request.body))
    response.json({ changed: 1 })
  })
  router.get('/bank/:account', async (request, response) => {
    const { from, to } = z.object({ from: z.iso.date().optional(), to: z.iso.date().optional() }).parse(request.query)
    response.json(
      found(
        await asClient(database, actorOf(response), tx =>
          loadBankPage(tx, request.params.account, { from: from ?? null, to: to ?? null }),
        ),
        'bank account',
      ),
    )
  })
  router.get('/bank/:account/pairings', async (request, response) => {
    response.json(await asClient(database, actorOf(response), tx => loadProposals(tx, request.params.account)))
  })
  router.post('/bank/:account/code', async (request, response) => {
    const { account: to, ...body } = codeBody.parse(request.body)
    await codeLine(database, actorOf(response), { ...body, to, account: request.params.account })
    response.json({ changed: 1 })
  })
  router.post('/bank/:account/set-aside', async (request, response) => {
    const body = bankAsideBody.parse(request.body)
    response.json({
      changed: await setAsideItems(database, actorOf(response), { ...body, account: request.params.account }),
    })
  })
  router.post('/bank/:account/pull', async (request, response) => {
    const actor = actorOf(response)
    const pullId = randomUUID()
    await asClient(database, actor, async tx => {
      const [account] = await rowsOf(
        tx,
        sql`SELECT FROM account WHERE client_id = current_client() AND code = ${request.params.account} AND type IN ('bank', 'card')`,
      )
      found(account, 'bank account')
      await endDeadPulls(tx)
      await beginPull(tx, actor, {
        pullId,
        sort: 'bank_pull',
        source: request.params.account,
        state: 'waiting',
        message: '',
      })
      await jobs.enqueue(tx, 'pull_bank', { ...actor, pullId, source: request.params.account })
    })
    response.status(202).json({ pullId })
  })
  router.post('/bank/confirm', async (request, response) => {
    response.json(await confirmPairings(database, actorOf(response), confirmBody.parse(request.body)))
  })
  router.post('/bank/:account/confirm-certain', async (request, response) => {
    response.json(await confirmCertain(database, actorOf(response), request.params.account))
  })
  router.post('/bank/undo', async (request, response) => {
    const { pairings } = z.object({ pairings: z.array(z.string()).min(1).max(5000) }).parse(request.body)
    response.json({ changed: await undoPairings(database, actorOf(response), pairings) })
  })
  return router
}
