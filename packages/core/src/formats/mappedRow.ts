import type { ActivityLine } from '../activity/activityLine.ts'
import type { DateBasis } from '../activity/dateBasis.ts'
import { type Zone, zoneOf } from '../activity/zone.ts'
import { isCurrency } from '../money/currency.ts'
import { formatAmount } from '../money/formatAmount.ts'
import { maxMinor } from '../money/minor.ts'
import { parseAmount } from '../money/parseAmount.ts'
import { type ActivityColumn, activityColumns, readActivityRow } from './activityRow.ts'
import { type AmountFrom, type ColumnMapping, columnsOf, type FieldFrom, type Movement } from './columnMapping.ts'
import type { Columns } from './columns.ts'
import { type FaultCode, FaultList } from './fault.ts'
import { isoTime, plainNumber } from './foreignFields.ts'

/** A saved mapping made ready for the header of one file. */
export interface MappedReader {
  /** The lines that a record makes, in the order of the mapping's movements; null, with faults noted, where it is wrong. */
  read(record: readonly string[], row: number, faults: FaultList): readonly ActivityLine[] | null
}

const columns: Columns<ActivityColumn> = {
  indexes: Object.fromEntries(activityColumns.known.map((name, index) => [name, index])),
  unknown: [],
  count: activityColumns.known.length,
}
const placeOf = (column: ActivityColumn): number => columns.indexes[column] as number

/** Finds the mapping's columns in a header. Null, with faults of row 1 noted, where one is missing or stands twice. */
export const mappedReader = (
  mapping: ColumnMapping,
  header: readonly string[],
  context: { readonly source: string; readonly faults: FaultList; readonly dateBasis?: DateBasis },
): MappedReader | null => {
  const before = context.faults.count
  const places = new Map<string, number>()
  for (const column of columnsOf(mapping)) {
    const found = header.flatMap((name, index) => (name.trim() === column ? [index] : []))
    if (found.length > 1) context.faults.add({ row: 1, column, value: column, code: 'column_twice' })
    if (found[0] === undefined) context.faults.add({ row: 1, column, value: '', code: 'missing_column' })
    else places.set(column, found[0])
  }
  if (context.faults.count > before) return null
  const zone = zoneOf(mapping.timeZone)
  const used = columnsOf(mapping)
  const unused = header.flatMap((name, index) => (used.has(name.trim()) ? [] : [{ name: name.trim(), index }]))
  const alike = new Map<string, number>()
  const orderColumn = mapping.fields.order_id?.from === 'column' ? mapping.fields.order_id.column : null
  let last: ForeignRecord | null = null
  return {
    read: (record, row, faults) => {
      if (record.length !== header.length) {
        faults.add({ row, column: null, value: `${record.length} fields`, code: 'field_count' })
        return null
      }
      const told = faults.count
      const foreign: ForeignRecord = new ForeignRecord(
        mapping,
        carriedOn(mapping, record, { places, before: last, orderColumn }),
        { places, zone, row, faults, unused, alike },
      )
      last = foreign
      const lines = linesOf(foreign, context)
      return faults.count > told ? null : lines
    },
  }
}

// A record of the order of the one before says what belongs to the order once.
const carriedOn = (
  { carried }: ColumnMapping,
  record: readonly string[],
  of: {
    readonly places: ReadonlyMap<string, number>
    readonly before: ForeignRecord | null
    readonly orderColumn: string | null
  },
): readonly string[] => {
  const { places, before, orderColumn } = of
  if (carried.length === 0 || before === null || orderColumn === null) return record
  const order = (record[places.get(orderColumn) as number] ?? '').trim()
  if (order === '' || order !== before.value(orderColumn)) return record
  const filled = [...record]
  for (const column of carried) {
    const place = places.get(column) as number
    if ((filled[place] ?? '').trim() === '') filled[place] = before.value(column)
  }
  return filled
}

interface RecordContext {
  /** Columns that the mapping does not read: they are kept with the lines. */
  readonly unused: readonly { readonly name: string; readonly index: number }[]
  /** How many records of the file had the same values so far, by those. */
  readonly alike: Map<string, number>
  readonly places: ReadonlyMap<string, number>
  readonly zone: Zone
  readonly row: number
  readonly faults: FaultList
}

class ForeignRecord {
  constructor(
    readonly mapping: ColumnMapping,
    private readonly record: readonly string[],
    readonly context: RecordContext,
  ) {}

  value(column: string): string {
    return (this.record[this.context.places.get(column) as number] ?? '').trim()
  }
  fault(column: string | null, value: string, code: FaultCode): void {
    this.context.faults.add({ row: this.context.row, column, value, code })
  }
  text(field: FieldFrom): string {
    switch (field.from) {
      case 'column':
        return this.value(field.column)
      case 'constant':
        return field.value
      case 'joined':
        return field.columns
          .map(column => this.value(column))
          .filter(value => value !== '')
          .join(field.by)
      case 'made':
        return this.made(field.columns)
      case 'words': {
        const word = this.value(field.column)
        const known = Object.hasOwn(field.words, word) ? field.words[word] : undefined
        if (known === undefined && field.otherwise === null) this.fault(field.column, word, 'unknown_word')
        return known ?? field.otherwise ?? ''
      }
    }
  }
  private madeId: string | null = null
  // Once a record, whose movements share it.
  private made(names: readonly string[]): string {
    if (this.madeId !== null) return this.madeId
    const values = names.map(name => this.value(name)).join(' ')
    const count = (this.context.alike.get(values) ?? 0) + 1
    this.context.alike.set(values, count)
    this.madeId = count === 1 ? values : `${values} ${count}`
    return this.madeId
  }
  extra(): Readonly<Record<string, string>> {
    const extra: Record<string, string> = {}
    for (const { name, index } of this.context.unused) {
      const value = (this.record[index] ?? '').trim().replaceAll('\0', '')
      if (value !== '' && name !== '') extra[name] = value
    }
    return extra
  }
  time(field: FieldFrom): string {
    const text = this.text(field)
    if (text === '') return ''
    const time = isoTime(text, this.mapping.dates, this.context.zone)
    if (time === null) this.fault(columnNameOf(field), text, 'not_a_time_so_mapped')
    return time ?? ''
  }
  /** Minor units; null where all its columns are empty, or one of them is no amount. */
  amount({ plus, minus }: AmountFrom, currency: string): number | null {
    let sum: number | null = null
    for (const [column, sign] of [...plus.map(name => [name, 1] as const), ...minus.map(name => [name, -1] as const)]) {
      const text = this.value(column)
      if (text === '') continue
      const plain = plainNumber(text, this.mapping.numbers)
      const parsed = plain === null ? null : parseAmount(plain, currency)
      if (!parsed?.ok) this.fault(column, text, parsed?.ok === false ? parsed.code : 'not_a_number_so_mapped')
      else sum = (sum ?? 0) + sign * parsed.minor
    }
    if (sum === null || Math.abs(sum) <= maxMinor) return sum
    this.fault(plus[0] ?? minus[0] ?? null, String(sum), 'out_of_range')
    return null
  }
}

const columnNameOf = (field: FieldFrom | undefined): string | null =>
  field?.from === 'column' || field?.from === 'words'
    ? field.column
    : field?.from === 'joined'
      ? (field.columns[0] ?? null)
      : null

interface LinesOf {
  readonly source: string
  readonly dateBasis?: DateBasis
}

const linesOf = (record: ForeignRecord, of: LinesOf): ActivityLine[] => {
  const { mapping } = record
  if (mapping.leaveOut.some(({ column, values }) => values.includes(record.value(column)))) return []
  const lines = mapping.movements.flatMap(movement => {
    const line = lineOf(record, movement, of)
    return line ? [line] : []
  })
  holdAgainstNet(record, lines)
  return lines
}

const holdAgainstNet = (record: ForeignRecord, lines: readonly ActivityLine[]): void => {
  const { net } = record.mapping
  const [first] = lines
  if (net === null || !first || record.value(net) === '') return
  const said = record.amount({ plus: [net], minus: [] }, first.currency)
  const sum = lines.reduce((total, line) => total + line.amount, 0)
  if (said !== null && said !== sum)
    record.fault(net, `${record.value(net)} and not ${formatAmount(sum, first.currency)}`, 'row_does_not_add')
}

// What the record says is written as a record of activity.csv and read by its reader, so that both are checked alike.
const lineOf = (record: ForeignRecord, movement: Movement, { source, dateBasis }: LinesOf): ActivityLine | null => {
  const { mapping, context } = record
  const before = context.faults.count
  const fields = { ...mapping.fields, ...movement.fields }
  const written = new Array<string>(columns.count).fill('')
  for (const [column, field] of Object.entries(fields)) written[placeOf(column as ActivityColumn)] = record.text(field)
  const currency = written[placeOf('currency')] as string
  if (!isCurrency(currency)) {
    record.fault(columnNameOf(fields.currency), currency, 'unknown_currency')
    return null
  }
  const sign = movement.reversedFor?.values.includes(record.value(movement.reversedFor.column)) ? -1 : 1
  const read = record.amount(movement.amount, currency)
  const amount = read === null || sign > 0 ? read : 0 - read
  if (amount === null || (amount === 0 && mapping.movements.length > 1)) return null
  written[placeOf('line_id')] += movement.suffix
  for (const [column, field] of Object.entries(mapping.times))
    written[placeOf(column as ActivityColumn)] = record.time(field)
  written[placeOf('amount')] = formatAmount(amount, currency)
  const taxAmount = movement.taxAmount && record.amount(movement.taxAmount, currency)
  if (taxAmount !== null) written[placeOf('tax_amount')] = formatAmount(sign > 0 ? taxAmount : 0 - taxAmount, currency)
  const unitPrice = mapping.unitPrice && record.amount(mapping.unitPrice, currency)
  if (unitPrice !== null) written[placeOf('unit_price')] = formatAmount(unitPrice, currency)
  const found = new FaultList()
  const line = readActivityRow(written, {
    columns,
    row: context.row,
    faults: found,
    source,
    ...(dateBasis && { dateBasis }),
  })
  // A word or time that could not be read was told once, in the words of the file.
  if (context.faults.count === before)
    for (const { column, value, code } of found.shown)
      record.fault(columnNameOf({ ...fields, ...mapping.times }[column as keyof typeof fields]) ?? column, value, code)
  const extra = line && record.extra()
  return line && extra && Object.keys(extra).length > 0 ? { ...line, extra: { ...line.extra, ...extra } } : line
}
