import { type ImportPage, statementOutcome, subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { holdStatements } from '../database/locks.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { heldBy, laterStatements, loadImportedFile, markTakenBack, refuseHeld } from '../jobs/importedFile.ts'

/** What a statement brought in, and what rests on it. @throws Refused */
export const loadStatementImport = async (tx: Transaction, jobId: string): Promise<ImportPage> => {
  const file = await loadImportedFile(tx, { jobId, sort: 'statement', subject: 'bank' })
  const outcome = statementOutcome.parse(file.outcome)
  const mine = sql`b.client_id = current_client() AND b.pull_id = ${jobId}`
  const told = await oneRow(
    tx,
    { rows: is.whole, from: is.maybe(is.text), to: is.maybe(is.text) },
    sql`SELECT count(*)::int AS rows, min(date)::text AS "from", max(date)::text AS "to" FROM bank_line b WHERE ${mine}`,
  )
  const sums = await rowsOf(
    tx,
    { currency: is.text, amount: is.minor },
    sql`SELECT currency, sum(amount)::bigint AS amount FROM bank_line b WHERE ${mine} GROUP BY 1 ORDER BY 1`,
  )
  const decided = await rowsOf(
    tx,
    { name: is.text },
    sql`SELECT DISTINCT b.date::text || ' ' || b.description AS name FROM bank_line b JOIN paired_bank_line p USING (client_id, bank_account, line_id)
      WHERE ${mine} ORDER BY 1`,
  )
  const noted = await rowsOf(
    tx,
    { title: is.text },
    sql`SELECT DISTINCT n.title FROM note n WHERE n.client_id = current_client() AND n.subject = 'bank_line'
      AND n.key = ANY(${sql.param(await keysOf(tx, jobId))}::text[]) ORDER BY 1`,
  )
  return {
    ...{
      jobId,
      name: file.name,
      sort: 'statement',
      restored: 0,
      settlements: 0,
      accounts: outcome.accounts,
      ...told,
      sums,
    },
    holds: [
      ...heldBy(
        'bank_decided',
        decided.map(row => row.name),
      ),
      ...heldBy('overlapped', await laterStatements(tx, { ordinal: file.ordinal, outcome })),
      ...heldBy(
        'noted',
        noted.map(row => row.title),
      ),
    ],
  }
}

/** The keys by which notes name lines of a statement, as far as any line is noted. */
const keysOf = async (tx: Transaction, jobId: string): Promise<string[]> => {
  const lines = await rowsOf(
    tx,
    { account: is.text, line: is.text },
    sql`SELECT bank_account AS account, line_id AS line FROM bank_line WHERE client_id = current_client() AND pull_id = ${jobId}
      AND EXISTS (SELECT FROM note WHERE client_id = current_client() AND subject = 'bank_line')`,
  )
  return lines.map(({ account, line }) => subjectKey(account, line))
}

/** Takes back what a statement brought in: its lines and balances go, and the account is known as far as what is left reaches. @throws Refused where anything rests on it */
export const takeStatementBack = (database: Database, actor: Actor, jobId: string): Promise<ImportPage> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      await holdStatements(tx)
      // Held before it is looked at: whoever pairs a line holds it too.
      await tx.execute(sql`SELECT FROM open_bank_line o JOIN bank_line b USING (client_id, bank_account, line_id)
        WHERE o.client_id = current_client() AND b.pull_id = ${jobId} ORDER BY o.bank_account COLLATE "C", o.line_id COLLATE "C" FOR UPDATE OF o`)
      const page = await loadStatementImport(tx, jobId)
      refuseHeld(page)
      await markTakenBack(tx, actor, jobId)
      await tx.execute(sql`SELECT take_statement_back(${jobId})`)
      await tx.execute(sql`
        DELETE FROM bank_reach WHERE client_id = current_client() AND bank_account = ANY(${sql.param([...page.accounts])}::text[])`)
      await tx.execute(sql`
        INSERT INTO bank_reach (client_id, bank_account, read_to)
        SELECT current_client(), bank_account, max(day) FROM (
          SELECT bank_account, date AS day FROM bank_line WHERE client_id = current_client()
          UNION ALL SELECT bank_account, to_date FROM statement WHERE client_id = current_client() AND closing IS NOT NULL) known
        WHERE bank_account = ANY(${sql.param([...page.accounts])}::text[]) GROUP BY 2 ORDER BY 2`)
      await recordAct(tx, actor, {
        sort: 'take_import_back',
        note: page.name,
        touched: page.accounts.map(account => ({
          ...{
            subject: 'account' as const,
            key: subjectKey(account),
            before: { statement: page.name, lines: page.rows },
            after: null,
          },
        })),
      })
      await markStages(tx, ['bank', 'sources', 'clearing', 'close'])
      return page
    }),
  )
