import type { CutOver } from '@culvert/contract'
import { addDays } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { found } from '../access/refused.ts'
import { clearingAccounts, ledgerAt } from '../activity/clearingAccounts.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadProof } from './loadProof.ts'

/**
 * What a source whose first day here is set left to other books: its settlements, and whether the opening balances of its accounts are what its
 * processor held at the end of the day before, as the proof of that day says. Null where all is booked here.
 * @throws Refused where there is no such source
 */
export const loadCutOver = async (tx: Transaction, source: string): Promise<CutOver> => {
  const [row] = await rowsOf(
    tx,
    { bookedFrom: is.maybe(is.text), settlements: is.whole, until: is.maybe(is.text) },
    sql`SELECT f.options->>'bookedFrom' AS "bookedFrom",
      (SELECT count(*)::int FROM settlement s WHERE s.client_id = f.client_id AND s.source = f.source AND s.state = 'elsewhere') AS settlements,
      (SELECT max(coalesce(s.period_end, s.last_date))::text FROM settlement s WHERE s.client_id = f.client_id AND s.source = f.source
        AND s.state = 'elsewhere') AS until
    FROM source f WHERE f.client_id = current_client() AND f.source = ${source}`,
  )
  const { bookedFrom, ...elsewhere } = found(row, 'source')
  if (bookedFrom === null) return { cutOver: null }
  const date = addDays(bookedFrom, -1)
  const accounts = (await clearingAccounts(tx)).filter(account => account.sources.some(one => one.source === source))
  const held = []
  for (const account of accounts) {
    const proof = await loadProof(tx, account, date)
    held.push({
      account: account.account,
      name: account.name,
      currency: account.currency,
      opening: await ledgerAt(tx, account, date),
      reported: proof?.reported ?? null,
      reportedOn: proof?.reportedOn ?? null,
      causes: (proof?.causes ?? [])
        .filter(({ cause }) => cause !== 'unexplained')
        .map(({ cause, amount }) => ({ cause, amount })),
      difference: proof?.unexplained ?? null,
      outcome: proof?.outcome ?? null,
    })
  }
  return { cutOver: { lastDay: date, ...elsewhere, accounts: held } }
}
