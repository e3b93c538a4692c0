import type { Subject } from '@culvert/contract'
import type { Facts } from './actText.ts'
import type { Touched } from './recordAct.ts'

/** Something that may be changed, as it stands. */
export interface Touchable {
  readonly subject: Subject
  readonly key: string
  readonly facts: Facts
}

/** The facts of a row: what says nothing is left out, what has parts is told as JSON. */
export const factsOf = (row: object): Facts => {
  const facts: Record<string, Facts[string]> = {}
  for (const [name, value] of Object.entries(row) as [string, unknown][]) {
    if (value === null || value === undefined || value === '') continue
    if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean') facts[name] = value
    else {
      const text = JSON.stringify(value)
      if (text !== '[]' && text !== '{}') facts[name] = text
    }
  }
  return facts
}

/** Rows as what may be changed. */
export const touchables = <Row extends object>(
  subject: Subject,
  rows: readonly Row[],
  keyOf: (row: Row) => string | number,
): Touchable[] => rows.map(row => ({ subject, key: String(keyOf(row)), facts: factsOf(row) }))

const nameOf = ({ subject, key }: Touchable): string => `${subject} ${key}`
const textOf = ({ facts }: Touchable): string => JSON.stringify(facts)

/** What differs between two states of the same things: what was changed, what came, what went. */
export const changesBetween = (before: readonly Touchable[], after: readonly Touchable[]): Touched[] => {
  const were = new Map(before.map(one => [nameOf(one), one]))
  const are = new Set(after.map(nameOf))
  const touched: Touched[] = []
  for (const { subject, key, facts } of before)
    if (!are.has(`${subject} ${key}`)) touched.push({ subject, key, before: facts, after: null })
  for (const one of after) {
    const was = were.get(nameOf(one))
    if (was === undefined || textOf(was) !== textOf(one))
      touched.push({ subject: one.subject, key: one.key, before: was?.facts ?? null, after: one.facts })
  }
  return touched
}
