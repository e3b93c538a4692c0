import type { TaxFilingBody, TaxFilingList } from '@culvert/contract'
import { addDays, monthOf } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, asClient, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { holdMonths } from '../ledger/periods.ts'

/** Tax periods that were filed, the latest first; those withdrawn too. */
export const loadTaxFilings = (tx: Transaction): Promise<TaxFilingList['filings']> =>
  rowsOf(
    tx,
    {
      id: is.whole,
      agency: is.text,
      from: is.text,
      to: is.text,
      filedOn: is.text,
      by: is.text,
      withdrawn: is.maybe(is.record({ by: is.text, reason: is.text })),
    },
    sql`SELECT f.filing_id AS id, f.agency, f."from"::text, f."to"::text, f.filed_on::text AS "filedOn", coalesce(u.name, '') AS by,
      CASE WHEN f.withdrawn_at IS NOT NULL THEN json_build_object('by', coalesce(w.name, ''), 'reason', f.withdrawn_for) END AS withdrawn
    FROM tax_filing f LEFT JOIN app_user u ON u.user_id = f."by" LEFT JOIN app_user w ON w.user_id = f.withdrawn_by
    WHERE f.client_id = current_client() ORDER BY f."to" DESC, f.filing_id DESC`,
  )

const monthsBetween = (from: string, to: string): string[] => {
  const months = new Set<string>()
  for (let day = from; day <= to; day = addDays(day, 28)) months.add(monthOf(day))
  return [...months.add(monthOf(to))].sort()
}

// Who dates an entry holds its month; so does who files one, so that neither overlooks the other.
const holdToFile = async (tx: Transaction, from: string, to: string): Promise<void> => {
  const months = monthsBetween(from, to)
  await holdMonths(
    tx,
    months.map(month => `${month}-01`),
  )
  await tx.execute(
    sql`SELECT FROM period WHERE client_id = current_client() AND month = ANY(${sql.param(months)}::char(7)[]) ORDER BY month FOR UPDATE`,
  )
}

/** Marks a tax period as filed: corrections of what is in it are dated after it. Returns its id. @throws Refused where one of the agency overlaps it. */
export const fileTax = (database: Database, actor: Actor, filing: TaxFilingBody): Promise<number> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      await holdToFile(tx, filing.from, filing.to)
      const agency = filing.registration === undefined ? filing.agency : await agencyOf(tx, filing.registration)
      const [other] = await rowsOf(
        tx,
        { from: is.text, to: is.text },
        sql`SELECT "from"::text, "to"::text FROM tax_filing WHERE client_id = current_client() AND agency = ${agency} AND registration_id IS NOT DISTINCT FROM ${filing.registration ?? null}::int
          AND withdrawn_at IS NULL AND "from" <= ${filing.to}::date AND "to" >= ${filing.from}::date LIMIT 1`,
      )
      if (other) throw new Refused('filed_already', { ...other, agency })
      const { id } = await oneRow(
        tx,
        { id: is.whole },
        sql`INSERT INTO tax_filing (client_id, filing_id, agency, registration_id, "from", "to", filed_on, "by", at)
          SELECT current_client(), coalesce(max(filing_id), 0) + 1, ${agency}, ${filing.registration ?? null}::int, ${filing.from}::date, ${filing.to}::date,
            ${filing.filedOn}::date, ${actor.userId}, clock_now()
          FROM tax_filing WHERE client_id = current_client() RETURNING filing_id AS id`,
      )
      await recordAct(tx, actor, {
        sort: 'file_tax',
        note: `${agency}, ${filing.from} to ${filing.to}`,
        touched: [{ subject: 'tax_filing', key: String(id), after: { ...filing, agency } }],
      })
      return id
    }),
  )

const agencyOf = async (tx: Transaction, registration: number): Promise<string> => {
  const [found] = await rowsOf(
    tx,
    { agency: is.text },
    sql`SELECT agency FROM registration WHERE client_id = current_client() AND registration_id = ${registration}`,
  )
  if (!found) throw new Refused('registration_unknown')
  return found.agency
}

/** Withdraws a filing, with the reason; it stays in the list. @throws Refused where there is none that stands. */
export const withdrawTaxFiling = (database: Database, actor: Actor, id: number, reason: string): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const [row] = await rowsOf(
        tx,
        {},
        sql`UPDATE tax_filing SET withdrawn_at = clock_now(), withdrawn_by = ${actor.userId}, withdrawn_for = ${reason}
          WHERE client_id = current_client() AND filing_id = ${id} AND withdrawn_at IS NULL RETURNING filing_id`,
      )
      if (!row) throw new Refused('not_filed')
      await recordAct(tx, actor, {
        sort: 'withdraw_tax_filing',
        note: `${id}: ${reason}`,
        touched: [{ subject: 'tax_filing', key: String(id), after: { withdrawn: true, reason } }],
      })
    }),
  )
