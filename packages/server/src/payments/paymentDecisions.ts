import { type DecisionSort, decisionSorts } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** A payment by the line that a decision names. */
export interface PaymentRef {
  readonly source: string
  readonly lineId: string
}

export const textOfPayment = ({ source, lineId }: PaymentRef): string => JSON.stringify([source, lineId])

/** What stands decided of a payment. */
export interface StandingDecision extends PaymentRef {
  readonly actId: string
  readonly decision: DecisionSort
  /** Of what was open, as the gateway signs it. */
  readonly amount: number
  readonly otherSource: string | null
  readonly otherLine: string | null
  readonly otherOrder: string | null
  readonly until: string | null
  readonly account: string | null
  readonly fiscalYear: number | null
  readonly number: number | null
  readonly entryDate: string | null
  readonly note: string
  readonly by: string
  readonly at: string
  /** Whether a match by hand of the two lines stands; of what was attached. */
  readonly tied: boolean
  /** The line as it is now. */
  readonly line: {
    readonly kind: string
    readonly date: string
    readonly order: string | null
    readonly customer: string | null
    readonly amount: number
    readonly currency: string
    readonly settlement: string
  }
}

/** Everything that stands decided, the latest first. */
export const loadStanding = (tx: Transaction): Promise<StandingDecision[]> =>
  rowsOf(
    tx,
    {
      source: is.text,
      lineId: is.text,
      actId: is.text,
      decision: is.oneOf(...decisionSorts),
      amount: is.minor,
      otherSource: is.maybe(is.text),
      otherLine: is.maybe(is.text),
      otherOrder: is.maybe(is.text),
      until: is.maybe(is.date),
      account: is.maybe(is.text),
      fiscalYear: is.maybe(is.whole),
      number: is.maybe(is.whole),
      entryDate: is.maybe(is.date),
      note: is.text,
      by: is.text,
      at: is.text,
      tied: is.yes,
      line: is.record({
        kind: is.text,
        date: is.date,
        order: is.maybe(is.text),
        customer: is.maybe(is.text),
        amount: is.minor,
        currency: is.text,
        settlement: is.text,
      }),
    },
    sql`
    SELECT d.source, d.line_id AS "lineId", d.act_id AS "actId", d.decision, d.amount, d.other_source AS "otherSource", d.other_line AS "otherLine",
      (SELECT o.order_id FROM line_as_of o WHERE o.client_id = d.client_id AND o.source = d.other_source AND o.line_id = d.other_line
        ORDER BY o.revision DESC LIMIT 1) AS "otherOrder",
      d."until"::text AS until, d.account, d.fiscal_year AS "fiscalYear", d.number, e.date::text AS "entryDate", d.note, u.name AS by, a.at::text AS at,
      EXISTS (SELECT FROM tender_match m WHERE m.client_id = d.client_id AND m.channel = d.source AND m.tender_line = d.line_id
        AND m.gateway = d.other_source AND m.collection_line = d.other_line AND m.to_pull IS NULL) AS tied,
      (SELECT json_build_object('kind', l.kind, 'date', l.local_date, 'order', l.order_id, 'customer', l.customer, 'amount', l.amount,
          'currency', l.currency, 'settlement', l.settlement_key)
        FROM line_as_of l WHERE l.client_id = d.client_id AND l.source = d.source AND l.line_id = d.line_id ORDER BY l.revision DESC LIMIT 1) AS line
    FROM payment_decision d
    JOIN act a ON a.client_id = d.client_id AND a.act_id = d.act_id
    JOIN app_user u ON u.user_id = a."by"
    LEFT JOIN entry e ON e.client_id = d.client_id AND e.fiscal_year = d.fiscal_year AND e.number = d.number
    WHERE d.client_id = current_client() AND d.undone_by IS NULL
    ORDER BY a.at DESC, d.source, d.line_id`,
  )
