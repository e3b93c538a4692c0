import {
  type CodeCheck,
  isWhole,
  type NamedAmount,
  ratesInForce,
  scaleMinor,
  type TaxCode,
  taxOnTop,
  taxWithin,
} from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadTaxCodes } from '../setup/loadMap.ts'

interface EntrySums {
  readonly taxCode: string
  readonly currency: string
  readonly date: string
  readonly fiscalYear: number
  readonly number: number
  readonly memo: string
  /** On accounts that take the code's tax, and on all others: minor units, plus is a credit. */
  readonly tax: number
  readonly base: number
}

/** What entries that no settlement made hold of each tax code, entry by entry; of alias `e` those that `entries` lets through. */
const loadEntrySums = (tx: Transaction, entries: SQL): Promise<EntrySums[]> =>
  rowsOf(
    tx,
    {
      taxCode: is.text,
      currency: is.text,
      date: is.date,
      fiscalYear: is.whole,
      number: is.whole,
      memo: is.text,
      tax: is.minor,
      base: is.minor,
    },
    sql`
    SELECT l.tax_code AS "taxCode", e.currency, e.date::text, e.fiscal_year AS "fiscalYear", e.number, e.memo,
      coalesce(-sum(l.amount) FILTER (WHERE t.taxed), 0)::bigint AS tax, coalesce(-sum(l.amount) FILTER (WHERE NOT t.taxed), 0)::bigint AS base
    FROM entry e JOIN entry_line l USING (client_id, fiscal_year, number)
    CROSS JOIN LATERAL (SELECT EXISTS (SELECT FROM tax_component c WHERE c.client_id = l.client_id AND c.code = l.tax_code
      AND l.account IN (c.account, c.input_account)) AS taxed) t
    WHERE e.client_id = current_client() AND e.source IS NULL AND l.tax_code <> '' AND ${entries}
    GROUP BY e.fiscal_year, e.number, l.tax_code, e.currency, e.date, e.memo ORDER BY e.date, e.fiscal_year, e.number`,
  )

/**
 * Tax of entries that no settlement made (bank lines sent to an account, entries made by hand, their reversals), dated in a month: of each
 * code what stands on its accounts beside what its base calls for, entry by entry, at the rates of the entry's day.
 */
export const loadLedgerTax = async (tx: Transaction, month: string): Promise<CodeCheck[]> => {
  const codes = new Map((await loadTaxCodes(tx)).map(code => [code.code, code]))
  const rows = await loadEntrySums(
    tx,
    sql`e.date BETWEEN ${`${month}-01`}::date AND (${`${month}-01`}::date + interval '1 month - 1 day')`,
  )
  return rows.flatMap(row => checkOf(row, codes.get(row.taxCode)) ?? [])
}

/**
 * Entries up to a date that no settlement made and whose tax on an account is not what their base calls for, by more than the minor unit that
 * rounding may leave; amounts as the account sees them, plus is a debit.
 */
export const loadWrongTax = async (
  tx: Transaction,
  of: { readonly account: string; readonly currency: string },
  date: string,
): Promise<NamedAmount[]> => {
  const codes = new Map((await loadTaxCodes(tx)).map(code => [code.code, code]))
  const touching = [...codes.values()].filter(code =>
    code.components.some(one => one.account === of.account || one.inputAccount === of.account),
  )
  const rows = await loadEntrySums(
    tx,
    sql`e.date <= ${date}::date AND e.currency = ${of.currency} AND l.tax_code = ANY(${sql.param(touching.map(code => code.code))}::text[])`,
  )
  return rows.flatMap(row => {
    const check = checkOf(row, codes.get(row.taxCode))
    if (!check || Math.abs(check.difference) <= 1) return []
    const name = `${row.fiscalYear}-${String(row.number).padStart(4, '0')}, tax ${row.taxCode}`
    const ref = { of: 'entry', fiscalYear: row.fiscalYear, number: row.number } as const
    return [{ name: row.memo === '' ? name : `${name}, ${row.memo}`, ref, date: row.date, amount: -check.difference }]
  })
}

const checkOf = ({ taxCode, currency, date, tax, base }: EntrySums, code: TaxCode | undefined): CodeCheck | null => {
  const rates = code && !code.reverseCharge && code.basis !== 'none' ? ratesInForce(code, date) : null
  if (!rates) return null
  const within = isWhole(rates.recovery) ? null : taxWithin(base + tax, rates.total)
  // Where a part only is taken back, the base holds the rest: the whole tax is found in what was paid.
  const expected =
    within === null
      ? taxOnTop(base, rates.total)
      : scaleMinor(within, rates.recovery.numerator, 100n * rates.recovery.denominator)
  return {
    taxCode,
    currency,
    version: rates.version,
    percent: Number(rates.total.numerator) / Number(rates.total.denominator),
    base: within === null ? base : base + tax - within,
    booked: tax,
    expected,
    difference: tax - expected,
    roundings: 1,
  }
}
