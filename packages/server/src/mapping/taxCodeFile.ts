import type { Readable } from 'node:stream'
import { type ListQuery, type TaxCodeRow, type TaxList, taxCodeRow } from '@culvert/contract'
import { FaultList, type ListedTax, readTaxList } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { refuseOn } from '../access/fileRefused.ts'
import { oneRow, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { readListRecords } from '../files/readList.ts'
import { loadTaxCodes } from '../setup/loadMap.ts'
import { loadAccounts } from './loadMapping.ts'

/** From when on a rate holds that the list gives no day for: before anything that is booked. */
const always = '2000-01-01'
/** Where prices are told without their tax. */
const besideThePrice: ReadonlySet<string> = new Set(['US', 'CA'])

/** Reads a list of tax codes and holds it against those that there are. @throws FileRefused with every fault found */
export const readTaxes = async (tx: Transaction, body: Readable, told: ListQuery): Promise<TaxList> => {
  const faults = new FaultList()
  const { header, records } = await readListRecords(body, told, faults)
  refuseOn(faults)
  const { taxes, asks } = readTaxList(header, records, { faults, told })
  refuseOn(faults)
  const { country } = await oneRow(
    tx,
    { country: is.maybe(is.text) },
    sql`SELECT country FROM client WHERE client_id = current_client()`,
  )
  const standing = (await loadTaxCodes(tx)).map(code => taxCodeRow.parse(code))
  const byCode = new Map(standing.map(code => [code.code, code]))
  const owed = (await loadAccounts(tx)).filter(account => account.type === 'tax' && !account.archived)
  const named = [...new Set(taxes.map(tax => tax.code))]
  return {
    asks: [...asks],
    codes: named.map(name =>
      wantedOf(
        taxes.filter(tax => tax.code === name),
        { was: byCode.get(name), home: country, owed: owed.map(account => account.code) },
      ),
    ),
    vanished:
      asks.length > 0
        ? []
        : standing.filter(code => !named.includes(code.code)).map(({ code, name }) => ({ code, name })),
  }
}

interface Against {
  readonly was: TaxCodeRow | undefined
  readonly home: string | null
  /** Accounts of tax. */
  readonly owed: readonly string[]
}

const wantedOf = (rows: readonly ListedTax[], { was, home, owed }: Against): TaxList['codes'][number] => {
  const [first] = rows
  if (!first) throw new RangeError('a code has a row')
  const told = <Value>(of: (row: ListedTax) => Value | null): Value | null =>
    rows.map(of).find(one => one !== null) ?? null
  const before = was?.components[0]
  const account = told(row => row.account) ?? before?.account ?? (owed.length === 1 ? (owed[0] ?? '') : '')
  const rates = rows.map(({ from, percent }) => ({ from, percent }))
  const moved = rates.filter(rate => !stands(before?.rates ?? [], rate))
  const dated = moved.map(rate => ({ from: rate.from ?? always, percent: rate.percent }))
  const country = told(row => row.country) ?? was?.country ?? home
  const use = first.use === 'unknown' ? (was?.use ?? 'sales') : first.use
  const code: TaxCodeRow = {
    ...(was ?? { treatment: 'taxed', reverseCharge: false, recovery: [] }),
    ...{ code: first.code, name: was && first.name === first.code ? was.name : first.name, country, use },
    basis:
      told(row => row.basis) ??
      was?.basis ??
      (use === 'sales' && besideThePrice.has(country ?? '') ? 'exclusive' : 'inclusive'),
    components: [
      {
        ...(before ?? { name: 'VAT', inputAccount: null, compound: false }),
        account,
        rates: [...(before?.rates ?? []).filter(one => !dated.some(rate => rate.from === one.from)), ...dated].sort(
          (left, right) => (left.from < right.from ? -1 : 1),
        ),
      },
    ],
  }
  const same = was && moved.length === 0 && sameFacts(was, code)
  return {
    code,
    state: same ? 'same' : was ? 'changed' : 'new',
    rates: dated,
    unfit: same ? null : unfitOf(first, { was, account, owed, moved }),
  }
}

const sameFacts = (was: TaxCodeRow, code: TaxCodeRow): boolean =>
  was.name === code.name &&
  was.country === code.country &&
  was.use === code.use &&
  was.basis === code.basis &&
  was.components[0]?.account === code.components[0]?.account

/** Whether a rate is the one that stands: on its day, or the latest where no day is told. */
const stands = (
  rates: readonly { readonly from: string; readonly percent: string }[],
  { from, percent }: { readonly from: string | null; readonly percent: string },
): boolean => {
  const latest = [...rates]
    .filter(rate => from === null || rate.from <= from)
    .sort((left, right) => (left.from < right.from ? 1 : -1))[0]
  return latest !== undefined && Number(latest.percent) === Number(percent)
}

const unfitOf = (
  { use }: ListedTax,
  at: {
    readonly was: TaxCodeRow | undefined
    readonly account: string
    readonly owed: readonly string[]
    readonly moved: readonly { readonly from: string | null }[]
  },
): TaxList['codes'][number]['unfit'] => {
  if (at.was && at.was.components.length !== 1) return 'parts'
  if (use === 'unknown') return 'use'
  if (!at.owed.includes(at.account)) return 'account'
  // What is booked by the rate that stands must not be another afterwards by silence.
  return at.was && at.moved.some(rate => rate.from === null) ? 'no_day' : null
}
