import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** An account that holds or owes something: gift cards, reserves, advances, deposits of customers, tax. */
export interface BalanceAccount {
  readonly account: string
  readonly name: string
  readonly type: string
  readonly currency: string
}

/** Types of accounts whose balance somebody outside can state. */
const provable = ['current_asset', 'current_liability', 'loan', 'tax', 'receivable', 'payable']

/** A clearing account that is no source's: a card brand, a terminal. What comes in by tenders goes out by deposits. */
export const clearsAlone = ({ type }: BalanceAccount): boolean => type === 'clearing'

/** Accounts besides the clearing accounts of sources that entries have moved, in each of their currencies. */
export const balanceAccounts = (tx: Transaction): Promise<BalanceAccount[]> =>
  rowsOf(
    tx,
    { account: is.text, name: is.text, type: is.text, currency: is.text },
    sql`
    SELECT a.code AS account, a.name, a.type, t.currency FROM account a
    CROSS JOIN (SELECT base AS currency FROM client WHERE client_id = current_client()
      UNION SELECT currency FROM source_clearing WHERE client_id = current_client()
      UNION SELECT currency FROM account WHERE client_id = current_client() AND type = 'clearing') t
    WHERE a.client_id = current_client() AND (a.type = ANY(${sql.param(provable)}::text[]) OR a.type = 'clearing' AND a.currency = t.currency
        AND NOT EXISTS (SELECT FROM source_clearing c WHERE c.client_id = a.client_id AND c.account = a.code))
      AND EXISTS (SELECT FROM account_total x WHERE x.client_id = a.client_id AND x.account = a.code AND x.currency = t.currency)
    ORDER BY a.code, t.currency`,
  )

/** What was said of an account's balance last, on or before a date; of reserves the processors say it themselves. */
export const statedAt = async (
  tx: Transaction,
  of: BalanceAccount,
  date: string | null,
): Promise<{ date: string; amount: number; by: string } | null> => {
  const until = date === null ? sql`` : sql`AND date <= ${date}`
  const [stated] = await rowsOf(
    tx,
    { date: is.date, amount: is.minor },
    sql`SELECT date::text, amount FROM stated_balance WHERE client_id = current_client() AND account = ${of.account}
      AND currency = ${of.currency} ${until} ORDER BY date DESC LIMIT 1`,
  )
  const [reserve] = await rowsOf(
    tx,
    { date: is.date, amount: is.minor, by: is.text },
    sql`
    SELECT max(b.date)::text AS date, sum(b.reserve)::bigint AS amount, string_agg(s.name, ', ' ORDER BY s.name) AS by
    FROM source s JOIN LATERAL (SELECT date, reserve FROM reported_balance r WHERE r.client_id = s.client_id AND r.source = s.source
      AND r.currency = ${of.currency} ${until} ORDER BY date DESC LIMIT 1) b ON true
    WHERE s.client_id = current_client() AND EXISTS (SELECT FROM activity_week w WHERE w.client_id = s.client_id
        AND w.source = s.source AND w.kind = 'reserve_kept')
      AND EXISTS (SELECT FROM route o WHERE o.client_id = s.client_id AND o.kind = 'reserve_kept' AND o.account = ${of.account}
        AND coalesce(o.source, s.source) = s.source)
    HAVING count(*) > 0`,
  )
  if (reserve && (!stated || stated.date < reserve.date)) return reserve
  if (stated) return { ...stated, by: 'it was stated' }
  if (!clearsAlone(of)) return null
  // Where nobody confirms another balance, nothing is to be left on it.
  const { day } = await oneRow(
    tx,
    { day: is.maybe(is.date) },
    sql`SELECT max(day)::text AS day FROM account_total WHERE client_id = current_client() AND account = ${of.account} AND currency = ${of.currency}`,
  )
  return day === null ? null : { date: date ?? day, amount: 0, by: 'nothing should be left' }
}
