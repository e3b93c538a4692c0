import { createHmac } from 'node:crypto'

/** A few facts of an object, flat. */
export type Facts = Readonly<Record<string, string | number | boolean | null>>

/** One thing that an act touched. */
export interface ActObject {
  readonly subject: string
  readonly key: string
  readonly before: Facts | null
  readonly after: Facts | null
}

/** An act as its seal covers it. */
export interface SealedAct {
  /** The client, or `practice 1`. */
  readonly of: string
  readonly seq: number
  readonly actId: string
  readonly sort: string
  /** UTC, to the microsecond. */
  readonly at: string
  readonly by: number
  readonly note: string
  readonly objects: readonly ActObject[]
}

// Names in one order: the database keeps them in one of its own.
const ordered = (facts: Facts | null) =>
  facts &&
  Object.keys(facts)
    .sort((left, right) => (left < right ? -1 : 1))
    .map(name => [name, facts[name]])

/** The text that is sealed: JSON of one shape, whose number stands first. */
const textOf = (act: SealedAct, previous: string): string =>
  JSON.stringify([
    1,
    ...[act.of, act.seq, previous, act.actId, act.sort, act.at, act.by, act.note],
    act.objects.map(one => [one.subject, one.key, ordered(one.before), ordered(one.after)]),
  ])

/** The seal of an act, HMAC-SHA-256 in hex: over all of it, and the seal before. */
export const sealOf = (act: SealedAct, previous: string, secret: string): string =>
  createHmac('sha256', secret).update(textOf(act, previous)).digest('hex')

/** What seals are made with. */
export const actsPurpose = 'acts'
