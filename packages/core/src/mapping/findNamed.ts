import { foldName } from './folded.ts'

/** Something of the ledger that activity names: an item or a contact. */
export interface Named {
  readonly code: string
  readonly name: string
  /** Other names that a person has confirmed for it: SKUs, titles, spellings. */
  readonly otherNames: readonly string[]
}

export type Evidence = 'code' | 'other_name' | 'name'

/** One hit and what spoke for it; several ask a person, none by itself decides. */
export type FoundNamed<Thing> =
  | { readonly found: 'one'; readonly thing: Thing; readonly by: Evidence }
  | { readonly found: 'several'; readonly things: readonly Thing[]; readonly by: Evidence }
  | { readonly found: 'none' }

/** Names made ready for asking. */
export interface NameBook<Thing extends Named> {
  /** By `code` (an item's SKU, a contact's number at the source) exactly, then a known other name, then the folded name. */
  find(wanted: { readonly code: string | null; readonly name: string | null }): FoundNamed<Thing>
}

/**
 * Indexes items or contacts. The first sort of evidence that hits anything decides; what it hits twice is asked about, and
 * weaker evidence does not break the tie.
 */
export const nameBook = <Thing extends Named>(things: readonly Thing[]): NameBook<Thing> => {
  const byCode = indexOf(things, thing => [thing.code])
  const byOtherName = indexOf(things, thing => thing.otherNames.map(foldName))
  const byName = indexOf(things, thing => [foldName(thing.name)])
  return {
    find: ({ code, name }) => {
      const folded = name === null ? '' : foldName(name)
      const foldedCode = code === null ? '' : foldName(code)
      return (
        hit(byCode.get(code ?? ''), 'code') ??
        hit(byOtherName.get(foldedCode), 'other_name') ??
        hit(byOtherName.get(folded), 'other_name') ??
        hit(byName.get(folded), 'name') ?? { found: 'none' }
      )
    },
  }
}

const hit = <Thing>(things: ReadonlySet<Thing> | undefined, by: Evidence): FoundNamed<Thing> | null => {
  if (!things) return null
  const [first, second] = things
  if (first === undefined) return null
  return second === undefined ? { found: 'one', thing: first, by } : { found: 'several', things: [...things], by }
}

const indexOf = <Thing>(things: readonly Thing[], keysOf: (thing: Thing) => readonly string[]) => {
  const index = new Map<string, Set<Thing>>()
  for (const thing of things)
    for (const key of keysOf(thing)) {
      if (key === '') continue
      const known = index.get(key)
      if (known) known.add(thing)
      else index.set(key, new Set([thing]))
    }
  return index
}

/** The thing with `name` learned as one of its other names; unchanged if it is known already. */
export const learnName = <Thing extends Named>(thing: Thing, name: string): Thing =>
  foldName(name) === '' || [thing.name, ...thing.otherNames].some(known => foldName(known) === foldName(name))
    ? thing
    : { ...thing, otherNames: [...thing.otherNames, name] }

/** The thing without `name` among its other names: what was learned can be undone. */
export const forgetName = <Thing extends Named>(thing: Thing, name: string): Thing => ({
  ...thing,
  otherNames: thing.otherNames.filter(known => foldName(known) !== foldName(name)),
})
