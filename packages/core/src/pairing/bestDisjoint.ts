import { daysBetween } from '../activity/localDate.ts'
import { type Grouping, keysOf, lagDays } from './pairingItems.ts'

/** States kept at a time beyond which a set of overlapping groupings is left unsolved: a count, the same on every machine. */
const maxStates = 20_000

export interface Weighed {
  readonly grouping: Grouping
  /** Less is better, compared place by place: members or difference, then squared lag. */
  readonly cost: readonly [number, number]
}

export const weigh = (grouping: Grouping, first: number): Weighed => ({
  grouping,
  cost: [first, lagDays(grouping, daysBetween) ** 2],
})

/** Groupings that share members, directly or through others, together. In the order given. */
export const components = (weighed: readonly Weighed[]): Weighed[][] => {
  const byItem = new Map<string, number[]>()
  const keys = weighed.map(one => keysOf(one.grouping))
  keys.forEach((mine, index) => {
    for (const key of mine) {
      const list = byItem.get(key)
      if (list) list.push(index)
      else byItem.set(key, [index])
    }
  })
  const done = new Set<number>()
  const found: Weighed[][] = []
  weighed.forEach((_, start) => {
    if (done.has(start)) return
    done.add(start)
    const members = [start]
    for (let at = 0; at < members.length; at++)
      for (const key of keys[members[at] as number] as readonly string[])
        for (const next of byItem.get(key) ?? [])
          if (!done.has(next)) {
            done.add(next)
            members.push(next)
          }
    found.push(members.sort((left, right) => left - right).map(index => weighed[index] as Weighed))
  })
  return found
}

/** What has been chosen on the way to a state: the groupings' places, latest first. */
interface Chain {
  readonly place: number
  readonly before: Chain | null
}
interface Way {
  readonly groups: number
  readonly cost: readonly [number, number]
  readonly chain: Chain | null
}

const placesOf = (chain: Chain | null): number[] => {
  const places: number[] = []
  for (let at = chain; at !== null; at = at.before) places.push(at.place)
  return places.reverse()
}

/** True when `one` is the better way to the same state: more groups, less cost, then the smaller sequence. */
const isBetter = (one: Way, other: Way): boolean => {
  if (one.groups !== other.groups) return one.groups > other.groups
  for (const place of [0, 1] as const)
    if (one.cost[place] !== other.cost[place]) return one.cost[place] < other.cost[place]
  const [mine, theirs] = [placesOf(one.chain), placesOf(other.chain)]
  const at = mine.findIndex((place, index) => place !== theirs[index])
  return at >= 0 && (mine[at] as number) < (theirs[at] as number)
}

/**
 * The disjoint set of groupings with the most groups, then the least cost, then the smallest by the order given (which
 * must be the groupings' own order). They are gone through once; what is kept of the past is, for each set of used items that
 * later groupings still want, the best way there, so that a chain of any length is solved as long as few windows overlap.
 * Null when there are too many such sets.
 */
export const bestDisjoint = (component: readonly Weighed[]): Weighed[] | null => {
  const numbers = new Map<string, number>()
  const last: number[] = []
  const members = component.map((one, index) =>
    keysOf(one.grouping).map(key => {
      const number = numbers.get(key) ?? numbers.size
      numbers.set(key, number)
      last[number] = index
      return number
    }),
  )
  let states = new Map<string, { used: readonly number[]; way: Way }>([
    ['', { used: [], way: { groups: 0, cost: [0, 0], chain: null } }],
  ])
  for (const [index, { cost }] of component.entries()) {
    const mine = members[index] as number[]
    const next = new Map<string, { used: readonly number[]; way: Way }>()
    const isWanted = (number: number): boolean => (last[number] as number) > index
    const keep = (wanted: readonly number[], way: Way): void => {
      const key = wanted.join()
      const known = next.get(key)
      if (!known || isBetter(way, known.way)) next.set(key, { used: wanted, way })
    }
    // Most steps end no item's part: then what was used stays as it is.
    const ends = mine.some(number => !isWanted(number))
    const later = mine.filter(isWanted)
    for (const { used, way } of states.values()) {
      const rest = ends ? used.filter(isWanted) : used
      keep(rest, way)
      if (mine.some(number => used.includes(number))) continue
      keep(later.length === 0 ? rest : [...rest, ...later].sort((left, right) => left - right), {
        groups: way.groups + 1,
        cost: [way.cost[0] + cost[0], way.cost[1] + cost[1]],
        chain: { place: index, before: way.chain },
      })
    }
    if (next.size > maxStates) return null
    states = next
  }
  const end = states.get('')
  return end ? placesOf(end.way.chain).map(place => component[place] as Weighed) : null
}
