import type { SettlementHead } from '../activity/activityLine.ts'
import { type Zone, zoneOf } from '../activity/zone.ts'
import { type BalanceColumn, balanceColumns, type ReportedBalance, readBalanceRow } from './balanceRow.ts'
import type { MeaningOf } from './columnMeanings.ts'
import type { Columns } from './columns.ts'
import { type FaultCode, FaultList } from './fault.ts'
import {
  type DateOrder,
  dateOrders,
  isoTime,
  type NumberStyle,
  numberStyles,
  ordersThatRead,
  plainNumber,
  readableDates,
  readableNumbers,
  stylesThatRead,
} from './foreignFields.ts'
import type { ColumnQuestion } from './proposeChoice.ts'
import { proposeColumns } from './proposeColumns.ts'
import { readSettlementRow, type SettlementColumn, settlementColumns } from './settlementRow.ts'

// Settlements and balances in columns of their own: a row is one head, or one balance.

/** What rows of a source's file can be besides movements. */
export type RowsOf = 'settlements' | 'balances'
export type RowMeaning<Of extends RowsOf = RowsOf> = MeaningOf<Of>

/** What somebody has said of such a file. */
export interface RowChoice<Of extends RowsOf = RowsOf> {
  readonly columns: readonly { readonly name: string; readonly meaning: RowMeaning<Of> | null }[]
  /** Of every row, where no column says it. */
  readonly currency: string | null
  readonly numbers: NumberStyle
  readonly dates: DateOrder
}

export type RowChoiceFault =
  | { readonly code: 'meaning_twice'; readonly meaning: RowMeaning; readonly columns: readonly string[] }
  | { readonly code: 'no_settlement' | 'no_time' | 'no_available' | 'no_currency' }

const needs: Readonly<
  Record<RowsOf, readonly (readonly [RowMeaning, 'no_settlement' | 'no_time' | 'no_available'])[]>
> = {
  settlements: [['settlement_id', 'no_settlement']],
  balances: [
    ['at', 'no_time'],
    ['available', 'no_available'],
  ],
}
const dated: ReadonlySet<string> = new Set(['period_start', 'period_end', 'payout_date', 'at'])
const counted: ReadonlySet<string> = new Set(['opening_balance', 'closing_balance', 'available', 'pending', 'reserve'])

/** What a choice lacks to make rows. */
export const checkRowChoice = (of: RowsOf, { columns, currency }: RowChoice): readonly RowChoiceFault[] => {
  const namesOf = (meaning: RowMeaning) => columns.filter(one => one.meaning === meaning).map(one => one.name)
  const twice = [...new Set(columns.flatMap(one => one.meaning ?? []))]
    .filter(meaning => namesOf(meaning).length > 1)
    .map(meaning => ({ code: 'meaning_twice' as const, meaning, columns: namesOf(meaning) }))
  const lacking = needs[of].filter(([meaning]) => namesOf(meaning).length === 0).map(([, code]) => ({ code }))
  const told = namesOf('currency').length > 0 || currency !== null
  return [...twice, ...lacking, ...(told ? [] : [{ code: 'no_currency' as const }])]
}

/** What the columns of settlements or balances are proposed to mean, and what has to be asked. */
export const proposeRowChoice = <Of extends RowsOf>(
  of: Of,
  header: readonly string[],
  rows: readonly (readonly string[])[],
): { readonly choice: RowChoice<Of>; readonly questions: readonly ColumnQuestion[] } => {
  const questions: ColumnQuestion[] = []
  const columns = proposeColumns(of, header, rows).map(({ column, meaning, sure }) => {
    const name = (header[column] ?? '').trim()
    if (!sure) questions.push({ code: 'column', column: name })
    return { name, meaning }
  })
  const told = (meanings: ReadonlySet<string>) =>
    columns.flatMap(({ meaning }, at) =>
      meaning !== null && meanings.has(meaning) ? rows.map(row => (row[at] ?? '').trim()).filter(Boolean) : [],
    )
  const styles = stylesThatRead(readableNumbers(told(counted)))
  if (styles.length > 1) questions.push({ code: 'numbers', styles })
  const days = told(dated)
  const orders = ordersThatRead(readableDates(days, anyZone), anyZone)
  if (orders.length > 1) questions.push({ code: 'dates', orders, sample: days[0] ?? '' })
  if (!columns.some(one => one.meaning === 'currency')) questions.push({ code: 'currency' })
  return {
    choice: {
      columns,
      currency: null,
      numbers: styles[0] ?? (numberStyles[0] as NumberStyle),
      dates: orders[0] ?? dateOrders[0],
    },
    questions,
  }
}

/**
 * What the rows of a source's file are, by its head: settlements tell where they begin and end, or at what they open and close; balances say what is
 * available on a day. Null: movements, or nothing that is known.
 */
export const rowsOfHead = (header: readonly string[], rows: readonly (readonly string[])[]): RowsOf | null => {
  const has = (of: RowsOf, ...meanings: string[]) => {
    const found = proposeColumns(of, header, rows).filter(one => one.sure)
    return meanings.every(meaning => found.some(one => one.meaning === meaning))
  }
  if (has('settlements', 'settlement_id', 'period_start', 'period_end')) return 'settlements'
  if (has('settlements', 'settlement_id', 'opening_balance', 'closing_balance')) return 'settlements'
  return has('balances', 'at', 'available') ? 'balances' : null
}

const anyZone: Zone = zoneOf('UTC')

interface Made {
  readonly settlements: SettlementHead
  readonly balances: ReportedBalance
}

/** A choice made ready for the header of one file. */
export interface RowReader<Of extends RowsOf> {
  /** What a record makes; null, with faults noted in the words of the file, where anything in it is wrong. */
  read(record: readonly string[], row: number, faults: FaultList): Made[Of] | null
}

/** Finds the choice's columns in a header. Null, with faults of row 1 noted, where one is missing. */
export const rowChoiceReader = <Of extends RowsOf>(
  of: Of,
  choice: RowChoice<Of>,
  header: readonly string[],
  context: { readonly source: string; readonly faults: FaultList },
): RowReader<Of> | null => {
  const places = new Map<string, { readonly name: string; readonly at: number }>()
  const before = context.faults.count
  for (const { name, meaning } of choice.columns) {
    if (meaning === null) continue
    const at = header.findIndex(one => one.trim() === name)
    if (at < 0) context.faults.add({ row: 1, column: name, value: '', code: 'missing_column' })
    places.set(meaning, { name, at })
  }
  if (context.faults.count > before) return null
  const known: readonly string[] = of === 'settlements' ? settlementColumns.known : balanceColumns.known
  const columns = { indexes: Object.fromEntries(known.map((name, at) => [name, at])), unknown: [], count: known.length }
  return {
    read: (record, row, faults) => {
      const fault = (column: string | null, value: string, code: FaultCode) => faults.add({ row, column, value, code })
      if (record.length !== header.length) {
        fault(null, `${record.length} fields`, 'field_count')
        return null
      }
      const started = faults.count
      // Written as a record of our own and read by its reader, so that both are checked alike.
      const written = known.map(column => {
        const place = places.get(column)
        const text = place === undefined ? '' : (record[place.at] ?? '').trim()
        if (column === 'currency') return text || (choice.currency ?? '')
        if (place === undefined || text === '') return text
        if (dated.has(column)) {
          const time = isoTime(text, choice.dates, anyZone)
          if (time === null) fault(place.name, text, 'not_a_time_so_mapped')
          return time?.slice(0, 10) ?? ''
        }
        if (!counted.has(column)) return text
        const plain = plainNumber(text, choice.numbers)
        if (plain === null) fault(place.name, text, 'not_a_number_so_mapped')
        return plain ?? ''
      })
      if (faults.count > started) return null
      const found = new FaultList()
      const at = { row, faults: found }
      const made =
        of === 'settlements'
          ? readSettlementRow(written, { ...at, columns: columns as Columns<SettlementColumn> })
          : readBalanceRow(written, { ...at, columns: columns as Columns<BalanceColumn>, source: context.source })
      for (const one of found.shown) fault(places.get(one.column ?? '')?.name ?? one.column, one.value, one.code)
      return made as Made[Of] | null
    },
  }
}
