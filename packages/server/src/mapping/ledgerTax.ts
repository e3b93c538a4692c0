import { type CodeCheck, ratesInForce, type TaxCode, taxOnTop } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { loadTaxCodes } from './loadMap.ts'

interface EntrySums {
  readonly taxCode: string
  readonly currency: string
  readonly date: string
  /** On accounts that take the code's tax, and on all others: minor units, plus is a credit. */
  readonly tax: number
  readonly base: number
}

/**
 * Tax of entries that no settlement made (bank lines sent to an account, entries made by hand, their reversals), dated in a month: of each
 * code what stands on its accounts beside what its base calls for, entry by entry, at the rates of the entry's day.
 */
export const loadLedgerTax = async (tx: Transaction, month: string): Promise<CodeCheck[]> => {
  const codes = new Map((await loadTaxCodes(tx)).map(code => [code.code, code]))
  const rows = await rowsOf<EntrySums>(
    tx,
    sql`
    SELECT l.tax_code AS "taxCode", e.currency, e.date::text,
      coalesce(-sum(l.amount) FILTER (WHERE t.taxed), 0)::bigint AS tax, coalesce(-sum(l.amount) FILTER (WHERE NOT t.taxed), 0)::bigint AS base
    FROM entry e JOIN entry_line l USING (client_id, fiscal_year, number)
    CROSS JOIN LATERAL (SELECT EXISTS (SELECT FROM tax_component c WHERE c.client_id = l.client_id AND c.code = l.tax_code
      AND l.account IN (c.account, c.input_account)) AS taxed) t
    WHERE e.client_id = current_client() AND e.source IS NULL AND l.tax_code <> ''
      AND e.date BETWEEN ${`${month}-01`}::date AND (${`${month}-01`}::date + interval '1 month - 1 day')
    GROUP BY e.fiscal_year, e.number, l.tax_code, e.currency, e.date ORDER BY e.date, e.fiscal_year, e.number`,
  )
  return rows.flatMap(row => checkOf(row, codes.get(row.taxCode)))
}

const checkOf = ({ taxCode, currency, date, tax, base }: EntrySums, code: TaxCode | undefined): CodeCheck[] => {
  const rates = code && !code.reverseCharge && code.basis !== 'none' ? ratesInForce(code, date) : null
  if (!rates) return []
  const expected = taxOnTop(base, rates.total)
  return [
    {
      taxCode,
      currency,
      version: rates.version,
      percent: Number(rates.total.numerator) / Number(rates.total.denominator),
      base,
      booked: tax,
      expected,
      difference: tax - expected,
      roundings: 1,
    },
  ]
}
