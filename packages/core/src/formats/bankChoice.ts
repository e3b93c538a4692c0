import { type Zone, zoneOf } from '../activity/zone.ts'
import { isCurrency } from '../money/currency.ts'
import { maxMinor } from '../money/minor.ts'
import { parseAmount } from '../money/parseAmount.ts'
import type { BankLine } from './bankRow.ts'
import type { MeaningOf } from './columnMeanings.ts'
import type { FaultCode, FaultList } from './fault.ts'
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
import { bankLineId } from './statementHead.ts'

export type BankMeaning = MeaningOf<'bank'>

/** What somebody has said of a bank statement in columns of its own. */
export interface BankChoice {
  readonly columns: readonly { readonly name: string; readonly meaning: BankMeaning | null }[]
  /** Of every row, where no column says it. */
  readonly currency: string | null
  /** Code of the account that it is of, where no column says it. */
  readonly account: string | null
  /** What goes out is written with a minus of its own in its column. */
  readonly debitsNegative: boolean
  readonly numbers: NumberStyle
  readonly dates: DateOrder
}

export type BankChoiceFault =
  | { readonly code: 'meaning_twice'; readonly meaning: BankMeaning; readonly columns: readonly string[] }
  | { readonly code: 'no_time' | 'no_amount' | 'amount_twice' | 'no_currency' | 'no_account' }

/** What a choice lacks to make bank lines. */
export const checkBankChoice = ({ columns, currency, account }: BankChoice): readonly BankChoiceFault[] => {
  const faults: BankChoiceFault[] = []
  const namesOf = (meaning: BankMeaning) => columns.filter(one => one.meaning === meaning).map(one => one.name)
  for (const meaning of new Set(columns.flatMap(one => one.meaning ?? [])))
    if (namesOf(meaning).length > 1 && meaning !== 'description')
      faults.push({ code: 'meaning_twice', meaning, columns: namesOf(meaning) })
  const has = (meaning: BankMeaning) => namesOf(meaning).length > 0
  if (!has('date')) faults.push({ code: 'no_time' })
  const apart = has('credit') || has('debit')
  if (!has('amount') && !apart) faults.push({ code: 'no_amount' })
  if (has('amount') && apart) faults.push({ code: 'amount_twice' })
  if (!has('currency') && currency === null) faults.push({ code: 'no_currency' })
  if (!has('account') && account === null) faults.push({ code: 'no_account' })
  return faults
}

/** What a bank statement's columns are proposed to mean, and what has to be asked. */
export const proposeBankChoice = (
  header: readonly string[],
  rows: readonly (readonly string[])[],
): { readonly choice: BankChoice; readonly questions: readonly (ColumnQuestion | { readonly code: 'account' })[] } => {
  const questions: (ColumnQuestion | { readonly code: 'account' })[] = []
  const columns = proposeColumns('bank', header, rows).map(({ column, meaning, sure }) => {
    const name = (header[column] ?? '').trim()
    if (!sure) questions.push({ code: 'column', column: name })
    return { name, meaning }
  })
  const told = (...meanings: BankMeaning[]) =>
    columns.flatMap(({ meaning }, at) =>
      meaning !== null && meanings.includes(meaning) ? rows.map(row => (row[at] ?? '').trim()).filter(Boolean) : [],
    )
  const has = (meaning: BankMeaning) => columns.some(one => one.meaning === meaning)
  const amounts = told('amount', 'credit', 'debit', 'balance')
  const styles = stylesThatRead(readableNumbers(amounts))
  if (styles.length > 1) questions.push({ code: 'numbers', styles })
  const days = told('date')
  const orders = ordersThatRead(readableDates(days, zoneOf('UTC')), zoneOf('UTC'))
  if (orders.length > 1) questions.push({ code: 'dates', orders, sample: days[0] ?? '' })
  if (!has('currency')) questions.push({ code: 'currency' })
  if (!has('account')) questions.push({ code: 'account' })
  const numbers = styles[0] ?? (numberStyles[0] as NumberStyle)
  return {
    choice: {
      columns,
      currency: null,
      account: null,
      debitsNegative: told('debit').some(text => (plainNumber(text, numbers) ?? '').startsWith('-')),
      numbers,
      dates: orders[0] ?? dateOrders[0],
    },
    questions,
  }
}

/** A bank choice made ready for the header of one file. */
export interface BankChoiceReader {
  /** The line of a record; null, with faults noted, where it is wrong, or where it moves nothing. */
  read(record: readonly string[], row: number, faults: FaultList): BankLine | null
  /** The balance that stands in a record beside its movement, minor units; null where none does. */
  balanceOf(record: readonly string[]): number | null
}

/** Finds the choice's columns in a header. Null, with faults of row 1 noted, where one is missing. */
export const bankChoiceReader = (
  choice: BankChoice,
  header: readonly string[],
  faults: FaultList,
): BankChoiceReader | null => {
  const before = faults.count
  const places = new Map<string, number>()
  for (const { name, meaning } of choice.columns) {
    if (meaning === null) continue
    const at = header.findIndex(one => one.trim() === name)
    if (at < 0) faults.add({ row: 1, column: name, value: '', code: 'missing_column' })
    places.set(name, at)
  }
  if (faults.count > before) return null
  return new Reader(choice, header.length, places)
}

const anyZone: Zone = zoneOf('UTC')

class Reader implements BankChoiceReader {
  private readonly ids = new Map<string, Map<string, number>>()
  constructor(
    private readonly choice: BankChoice,
    private readonly width: number,
    private readonly places: ReadonlyMap<string, number>,
  ) {}

  private named(meaning: BankMeaning): readonly string[] {
    return this.choice.columns.filter(one => one.meaning === meaning).map(one => one.name)
  }
  private text(record: readonly string[], meaning: BankMeaning): string {
    return this.named(meaning)
      .map(name => (record[this.places.get(name) as number] ?? '').trim().replaceAll('\0', ''))
      .filter(Boolean)
      .join(' ')
  }

  read(record: readonly string[], row: number, faults: FaultList): BankLine | null {
    const fault = (column: string | null, value: string, code: FaultCode): null => {
      faults.add({ row, column, value, code })
      return null
    }
    if (record.length !== this.width) return fault(null, `${record.length} fields`, 'field_count')
    const currency = this.text(record, 'currency') || this.choice.currency || ''
    if (!isCurrency(currency)) return fault(this.named('currency')[0] ?? null, currency, 'unknown_currency')
    const day = this.text(record, 'date')
    const time = isoTime(day, this.choice.dates, anyZone)
    if (time === null) return fault(this.named('date')[0] ?? null, day, 'not_a_time_so_mapped')
    const before = faults.count
    const amount = this.amount(record, currency, (column, value, code) => fault(column, value, code))
    if (faults.count > before) return null
    // A line of text between others, or a carried balance: nothing moved.
    if (amount === null || amount === 0) return null
    const bankAccount = this.text(record, 'account').replace(/\s+/g, '') || this.choice.account || ''
    if (bankAccount === '') return fault(this.named('account')[0] ?? null, '', 'empty')
    const known = this.ids.get(bankAccount) ?? new Map<string, number>()
    this.ids.set(bankAccount, known)
    const line = {
      date: time.slice(0, 10),
      bankAccount,
      amount,
      currency,
      description: this.text(record, 'description').replace(/\s+/g, ' '),
      reference: this.text(record, 'reference'),
    }
    return { ...line, lineId: bankLineId(this.text(record, 'line_id'), line, known) }
  }

  balanceOf(record: readonly string[]): number | null {
    const currency = this.text(record, 'currency') || this.choice.currency || ''
    const plain = plainNumber(this.text(record, 'balance'), this.choice.numbers)
    const parsed = plain === null || !isCurrency(currency) ? null : parseAmount(plain, currency)
    return parsed?.ok ? parsed.minor : null
  }

  private amount(
    record: readonly string[],
    currency: string,
    fault: (column: string, value: string, code: FaultCode) => null,
  ): number | null {
    let sum: number | null = null
    const signs = [
      ['amount', 1],
      ['credit', 1],
      ['debit', this.choice.debitsNegative ? 1 : -1],
    ] as const
    for (const [meaning, sign] of signs)
      for (const column of this.named(meaning)) {
        const text = (record[this.places.get(column) as number] ?? '').trim()
        if (text === '') continue
        const plain = plainNumber(text, this.choice.numbers)
        const parsed = plain === null ? null : parseAmount(plain, currency)
        if (!parsed?.ok) return fault(column, text, parsed?.ok === false ? parsed.code : 'not_a_number_so_mapped')
        sum = (sum ?? 0) + (sign < 0 ? 0 - parsed.minor : parsed.minor)
      }
    return sum === null || Math.abs(sum) <= maxMinor ? sum : fault('amount', String(sum), 'out_of_range')
  }
}
