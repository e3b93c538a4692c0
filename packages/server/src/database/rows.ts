import { type AccountType, accountTypes, isKind, type Kind } from '@culvert/core'
import type { ZodType } from 'zod'

/** What a statement brought is not what its reader expects: a fault of the program, never of a person. */
export class Unread extends TypeError {
  override readonly name = 'Unread'
}

/** Reads one value of a row, or of JSON inside of one. @throws Unread */
export type Reader<Value> = (value: unknown) => Value

/** Reads what may be missing from an object altogether. */
interface OptionalReader<Value> extends Reader<Value | undefined> {
  readonly optional: true
}

/** Readers by the names of a row's columns. */
export type Shape = Readonly<Record<string, Reader<unknown>>>

type Optional<S extends Shape> = { [K in keyof S]: S[K] extends OptionalReader<unknown> ? K : never }[keyof S]

/** A row as its readers hand it over. */
export type RowOf<S extends Shape> = { [K in Exclude<keyof S, Optional<S>>]: ReturnType<S[K]> } & {
  [K in Optional<S>]?: Exclude<ReturnType<S[K]>, undefined>
}

const seen = (value: unknown): string => JSON.stringify(value)?.slice(0, 80) ?? String(value)

const typed =
  <Value>(name: string, holds: (value: unknown) => value is Value): Reader<Value> =>
  value => {
    if (holds(value)) return value
    throw new Unread(`${name} was expected, ${seen(value)} came`)
  }

const isText = (value: unknown): value is string => typeof value === 'string'
const isWhole = (value: unknown): value is number => Number.isSafeInteger(value)
const isYes = (value: unknown): value is boolean => typeof value === 'boolean'
const isDate = (value: unknown): value is string => isText(value) && /^\d{4,6}-\d\d-\d\d$/.test(value)
const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** Reads a row, column by column; columns without a reader are left out of what is looked at. */
export const readRow = <S extends Shape>(shape: S, row: unknown): RowOf<S> => {
  if (!isObject(row)) throw new Unread(`an object was expected, ${seen(row)} came`)
  for (const name in shape) {
    const read = shape[name] as Reader<unknown>
    let value: unknown
    try {
      value = read(row[name])
    } catch (error) {
      if (error instanceof Unread) throw new Unread(`${name}: ${error.message}`)
      throw error
    }
    if (value !== row[name]) row[name] = value
  }
  // Every reader has looked at its column by now.
  return row as RowOf<S>
}

/** Columns of a row that are named only while the program runs: texts all of them. @throws Unread */
export const textsOf = (row: object, names: readonly string[]): Partial<Record<string, string | null>> => {
  const values = new Map(Object.entries(row))
  return Object.fromEntries(names.map(name => [name, is.maybe(is.text)(values.get(name))]))
}

/** The readers of columns: each refuses what it does not know, so that no row is taken for what it is not. */
export const is = {
  text: typed('text', isText),
  /** A count, an id, a number of a version. */
  whole: typed('a whole number', isWhole),
  /** Minor units of a currency. */
  minor: typed('an amount in minor units', isWhole),
  yes: typed('true or false', isYes),
  /** A local date, YYYY-MM-DD. */
  date: typed('a date', isDate),
  kind: typed<Kind>('a kind of movement', (value): value is Kind => isText(value) && isKind(value)),
  accountType: typed<AccountType>('a type of account', (value): value is AccountType =>
    accountTypes.some(type => type === value),
  ),
  /** JSON that is only kept, or handed on as it came. */
  bytes: typed('bytes', (value): value is Buffer => Buffer.isBuffer(value)),
  anything: (value: unknown): unknown => value,
  oneOf: <const Values extends readonly string[]>(...values: Values): Reader<Values[number]> =>
    typed<Values[number]>(values.join(' or '), (value): value is Values[number] => values.some(one => one === value)),
  maybe:
    <Value>(read: Reader<Value>): Reader<Value | null> =>
    value =>
      value === null ? null : read(value),
  optional: <Value>(read: Reader<Value>): OptionalReader<Value> =>
    Object.assign((value: unknown) => (value === undefined ? undefined : read(value)), { optional: true } as const),
  /** What was not kept formerly: where it is missing it was so. */
  since:
    <Value>(read: Reader<Value>, before: Value): Reader<Value> =>
    value =>
      value === undefined ? before : read(value),
  list:
    <Value>(read: Reader<Value>): Reader<Value[]> =>
    value => {
      if (!Array.isArray(value)) throw new Unread(`a list was expected, ${seen(value)} came`)
      return value.map(read)
    },
  record:
    <S extends Shape>(shape: S): Reader<RowOf<S>> =>
    value =>
      readRow(shape, value),
  dict:
    <Value>(read: Reader<Value>): Reader<Record<string, Value>> =>
    value => {
      if (!isObject(value)) throw new Unread(`an object was expected, ${seen(value)} came`)
      return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, read(one)]))
    },
  /** JSON with a schema of its own. */
  by:
    <Value>(schema: ZodType<Value>): Reader<Value> =>
    value => {
      const parsed = schema.safeParse(value)
      if (parsed.success) return parsed.data
      throw new Unread(parsed.error.issues.map(issue => `${issue.path.join('.')}: ${issue.message}`).join('; '))
    },
}
