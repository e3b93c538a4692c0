import type { Trace, TraceStart, TraceStep } from '@culvert/contract'
import { sumMinor } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** The way of what was decided at the bank: from its entry to the bank lines behind it. Null where nothing was posted there. */
export const traceBankEntry = async (tx: Transaction, start: TraceStart): Promise<Trace | null> => {
  const at = placeOf(start)
  if (at === null) return null
  const [row] = await rowsOf(
    tx,
    {
      entry: is.text,
      date: is.date,
      memo: is.text,
      currency: is.text,
      total: is.whole,
      sort: is.oneOf('paired', 'coded'),
      account: is.text,
      lines: is.maybe(is.list(is.record({ id: is.text, date: is.date, amount: is.minor, description: is.text }))),
    },
    sql`
    SELECT e.fiscal_year || '-' || e.number AS entry, e.date::text, e.memo, e.currency, p.sort, p.bank_account AS account,
      (SELECT sum(greatest(l.base_amount, 0))::bigint FROM entry_line l WHERE l.client_id = e.client_id
        AND l.fiscal_year = e.fiscal_year AND l.number = e.number) AS total,
      (SELECT json_agg(json_build_object('id', b.line_id, 'date', b.date, 'amount', b.amount, 'description', b.description) ORDER BY b.date)
        FROM paired_bank_line m JOIN bank_line b USING (client_id, bank_account, line_id)
        WHERE m.client_id = p.client_id AND m.pairing_id = p.pairing_id) AS lines
    FROM pairing p JOIN entry e USING (client_id, fiscal_year, number)
    WHERE p.client_id = current_client() AND ${at} ORDER BY p.undone_by NULLS FIRST LIMIT 1`,
  )
  if (!row) return null
  const lines = row.lines ?? []
  const isBankLine = start.at === 'bank_line'
  const entry: TraceStep = {
    sort: 'entry',
    here: !isBankLine,
    title: `Entry ${row.entry}`,
    detail: `${row.date} ${row.memo}`,
    count: 1,
    amount: row.total,
    currency: row.currency,
    link: `/books/entries/${row.entry}`,
    items: [],
  }
  const bank: TraceStep = {
    sort: 'bank_line',
    here: isBankLine,
    title: lines.length === 1 ? `Bank line ${lines[0]?.id}` : `${lines.length} bank lines`,
    detail: lines.length === 1 ? `${lines[0]?.date} ${lines[0]?.description}` : '',
    count: lines.length,
    amount: sumMinor(lines, line => line.amount),
    currency: row.currency,
    link: `/bank/${encodeURIComponent(row.account)}${lines[0] ? `?around=${lines[0].date}` : ''}`,
    items:
      lines.length < 2
        ? []
        : lines.map(line => ({
            title: line.id,
            detail: `${line.date} ${line.description}`,
            amount: line.amount,
            link: null,
          })),
  }
  const what = row.sort === 'coded' ? 'Bank line coded to an account' : 'Difference of a deposit'
  return {
    title: what,
    amount: isBankLine ? (bank.amount ?? 0) : row.total,
    currency: row.currency,
    steps: [entry, bank],
  }
}

const placeOf = (start: TraceStart): SQL | null => {
  if (start.at === 'entry' || start.at === 'entry_line') {
    const [year, number] = start.entry.split('-').map(Number)
    return sql`((e.fiscal_year = ${year} AND e.number = ${number}) OR EXISTS (SELECT FROM entry r WHERE r.client_id = e.client_id
      AND r.reverses_year = e.fiscal_year AND r.reverses_number = e.number AND r.fiscal_year = ${year} AND r.number = ${number}))`
  }
  if (start.at === 'bank_line')
    return sql`p.undone_by IS NULL AND p.sort = 'coded' AND EXISTS (SELECT FROM paired_bank_line m WHERE m.client_id = p.client_id
      AND m.pairing_id = p.pairing_id AND m.bank_account = ${start.account} AND m.line_id = ${start.id})`
  return null
}
