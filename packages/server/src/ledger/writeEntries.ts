import { type DocumentName, type DraftLine, fiscalYearOf } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOfPrepared, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** An entry about to be written; its number comes from the block that the caller has taken. */
export interface NewEntry {
  readonly date: string
  readonly document: DocumentName
  readonly source: string | null
  readonly key: string | null
  readonly generation: number | null
  readonly currency: string
  readonly payoutLine: string | null
  readonly memo: string
  readonly reverses: { readonly fiscalYear: number; readonly number: number } | null
  readonly lines: readonly Pick<
    DraftLine,
    'account' | 'amount' | 'baseAmount' | 'taxCode' | 'segments' | 'buckets' | 'routes'
  >[]
}

export interface NumberedEntry extends NewEntry {
  readonly fiscalYear: number
  readonly number: number
}

/** How many entries fall into each fiscal year, in order of the years. */
export const countByFiscalYear = (entries: readonly { date: string }[], fiscalStart: number): Map<number, number> => {
  const counts = new Map<number, number>()
  for (const { date } of entries) {
    const year = fiscalYearOf(date, fiscalStart)
    counts.set(year, (counts.get(year) ?? 0) + 1)
  }
  return new Map([...counts].sort(([left], [right]) => left - right))
}

/**
 * Takes a block of numbers per fiscal year, in order of the years, and holds the counters' locks until the end of the
 * transaction: what makes numbers gapless. Must be the first lock that a transaction takes.
 */
export const takeNumbers = async (
  tx: Transaction,
  counts: ReadonlyMap<number, number>,
): Promise<Map<number, number>> => {
  const firsts = new Map<number, number>()
  for (const [year, count] of counts) {
    const [row] = await rowsOfPrepared(
      tx,
      { first: is.whole },
      sql`
      INSERT INTO number_counter (client_id, fiscal_year, next)
      SELECT current_client(), ${year}, first_number + ${count}::int FROM client WHERE client_id = current_client()
      ON CONFLICT (client_id, fiscal_year) DO UPDATE SET next = number_counter.next + ${count}::int
      RETURNING next - ${count}::int AS first`,
    )
    firsts.set(year, (row as { first: number }).first)
  }
  return firsts
}

/** Gives entries, in the order given, the numbers of their fiscal years' blocks. */
export const numberEntries = (
  entries: readonly NewEntry[],
  firsts: ReadonlyMap<number, number>,
  fiscalStart: number,
): NumberedEntry[] => {
  const next = new Map(firsts)
  return entries.map(entry => {
    const fiscalYear = fiscalYearOf(entry.date, fiscalStart)
    const number = next.get(fiscalYear)
    if (number === undefined) throw new Error(`no numbers were taken for ${fiscalYear}`)
    next.set(fiscalYear, number + 1)
    return { ...entry, fiscalYear, number }
  })
}

/** Writes numbered entries with their lines, and adds them to the account totals in one upsert ordered by key. */
export const writeEntries = async (
  tx: Transaction,
  entries: readonly NumberedEntry[],
  actId: string,
): Promise<void> => {
  if (entries.length === 0) return
  await insertHeaders(tx, entries, actId)
  await insertLines(tx, entries)
  await addTotals(tx, entries)
}

const column = <Row>(rows: readonly Row[], read: (row: Row) => string | number | null) => sql.param(rows.map(read))

const insertHeaders = (tx: Transaction, entries: readonly NumberedEntry[], actId: string) =>
  rowsOfPrepared(
    tx,
    {},
    sql`
    INSERT INTO entry (client_id, fiscal_year, number, date, document, source, key, generation, currency, line_count,
      payout_line, memo, act_id, reverses_year, reverses_number)
    SELECT current_client(), u.fiscal_year, u.number, u.date, u.document, u.source, u.key, u.generation, u.currency,
      u.line_count, u.payout_line, u.memo, ${actId}, u.reverses_year, u.reverses_number
    FROM unnest(${column(entries, entry => entry.fiscalYear)}::int[], ${column(entries, entry => entry.number)}::int[],
      ${column(entries, entry => entry.date)}::date[], ${column(entries, entry => entry.document)}::text[],
      ${column(entries, entry => entry.source)}::text[], ${column(entries, entry => entry.key)}::text[],
      ${column(entries, entry => entry.generation)}::int[], ${column(entries, entry => entry.currency)}::char(3)[],
      ${column(entries, entry => entry.lines.length)}::int[], ${column(entries, entry => entry.payoutLine)}::text[],
      ${column(entries, entry => entry.memo)}::text[], ${column(entries, entry => entry.reverses?.fiscalYear ?? null)}::int[],
      ${column(entries, entry => entry.reverses?.number ?? null)}::int[])
      AS u(fiscal_year, number, date, document, source, key, generation, currency, line_count, payout_line, memo,
        reverses_year, reverses_number)`,
  )

const insertLines = (tx: Transaction, entries: readonly NumberedEntry[]) => {
  const lines = entries.flatMap(entry => entry.lines.map((line, index) => ({ entry, line, lineNo: index + 1 })))
  return rowsOfPrepared(
    tx,
    {},
    sql`
    INSERT INTO entry_line (client_id, fiscal_year, number, line_no, line_count, date, currency, account, amount,
      base_amount, tax_code, segments, buckets, routes)
    SELECT current_client(), u.fiscal_year, u.number, u.line_no, u.line_count, u.date, u.currency, u.account, u.amount,
      u.base_amount, u.tax_code, u.segments, u.buckets, u.routes
    FROM unnest(${column(lines, row => row.entry.fiscalYear)}::int[], ${column(lines, row => row.entry.number)}::int[],
      ${column(lines, row => row.lineNo)}::int[], ${column(lines, row => row.entry.lines.length)}::int[],
      ${column(lines, row => row.entry.date)}::date[], ${column(lines, row => row.entry.currency)}::char(3)[],
      ${column(lines, row => row.line.account)}::text[], ${column(lines, row => row.line.amount)}::bigint[],
      ${column(lines, row => row.line.baseAmount)}::bigint[], ${column(lines, row => row.line.taxCode)}::text[],
      ${column(lines, row => row.line.segments)}::text[], ${column(lines, row => JSON.stringify(row.line.buckets))}::jsonb[],
      ${column(lines, row => JSON.stringify(row.line.routes))}::jsonb[])
      AS u(fiscal_year, number, line_no, line_count, date, currency, account, amount, base_amount, tax_code, segments,
        buckets, routes)`,
  )
}

// Ordered by key: two transactions that upsert the same rows in different orders would wait for each other.
const addTotals = (tx: Transaction, entries: readonly NumberedEntry[]) => {
  const lines = entries.flatMap(entry => entry.lines.map(line => ({ entry, line })))
  return rowsOfPrepared(
    tx,
    {},
    sql`
    INSERT INTO account_total (client_id, account, tax_code, segments, currency, day, debit, credit, base_debit, base_credit)
    SELECT current_client(), u.account, u.tax_code, u.segments, u.currency, u.day,
      sum(greatest(u.amount, 0)), sum(greatest(-u.amount, 0)), sum(greatest(u.base, 0)), sum(greatest(-u.base, 0))
    FROM unnest(${column(lines, row => row.line.account)}::text[], ${column(lines, row => row.line.taxCode)}::text[],
      ${column(lines, row => row.line.segments)}::text[], ${column(lines, row => row.entry.currency)}::char(3)[],
      ${column(lines, row => row.entry.date)}::date[], ${column(lines, row => row.line.amount)}::bigint[],
      ${column(lines, row => row.line.baseAmount)}::bigint[]) AS u(account, tax_code, segments, currency, day, amount, base)
    GROUP BY 2, 3, 4, 5, 6
    ORDER BY 2, 3, 4, 5, 6
    ON CONFLICT (client_id, account, tax_code, segments, currency, day) DO UPDATE SET
      debit = account_total.debit + excluded.debit, credit = account_total.credit + excluded.credit,
      base_debit = account_total.base_debit + excluded.base_debit,
      base_credit = account_total.base_credit + excluded.base_credit`,
  )
}
