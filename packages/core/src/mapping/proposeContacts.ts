import type { ContactSort } from './contactSort.ts'
import { editDistance } from './editDistance.ts'
import { nameBook } from './findNamed.ts'
import { foldName } from './folded.ts'

/** Somebody that documents will name, and what they are to the client. */
export interface WantedContact {
  readonly key: string
  readonly name: string
  readonly sort: ContactSort
}

interface KnownContact {
  readonly code: string
  readonly name: string
}

export interface ProposedContact extends WantedContact {
  /** A contact there is; `same_name` alone is sure. */
  readonly use: { readonly code: string; readonly why: 'same_name' | 'one_of_several' | 'like_it' } | null
  /** What would be made instead, under a number that is free. */
  readonly make: { readonly code: string; readonly name: string }
}

/** Letters by which names of one may differ, from this many letters on. */
const mostOff = 2
const fewestLetters = 6
/** Of a name that becomes a number. */
const mostLetters = 90

/**
 * Finds a contact for each that is wanted: of the same folded name; else one whose name differs by a letter or two, or holds all its words, to be looked
 * at. Two that are wanted under one name would be made as one.
 * @example proposeContacts([{ key: 'a', name: 'Openhall', sort: 'both' }], [{ code: 'S-1', name: 'OPENHALL Ltd.' }])[0].use // { code: 'S-1', why: 'same_name' }
 */
export const proposeContacts = (
  wanted: readonly WantedContact[],
  known: readonly KnownContact[],
): readonly ProposedContact[] => {
  const book = nameBook(known.map(contact => ({ ...contact, otherNames: [] })))
  const taken = new Set(known.map(contact => contact.code))
  const made = new Map<string, ProposedContact['make']>()
  return wanted.map(one => {
    const folded = foldName(one.name)
    const make = made.get(folded) ?? { code: freeNumber(one.name, taken), name: one.name }
    taken.add(make.code)
    made.set(folded, make)
    return { ...one, use: useOf(one.name, { book, known }), make }
  })
}

const useOf = (
  name: string,
  { book, known }: { readonly book: ReturnType<typeof nameBook>; readonly known: readonly KnownContact[] },
): ProposedContact['use'] => {
  const found = book.find({ code: null, name })
  if (found.found === 'one') return { code: found.thing.code, why: 'same_name' }
  const [first] = found.found === 'several' ? found.things : []
  if (first) return { code: first.code, why: 'one_of_several' }
  const like = known.find(contact => isLike(foldName(contact.name), foldName(name)))
  return like ? { code: like.code, why: 'like_it' } : null
}

const isLike = (one: string, other: string): boolean => {
  const [short, long] = one.length < other.length ? [one, other] : [other, one]
  if (short.length < fewestLetters) return false
  const words = new Set(long.split(' '))
  return short.split(' ').every(word => words.has(word)) || editDistance(short, long, mostOff) <= mostOff
}

// Under its name, as lists without numbers are kept; where another has that number, with one behind it.
const freeNumber = (name: string, taken: ReadonlySet<string>): string => {
  const short = name.slice(0, mostLetters).trim()
  let code = short
  for (let next = 2; taken.has(code); next++) code = `${short} ${next}`
  return code
}
