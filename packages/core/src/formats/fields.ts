import { isDate } from '../activity/localDate.ts'
import { isCurrency } from '../money/currency.ts'
import { parseAmount } from '../money/parseAmount.ts'
import type { Columns } from './columns.ts'
import type { FaultCode, FaultList } from './fault.ts'

const timeShape =
  /^(\d{4}-\d\d-\d\d)[T ]([01]\d|2[0-3]):([0-5]\d)(?::([0-5]\d)(?:[.,](\d{1,9}))?)?(?:(Z)|([+-])([01]\d|2[0-3]):?([0-5]\d))$/

/** Milliseconds since 1970 of an ISO 8601 time with offset; null for anything else. */
export const parseInstant = (text: string): number | null => {
  const match = timeShape.exec(text)
  if (!match) return null
  const [, date = '', hour, minute, second = '0', fraction = '', , sign, offsetHour = '0', offsetMinute = '0'] = match
  if (!isDate(date)) return null
  const local = Date.UTC(
    Number(date.slice(0, 4)),
    Number(date.slice(5, 7)) - 1,
    Number(date.slice(8)),
    Number(hour),
    Number(minute),
    Number(second),
    fraction ? Number(fraction.slice(0, 3).padEnd(3, '0')) : 0,
  )
  const offset = (Number(offsetHour) * 60 + Number(offsetMinute)) * 60_000
  return sign === '-' ? local + offset : local - offset
}

/** Characters of an id. */
const mostIdLength = 500

/** A row's fields by column name; reads fields and notes what is wrong with them. */
export class RowFields<Name extends string> {
  constructor(
    private readonly fields: readonly string[],
    private readonly indexes: Readonly<Partial<Record<Name, number>>>,
    private readonly row: number,
    private readonly faults: FaultList,
  ) {}

  text(name: Name): string | null {
    const index = this.indexes[name]
    const value = index === undefined ? undefined : this.fields[index]
    // PostgreSQL stores no NUL; a field with one is broken anyway.
    if (value?.includes('\0')) this.fault(name, value.replaceAll('\0', '␀'), 'not_csv')
    return value === undefined || value === '' ? null : value
  }
  /** An id, or what lines are looked up by: bounded, since an index has to hold it. */
  id(name: Name): string | null {
    const value = this.text(name)
    if (value !== null && value.length > mostIdLength) this.fault(name, value, 'too_long')
    return value
  }
  requiredId(name: Name): string {
    const value = this.id(name)
    if (value === null) this.fault(name, '', 'empty')
    return value ?? ''
  }
  required(name: Name): string {
    const value = this.text(name)
    if (value === null) this.fault(name, '', 'empty')
    return value ?? ''
  }
  currency(name: Name): string | null {
    const value = this.required(name)
    if (value !== '' && isCurrency(value)) return value
    if (value !== '') this.fault(name, value, 'unknown_currency')
    return null
  }
  amount(name: Name, currency: string | null): number | null {
    const value = this.text(name)
    if (value === null || currency === null) return null
    const parsed = parseAmount(value, currency)
    if (parsed.ok) return parsed.minor
    this.fault(name, value, parsed.code)
    return null
  }
  date(name: Name): string | null {
    const value = this.text(name)
    if (value === null || isDate(value)) return value
    this.fault(name, value, 'not_a_date')
    return null
  }
  instant(name: Name, value: string | null): number | null {
    if (value === null || value === '') return null
    const instant = parseInstant(value)
    if (instant === null) this.fault(name, value, 'not_a_time')
    return instant
  }
  fault(name: Name, value: string, code: FaultCode): void {
    this.faults.add({ row: this.row, column: name, value, code })
  }
}

/** What a row reader works with; `row` counts from 1, the header. */
export interface RowContext<Name extends string> {
  readonly columns: Columns<Name>
  readonly row: number
  readonly faults: FaultList
}

/** Reads one record with `read`; null, with faults noted, where anything in it is wrong. */
export const readRow = <Name extends string, Row>(
  record: readonly string[],
  { columns, row, faults }: RowContext<Name>,
  read: (fields: RowFields<Name>) => Row | null,
): Row | null => {
  const before = faults.count
  if (record.length !== columns.count) {
    faults.add({ row, column: null, value: `${record.length} fields`, code: 'field_count' })
    return null
  }
  const result = read(new RowFields(record, columns.indexes, row, faults))
  return faults.count > before ? null : result
}
