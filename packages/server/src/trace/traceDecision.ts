import type { Trace, TraceStart, TraceStep } from '@culvert/contract'
import { decisionSorts, kinds } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** The way of what was decided of a payment: from its entry, or the entry that reverses it, to the line that it decides. Null where there is none. */
export const traceDecision = async (tx: Transaction, start: TraceStart): Promise<Trace | null> => {
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
      of: is.oneOf('dispute', 'payment'),
      decision: is.oneOf('credited', ...decisionSorts),
      kind: is.kind,
      source: is.text,
      lineId: is.text,
      amount: is.minor,
      order: is.maybe(is.text),
    },
    sql`
    SELECT e.fiscal_year || '-' || e.number AS entry, e.date::text, e.memo, e.currency, d.of, d.decision, d.source, d.line_id AS "lineId",
      (SELECT sum(greatest(l.amount, 0))::bigint FROM entry_line l WHERE l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year
        AND l.number = e.number) AS total, c.kind, c.amount, c.order_id AS "order"
    FROM (
      SELECT 'dispute' AS of, client_id, fiscal_year, number, source, line_id, decision FROM dispute_decision
      UNION ALL
      SELECT 'payment', client_id, fiscal_year, number, source, line_id, decision FROM payment_decision WHERE number IS NOT NULL
    ) d JOIN entry e ON e.client_id = d.client_id
      AND ((e.fiscal_year = d.fiscal_year AND e.number = d.number) OR (e.reverses_year = d.fiscal_year AND e.reverses_number = d.number))
    CROSS JOIN LATERAL (SELECT kind, amount, order_id FROM activity_line l WHERE l.client_id = d.client_id AND l.source = d.source
      AND l.line_id = d.line_id ORDER BY l.revision DESC LIMIT 1) c
    WHERE d.client_id = current_client() AND e.fiscal_year = ${year} AND e.number = ${number}`,
  )
  if (!row) return null
  const { currency } = row
  const line: TraceStep = {
    ...{ sort: 'line', here: false, count: 1, currency, amount: row.amount },
    link: row.of === 'dispute' ? '/payments/disputes' : '/payments',
    title: `${kinds[row.kind].label} ${row.lineId}`,
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
  return { title: titles[row.of][row.decision] ?? 'Payment decided', amount: row.total, currency, steps: [line, entry] }
}

const titles: Record<'dispute' | 'payment', Readonly<Record<string, string>>> = {
  dispute: { credited: 'Disputed payment credited', written_off: 'Disputed payment written off' },
  payment: {
    price_reduction: 'Price reduction',
    written_off: 'Difference written off',
    gift: 'Gift',
    own_test: 'Own test',
    sale: 'Sale without an order',
  },
}
