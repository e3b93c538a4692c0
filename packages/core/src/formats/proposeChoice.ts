import { zoneOf } from '../activity/zone.ts'
import { foldText } from '../mapping/folded.ts'
import { type ColumnChoice, feeKindOf } from './columnChoice.ts'
import {
  type DateOrder,
  dateOrders,
  type NumberStyle,
  numberStyles,
  ordersThatRead,
  plainNumber,
  readableDates,
  readableNumbers,
  stylesThatRead,
} from './foreignFields.ts'
import { proposeColumns } from './proposeColumns.ts'
import { proposeKind, type SourceShape } from './proposeKind.ts'

/** A question that only a person can answer, since the file could be read otherwise. */
export type ColumnQuestion =
  | { readonly code: 'column'; readonly column: string }
  | { readonly code: 'kind'; readonly word: string }
  | { readonly code: 'region'; readonly word: string }
  | { readonly code: 'status'; readonly word: string }
  | { readonly code: 'numbers'; readonly styles: readonly NumberStyle[] }
  | { readonly code: 'dates'; readonly orders: readonly DateOrder[]; readonly sample: string }
  | { readonly code: 'currency' }
  | { readonly code: 'fee_sign' }

export interface ProposedChoice {
  readonly choice: ColumnChoice
  readonly questions: readonly ColumnQuestion[]
}

interface Of {
  readonly shape: SourceShape
  /** Of the client: taken where nothing in the file says otherwise. */
  readonly timeZone: string
}

/** What a foreign file of activity is proposed to mean, by its head and its rows, with what has to be asked. */
export const proposeChoice = (
  header: readonly string[],
  rows: readonly (readonly string[])[],
  { shape, timeZone }: Of,
): ProposedChoice => {
  const questions: ColumnQuestion[] = []
  const proposals = proposeColumns('activity', header, rows)
  const names = header.map(name => name.trim())
  const columns = proposals.map(({ column, meaning, sure }) => {
    const name = names[column] ?? ''
    if (!sure) questions.push({ code: 'column', column: name })
    return { name, meaning }
  })
  const placeOf = (meaning: string): number => columns.findIndex(one => one.meaning === meaning)
  const valuesOf = (meaning: string): readonly string[] => {
    const at = placeOf(meaning)
    return at < 0 ? [] : rows.map(row => (row[at] ?? '').trim())
  }
  const told = (meanings: readonly string[]): string[] => meanings.flatMap(valuesOf).filter(value => value !== '')
  const numbers = numbersOf(
    told(['gross', 'fee', 'net', 'amount', 'credit', 'debit', 'tax_amount', 'unit_price']),
    questions,
  )
  const dates = datesOf(told(['occurred_at', 'paid_at', 'sent_at', 'available_at']), questions)
  if (placeOf('currency') < 0) questions.push({ code: 'currency' })
  const minus = (meaning: string) => told([meaning]).map(text => Number(plainNumber(text, numbers) ?? 0))
  const fees = minus('fee')
  const feesPositive = fees.some(fee => fee > 0) && !fees.some(fee => fee < 0)
  // Where the net is there, it says which sign is meant; without it nothing does.
  const netSays = placeOf('net') >= 0 && placeOf('gross') >= 0
  if (feesPositive && !netSays) questions.push({ code: 'fee_sign' })
  const kinds = kindsOf({ rows, at: placeOf('kind'), amountAt: amountPlace(columns), numbers, shape, questions })
  return {
    choice: {
      columns,
      ...kinds,
      kind: null,
      currency: null,
      feeKind: feeKindOf(shape),
      feesPositive,
      debitsNegative: minus('debit').some(debit => debit < 0),
      holdNet: netSays,
      regions: regionsOf(valuesOf('region'), questions),
      statuses: statusesOf(valuesOf('status'), questions),
      numbers,
      dates,
      timeZone,
    },
    questions,
  }
}

const amountPlace = (columns: ColumnChoice['columns']): number => {
  for (const meaning of ['gross', 'amount', 'net']) {
    const at = columns.findIndex(one => one.meaning === meaning)
    if (at >= 0) return at
  }
  return -1
}

const numbersOf = (values: readonly string[], questions: ColumnQuestion[]): NumberStyle => {
  const styles = stylesThatRead(readableNumbers(values))
  if (styles.length > 1) questions.push({ code: 'numbers', styles })
  return styles[0] ?? (numberStyles[0] as NumberStyle)
}

const datesOf = (values: readonly string[], questions: ColumnQuestion[]): DateOrder => {
  const readable = readableDates(values, zoneOf('UTC'))
  const orders = ordersThatRead(readable, zoneOf('UTC'))
  const [first] = orders
  // The one in which the days and months differ most visibly.
  if (orders.length > 1) questions.push({ code: 'dates', orders, sample: readable[0] ?? '' })
  return first ?? (dateOrders[0] as DateOrder)
}

const kindsOf = (of: {
  readonly rows: readonly (readonly string[])[]
  readonly at: number
  readonly amountAt: number
  readonly numbers: NumberStyle
  readonly shape: SourceShape
  readonly questions: ColumnQuestion[]
}): Pick<ColumnChoice, 'kinds' | 'reversed'> => {
  if (of.at < 0) return { kinds: {}, reversed: [] }
  const signs = new Map<string, { plus: number; minus: number }>()
  for (const row of of.rows) {
    const word = (row[of.at] ?? '').trim()
    const seen = signs.get(word) ?? { plus: 0, minus: 0 }
    const amount = Number(plainNumber(row[of.amountAt] ?? '', of.numbers) ?? 0)
    if (amount > 0) seen.plus++
    if (amount < 0) seen.minus++
    signs.set(word, seen)
  }
  const kinds: Record<string, ColumnChoice['kinds'][string]> = {}
  const reversed: string[] = []
  for (const [word, seen] of signs) {
    const proposal = proposeKind(word, of.shape, seen)
    if (!proposal.sure) of.questions.push({ code: 'kind', word })
    // What nothing is proposed for stays open until somebody says it.
    if (proposal.kind !== null) kinds[word] = proposal.kind
    if (proposal.reversed) reversed.push(word)
  }
  return { kinds, reversed }
}

let countryCodes: ReadonlyMap<string, string> | null = null
const codesByName = (): ReadonlyMap<string, string> => {
  if (countryCodes) return countryCodes
  const codes = new Map<string, string>()
  const letters = [...'ABCDEFGHIJKLMNOPQRSTUVWXYZ']
  for (const language of ['en', 'de', 'fr', 'es', 'it', 'nl']) {
    const names = new Intl.DisplayNames([language], { type: 'region', fallback: 'none' })
    for (const code of letters.flatMap(first => letters.map(second => first + second))) {
      const name = names.of(code)
      if (name !== undefined && name !== code) codes.set(foldText(name), code)
    }
  }
  countryCodes = codes
  return codes
}

const regionShape = /^[A-Z]{2}(-[A-Z0-9]{1,3})?$/

const regionsOf = (values: readonly string[], questions: ColumnQuestion[]): Readonly<Record<string, string>> => {
  const seen = [...new Set(values)].filter(value => value !== '')
  if (seen.every(value => regionShape.test(value))) return {}
  const regions: Record<string, string> = { '': '' }
  for (const value of seen) {
    const code = regionShape.test(value) ? value : codesByName().get(foldText(value))
    if (code === undefined) questions.push({ code: 'region', word: value })
    else regions[value] = code
  }
  return regions
}

const statusWords: Readonly<Record<string, string>> = {
  ...{ available: 'available', completed: 'available', complete: 'available', paid: 'available', settled: 'available' },
  ...{
    succeeded: 'available',
    success: 'available',
    cleared: 'available',
    bezahlt: 'available',
    abgeschlossen: 'available',
  },
  ...{ pending: 'pending', 'in progress': 'pending', open: 'pending', offen: 'pending', ausstehend: 'pending' },
  ...{ failed: 'failed', declined: 'failed', cancelled: 'failed', canceled: 'failed', fehlgeschlagen: 'failed' },
}

const statusesOf = (values: readonly string[], questions: ColumnQuestion[]): Readonly<Record<string, string>> => {
  const statuses: Record<string, string> = {}
  for (const value of new Set(values)) {
    const status = value === '' ? 'available' : statusWords[foldText(value)]
    if (status === undefined) questions.push({ code: 'status', word: value })
    else statuses[value] = status
  }
  return statuses
}
