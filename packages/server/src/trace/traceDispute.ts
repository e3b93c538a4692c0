import type { Trace, TraceStart, TraceStep } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** The way of what was decided of a disputed payment: from its entry, or the entry that reverses it, to the chargeback. Null where there is none. */
export const traceDispute = async (tx: Transaction, start: TraceStart): Promise<Trace | null> => {
  if (start.at !== 'entry' && start.at !== 'entry_line') return null
  const [year, number] = start.entry.split('-').map(Number)
  const [row] = await rowsOf(
    tx,
    {
      entry: is.text,
      date: is.date,
      memo: is.text,
      currency: is.text,
      total: is.whole,
      decision: is.oneOf('written_off', 'credited'),
      source: is.text,
      lineId: is.text,
      amount: is.minor,
      order: is.maybe(is.text),
    },
    sql`
    SELECT e.fiscal_year || '-' || e.number AS entry, e.date::text, e.memo, e.currency, d.decision, d.source, d.line_id AS "lineId",
      (SELECT sum(greatest(l.amount, 0))::bigint FROM entry_line l WHERE l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year
        AND l.number = e.number) AS total, c.amount, c.order_id AS "order"
    FROM dispute_decision d JOIN entry e ON e.client_id = d.client_id
      AND ((e.fiscal_year = d.fiscal_year AND e.number = d.number) OR (e.reverses_year = d.fiscal_year AND e.reverses_number = d.number))
    CROSS JOIN LATERAL (SELECT amount, order_id FROM activity_line l WHERE l.client_id = d.client_id AND l.source = d.source
      AND l.line_id = d.line_id ORDER BY l.revision DESC LIMIT 1) c
    WHERE d.client_id = current_client() AND e.fiscal_year = ${year} AND e.number = ${number}`,
  )
  if (!row) return null
  const { currency } = row
  const line: TraceStep = {
    ...{ sort: 'line', here: false, count: 1, currency, amount: row.amount, link: '/payments/disputes' },
    title: `Chargeback ${row.lineId}`,
    detail: row.order ? `order ${row.order}` : '',
    items: [
      {
        title: row.lineId,
        detail: 'where it was booked',
        amount: row.amount,
        link: `line:${row.source}/${row.lineId}`,
      },
    ],
  }
  const entry: TraceStep = {
    ...{ sort: 'entry', here: true, count: 1, currency, amount: row.total, items: [] },
    title: `Entry ${row.entry}`,
    detail: `${row.date} ${row.memo}`,
    link: `/books/entries/${row.entry}`,
  }
  const title = row.decision === 'credited' ? 'Disputed payment credited' : 'Disputed payment written off'
  return { title, amount: row.total, currency, steps: [line, entry] }
}
