import type { ActivityColumn } from './activityRow.ts'
import type { DateOrder, NumberStyle } from './foreignFields.ts'

/** Where a value comes from in a foreign record. */
export type FieldFrom =
  | { readonly from: 'column'; readonly column: string }
  | { readonly from: 'constant'; readonly value: string }
  /** Several columns one after the other, empty ones left out. */
  | { readonly from: 'joined'; readonly columns: readonly string[]; readonly by: string }
  /** For ids where the file has none: the values of the columns, and the place among the records of the file that have the same ones. */
  | { readonly from: 'made'; readonly columns: readonly string[] }
  /** The file's word for it, by a table; `otherwise` null: a word that is not in the table is a fault. */
  | {
      readonly from: 'words'
      readonly column: string
      readonly words: Readonly<Record<string, string>>
      readonly otherwise: string | null
    }

/** Columns that hold text as it stands: all but those that are times or amounts. */
export type TextColumn = Exclude<ActivityColumn, TimeColumn | AmountColumn>
export type TimeColumn = 'occurred_at' | 'available_at' | 'paid_at' | 'sent_at'
export type AmountColumn = 'amount' | 'tax_amount' | 'unit_price'

/** An amount as the sum of some columns less others: one signed column, or a credit and a debit column. */
export interface AmountFrom {
  readonly plus: readonly string[]
  readonly minus: readonly string[]
}

/** One activity line that a record makes. A record of a sale with its fee beside it makes two. */
export interface Movement {
  /** Appended to the record's line id, so that each of its lines has its own; empty for one of them at most. */
  readonly suffix: string
  readonly amount: AmountFrom
  readonly taxAmount: AmountFrom | null
  /** Values of this movement alone, over those of the record. */
  readonly fields: Readonly<Partial<Record<TextColumn, FieldFrom>>>
  /** Records whose column holds one of the values are written against the sign that they have for the seller; null: none is. */
  readonly reversedFor: { readonly column: string; readonly values: readonly string[] } | null
}

/** How a CSV of another shape is read as activity: saved as data, made by a person who sees what it makes of the file. */
export interface ColumnMapping {
  readonly name: string
  readonly fields: Readonly<Partial<Record<TextColumn, FieldFrom>>>
  readonly times: Readonly<Partial<Record<TimeColumn, FieldFrom>>>
  readonly unitPrice: AmountFrom | null
  readonly movements: readonly Movement[]
  readonly numbers: NumberStyle
  readonly dates: DateOrder
  /** IANA name of the zone of times without an offset. */
  readonly timeZone: string
  /** Records to leave out, such as totals: those whose column holds one of the values. */
  readonly leaveOut: readonly { readonly column: string; readonly values: readonly string[] }[]
  /** Column that says what the movements of a record come to; a record whose movements do not is a fault. Null: none says it, or it is not held against them. */
  readonly net: string | null
  /** Columns of which an order's further records hold nothing: they take what the order's record before says. */
  readonly carried: readonly string[]
}

/** Names of the columns that a mapping reads. */
export const columnsOf = (mapping: ColumnMapping): ReadonlySet<string> => {
  const names = new Set<string>()
  const noteField = (field: FieldFrom | undefined): void => {
    if (field?.from === 'column' || field?.from === 'words') names.add(field.column)
    if (field?.from === 'joined' || field?.from === 'made') for (const column of field.columns) names.add(column)
  }
  const noteAmount = (amount: AmountFrom | null): void => {
    for (const column of [...(amount?.plus ?? []), ...(amount?.minus ?? [])]) names.add(column)
  }
  for (const fields of [mapping.fields, mapping.times, ...mapping.movements.map(movement => movement.fields)])
    for (const field of Object.values(fields)) noteField(field)
  noteAmount(mapping.unitPrice)
  for (const movement of mapping.movements) {
    noteAmount(movement.amount)
    noteAmount(movement.taxAmount)
    if (movement.reversedFor) names.add(movement.reversedFor.column)
  }
  for (const { column } of mapping.leaveOut) names.add(column)
  for (const column of mapping.carried) names.add(column)
  if (mapping.net !== null) names.add(mapping.net)
  return names
}

export type MappingFault =
  | { readonly code: 'no_movements' }
  | { readonly code: 'not_told'; readonly column: 'line_id' | 'occurred_at' | 'kind' | 'currency' }
  | { readonly code: 'suffix_twice'; readonly suffix: string }
  | { readonly code: 'no_amount'; readonly movement: number }
  | { readonly code: 'same_marks' }

/** Finds what a mapping lacks to make activity lines, before any file is read with it. */
export const checkColumnMapping = (mapping: ColumnMapping): readonly MappingFault[] => {
  const faults: MappingFault[] = []
  if (mapping.movements.length === 0) faults.push({ code: 'no_movements' })
  if (!mapping.fields.line_id) faults.push({ code: 'not_told', column: 'line_id' })
  if (!mapping.times.occurred_at) faults.push({ code: 'not_told', column: 'occurred_at' })
  for (const column of ['kind', 'currency'] as const)
    if (!mapping.fields[column] && !mapping.movements.every(movement => movement.fields[column]))
      faults.push({ code: 'not_told', column })
  const suffixes = new Set<string>()
  mapping.movements.forEach(({ suffix, amount }, movement) => {
    if (suffixes.has(suffix)) faults.push({ code: 'suffix_twice', suffix })
    suffixes.add(suffix)
    if (amount.plus.length + amount.minus.length === 0) faults.push({ code: 'no_amount', movement })
  })
  if (mapping.numbers.decimal === mapping.numbers.thousands) faults.push({ code: 'same_marks' })
  return faults
}
