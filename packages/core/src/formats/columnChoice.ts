import { type Kind, kinds } from '../activity/kinds.ts'
import type { ColumnMapping, FieldFrom, Movement, TextColumn, TimeColumn } from './columnMapping.ts'
import type { MeaningOf } from './columnMeanings.ts'
import type { DateOrder, NumberStyle } from './foreignFields.ts'

export type ColumnMeaning = MeaningOf<'activity'>

/** What somebody has said of a foreign file of activity: what each column means, and how its values are to be read. */
export interface ColumnChoice {
  readonly columns: readonly { readonly name: string; readonly meaning: ColumnMeaning | null }[]
  /** The file's word for a movement, and its kind; null: such rows are left out. */
  readonly kinds: Readonly<Record<string, Kind | null>>
  /** Words whose amounts are written against the sign that they have for the seller. */
  readonly reversed: readonly string[]
  /** Of every row, where no column says the kind. */
  readonly kind: Kind | null
  /** Of every row, where no column says it. */
  readonly currency: string | null
  readonly feeKind: Kind
  /** Fees are written without their minus. */
  readonly feesPositive: boolean
  /** What goes out is written with a minus of its own in its column. */
  readonly debitsNegative: boolean
  /** Hold gross and fee against the net that stands beside them. */
  readonly holdNet: boolean
  /** The file's words for countries and states of a line. */
  readonly regions: Readonly<Record<string, string>>
  readonly statuses: Readonly<Record<string, string>>
  readonly numbers: NumberStyle
  readonly dates: DateOrder
  readonly timeZone: string
}

/** Why no lines can be made by it yet. */
export type ChoiceFault =
  | { readonly code: 'meaning_twice'; readonly meaning: ColumnMeaning; readonly columns: readonly string[] }
  | { readonly code: 'no_time' }
  | { readonly code: 'no_amount' }
  | { readonly code: 'amount_twice' }
  | { readonly code: 'no_kind' }
  | { readonly code: 'no_currency' }
  | { readonly code: 'kind_open'; readonly word: string }

const times: ReadonlySet<string> = new Set<TimeColumn>(['occurred_at', 'available_at', 'paid_at', 'sent_at'])
const amounts: ReadonlySet<string> = new Set([
  ...['gross', 'fee', 'net', 'amount', 'credit', 'debit', 'balance', 'tax_amount', 'unit_price'],
])

/** What a choice still lacks; `words`: the file's words for movements. */
export const checkChoice = (choice: ColumnChoice, words: readonly string[]): readonly ChoiceFault[] => {
  const faults: ChoiceFault[] = []
  const of = new Map<ColumnMeaning, string[]>()
  for (const { name, meaning } of choice.columns)
    if (meaning !== null) of.set(meaning, [...(of.get(meaning) ?? []), name])
  for (const [meaning, columns] of of)
    if (columns.length > 1 && meaning !== 'description') faults.push({ code: 'meaning_twice', meaning, columns })
  if (!of.has('occurred_at')) faults.push({ code: 'no_time' })
  const ways = [of.has('gross'), of.has('amount'), of.has('credit') || of.has('debit')].filter(Boolean).length
  const netAlone = of.has('net') && ways === 0
  if (ways === 0 && !netAlone) faults.push({ code: 'no_amount' })
  if (ways > 1) faults.push({ code: 'amount_twice' })
  if (!of.has('currency') && choice.currency === null) faults.push({ code: 'no_currency' })
  if (!of.has('kind') && choice.kind === null) faults.push({ code: 'no_kind' })
  if (of.has('kind'))
    for (const word of words) if (choice.kinds[word] === undefined) faults.push({ code: 'kind_open', word })
  return faults
}

/** The mapping that a choice without faults makes: a movement per amount that stands beside the others. */
export const mappingOf = (choice: ColumnChoice, name: string): ColumnMapping => {
  const columnOf = (meaning: ColumnMeaning): string | null =>
    choice.columns.find(one => one.meaning === meaning)?.name ?? null
  const kindColumn = columnOf('kind')
  const one = (column: string | null): readonly string[] => (column === null ? [] : [column])
  const lineId = columnOf('line_id')
  const described = choice.columns.filter(({ meaning }) => meaning === 'description').map(column => column.name)
  const fields: Partial<Record<TextColumn, FieldFrom>> = {
    line_id: lineId !== null ? { from: 'column', column: lineId } : { from: 'made', columns: madeOf(choice) },
    kind:
      kindColumn === null
        ? { from: 'constant', value: choice.kind ?? '' }
        : {
            from: 'words',
            column: kindColumn,
            words: Object.fromEntries(
              Object.entries(choice.kinds).flatMap(([word, kind]) => (kind ? [[word, kind]] : [])),
            ),
            otherwise: null,
          },
    ...(columnOf('currency') === null && { currency: { from: 'constant', value: choice.currency ?? '' } }),
    ...(described.length > 0 && { description: { from: 'joined', columns: described, by: ' ' } }),
  }
  for (const { name: column, meaning } of choice.columns) {
    if (meaning === null || times.has(meaning) || amounts.has(meaning) || Object.hasOwn(fields, meaning)) continue
    const text = meaning as TextColumn
    if (meaning === 'region' && Object.keys(choice.regions).length > 0)
      fields[text] = { from: 'words', column, words: choice.regions, otherwise: null }
    else if (meaning === 'status' && Object.keys(choice.statuses).length > 0)
      fields[text] = { from: 'words', column, words: choice.statuses, otherwise: null }
    else fields[text] = { from: 'column', column }
  }
  const out = Object.entries(choice.kinds).flatMap(([word, kind]) => (kind === null ? [word] : []))
  const [gross, fee, net] = [columnOf('gross') ?? columnOf('amount'), columnOf('fee'), columnOf('net')]
  const main = mainAmount(choice, { gross, net, credit: columnOf('credit'), debit: columnOf('debit') })
  const movements: Movement[] = [
    {
      suffix: '',
      ...main,
      taxAmount: columnOf('tax_amount') === null ? null : { plus: one(columnOf('tax_amount')), minus: [] },
      fields: {},
      reversedFor:
        kindColumn !== null && choice.reversed.length > 0 ? { column: kindColumn, values: choice.reversed } : null,
    },
  ]
  const splits = fee !== null && gross !== null
  if (splits)
    movements.push({
      suffix: '/fee',
      amount: choice.feesPositive ? { plus: [], minus: [fee] } : { plus: [fee], minus: [] },
      taxAmount: null,
      fields: {
        kind: { from: 'constant', value: choice.feeKind },
        // What the fee was charged on.
        ...(kindColumn !== null && { category: { from: 'column', column: kindColumn } }),
      },
      reversedFor: null,
    })
  return {
    name,
    fields,
    times: Object.fromEntries(
      choice.columns.flatMap(({ name: column, meaning }) =>
        meaning !== null && times.has(meaning) ? [[meaning, { from: 'column', column }]] : [],
      ),
    ),
    unitPrice: columnOf('unit_price') === null ? null : { plus: one(columnOf('unit_price')), minus: [] },
    movements,
    numbers: choice.numbers,
    dates: choice.dates,
    timeZone: choice.timeZone,
    leaveOut: kindColumn !== null && out.length > 0 ? [{ column: kindColumn, values: out }] : [],
    net: choice.holdNet && splits ? net : null,
    carried: lineId === null && columnOf('order_id') !== null ? carriedOf(choice) : [],
  }
}

const mainAmount = (
  { debitsNegative }: ColumnChoice,
  of: { gross: string | null; net: string | null; credit: string | null; debit: string | null },
): Pick<Movement, 'amount'> => {
  const single = of.gross ?? (of.credit === null && of.debit === null ? of.net : null)
  if (single !== null) return { amount: { plus: [single], minus: [] } }
  const debit = of.debit === null ? [] : [of.debit]
  return {
    amount: {
      plus: [...(of.credit === null ? [] : [of.credit]), ...(debitsNegative ? debit : [])],
      minus: debitsNegative ? [] : debit,
    },
  }
}

// Everything that tells one row from another: alike ones are counted.
const idParts: readonly ColumnMeaning[] = [
  'occurred_at',
  'order_id',
  'kind',
  'sku',
  'gross',
  'amount',
  'net',
  'credit',
  'debit',
  'fee',
]
const madeOf = ({ columns }: ColumnChoice): readonly string[] =>
  idParts.flatMap(part => columns.filter(({ meaning }) => meaning === part).map(({ name }) => name))

const ofTheOrder: ReadonlySet<string> = new Set([
  ...['occurred_at', 'paid_at', 'sent_at', 'currency', 'region', 'customer', 'email', 'ship_to', 'gateway', 'status'],
])
const carriedOf = ({ columns }: ColumnChoice): readonly string[] =>
  columns.filter(({ meaning }) => meaning !== null && ofTheOrder.has(meaning)).map(({ name }) => name)

/** The kind of fee that a row's fee is taken for, by the shape of its source. */
export const feeKindOf = (shape: 'combined' | 'channel' | 'gateway'): Kind =>
  shape === 'gateway' ? 'processing_fee' : 'selling_fee'

/** Kinds that rows of a file can be said to be, in the order of their names. */
export const choosableKinds: readonly Kind[] = (Object.keys(kinds) as Kind[]).sort((left, right) =>
  kinds[left].label < kinds[right].label ? -1 : 1,
)
