/** What was wrong with a field or a file, as data; text is made by `faultText`. */
export type FaultCode =
  | 'missing_column'
  | 'column_twice'
  | 'field_count'
  | 'empty'
  | 'unknown_kind'
  | 'unknown_status'
  | 'unknown_currency'
  | 'not_an_amount'
  | 'too_many_digits'
  | 'out_of_range'
  | 'not_a_time'
  | 'not_a_date'
  | 'not_a_region'
  | 'twice_in_file'
  | 'unlike_sign'
  | 'not_a_rate'
  | 'unknown_action'
  | 'corrects_decided'
  | 'not_csv'
  | 'sum_out_of_range'
  | 'not_utf8'
  | 'record_too_long'
  | 'no_rows'
  | 'not_xml'
  | 'too_deep'
  | 'too_many_rows'
  | 'file_too_large'
  | 'too_long'
  | 'not_a_statement'
  | 'unknown_account'
  | 'other_source'
  | 'unknown_word'
  | 'not_a_time_so_mapped'
  | 'not_a_number_so_mapped'
  | 'row_does_not_add'
  | 'row_reads'
  | 'unknown_head'
  | 'unknown_encoding'
  | 'not_a_sheet'
  | 'unknown_type'
  | 'does_not_foot'

/** One fault: the row (header is row 1), its column, the value found, and what was expected. */
export interface FileFault {
  readonly row: number
  readonly column: string | null
  readonly value: string
  readonly code: FaultCode
  /** Of which currency the row is, where the fault is of an account. */
  readonly currency?: string
}

const expectations: Record<FaultCode, string> = {
  missing_column: 'a column of this name',
  column_twice: 'this column once',
  field_count: 'as many fields as the header has',
  empty: 'a value',
  unknown_kind: 'a kind of movement that Culvert knows',
  unknown_status: 'available, pending or failed',
  unknown_currency: 'an ISO 4217 currency code',
  not_an_amount: 'an amount: digits, at most one decimal mark, optionally a minus before them',
  too_many_digits: 'no more decimals than the currency has',
  out_of_range: 'an amount within 9 × 10^15 minor units',
  not_a_time: 'a time as 2026-03-05T14:30:00+01:00, with its offset',
  not_a_date: 'a date as 2026-03-05',
  not_a_region: 'a country as IE or a part of one as CA-QC',
  twice_in_file: 'each id once in a file',
  unlike_sign: 'CRDT or DBIT',
  not_a_rate: 'an exchange rate above zero',
  unknown_action: 'REPLACE or DELETE',
  corrects_decided: 'a line that is not matched or coded yet: unmatch it first',
  not_csv: 'comma, semicolon or tab separated text in UTF-8',
  sum_out_of_range: 'amounts that together stay within 9 × 10^15 minor units',
  not_utf8: 'text in UTF-8',
  record_too_long: 'records of at most 1 MB',
  no_rows: 'at least one row below the header',
  not_xml: 'well-formed XML',
  too_deep: 'elements at most 60 deep within each other',
  too_many_rows: 'at most 500,000 rows; bring in the rest as further files',
  file_too_large: 'a file of at most 2 GB',
  too_long: 'at most 500 characters',
  not_a_statement: 'a camt.053 bank statement',
  unknown_account: 'a bank account of this client',
  other_source: 'lines of this source',
  unknown_word: 'a word that the column mapping knows',
  not_a_time_so_mapped: 'a date or time in the order that the column mapping says',
  not_a_number_so_mapped: 'a number with the marks that the column mapping says',
  row_does_not_add: 'amounts that come to what the row says they come to',
  unknown_head: 'columns that Culvert knows, or that somebody has said the meaning of',
  unknown_encoding: 'text in UTF-8 or UTF-16, or in an encoding that somebody has named',
  not_a_sheet: 'a workbook with a sheet of rows',
  unknown_type: 'a type of account that Culvert knows',
  row_reads: 'a row that cannot be read; this one can, and is not set aside',
  does_not_foot: 'lines that lead from the opening balance to the closing one',
}

/** What was expected where the fault stands, for a person. */
export const expectedText = (fault: FileFault): string => expectations[fault.code]

/** Faults shown in full; beyond these their number is told. */
export const maxFaultsShown = 100
/** Faults kept, to be saved as a file; a file with more is refused for what it is. */
const mostFaultsKept = 10_000

/** Collects faults, and counts those beyond what is kept. */
export class FaultList {
  readonly kept: FileFault[] = []
  count = 0

  /** The first of them. */
  get shown(): readonly FileFault[] {
    return this.kept.slice(0, maxFaultsShown)
  }

  /** Forgets all since there were so many; gives the first of them. */
  forget(count: number): FileFault | null {
    const [first = null] = this.kept.splice(Math.min(count, this.kept.length))
    this.count = count
    return first
  }

  add(fault: FileFault): void {
    this.count++
    if (this.kept.length < mostFaultsKept) this.kept.push({ ...fault, value: fault.value.slice(0, 200) })
  }
}
