import { daysBetween } from '../activity/localDate.ts'
import { type Grouping, lagDays } from './pairingItems.ts'

/** Counted steps after which a set of overlapping groupings is left unsolved, the same on every machine. */
const maxSteps = 200_000

export interface Weighed {
  readonly grouping: Grouping
  /** Less is better, compared place by place: members or difference, then squared lag. */
  readonly cost: readonly [number, number]
}

export const weigh = (grouping: Grouping, first: number): Weighed => ({
  grouping,
  cost: [first, lagDays(grouping, daysBetween) ** 2],
})

const itemKeys = ({ bankLines, transfers }: Grouping): string[] => [
  ...bankLines.map(line => `b${line.id}`),
  ...transfers.map(transfer => `t${transfer.id}`),
]

/** Groupings that share members, directly or through others, together. In the order given. */
export const components = (weighed: readonly Weighed[]): Weighed[][] => {
  const byItem = new Map<string, number[]>()
  weighed.forEach((one, index) => {
    for (const key of itemKeys(one.grouping)) {
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
      for (const key of itemKeys((weighed[members[at] as number] as Weighed).grouping))
        for (const next of byItem.get(key) ?? [])
          if (!done.has(next)) {
            done.add(next)
            members.push(next)
          }
    found.push(members.sort((left, right) => left - right).map(index => weighed[index] as Weighed))
  })
  return found
}

interface Chosen {
  readonly set: readonly number[]
  readonly cost: readonly [number, number]
}

const better = (one: Chosen, other: Chosen): boolean => {
  if (one.set.length !== other.set.length) return one.set.length > other.set.length
  for (const place of [0, 1] as const)
    if (one.cost[place] !== other.cost[place]) return one.cost[place] < other.cost[place]
  for (let at = 0; at < one.set.length; at++)
    if (one.set[at] !== other.set[at]) return (one.set[at] as number) < (other.set[at] as number)
  return false
}

/**
 * The disjoint set of groupings with the most groups, then the least cost, then the smallest by the order given (which
 * must be the groupings' own order). Null when the counted steps do not suffice.
 */
export const bestDisjoint = (component: readonly Weighed[]): Weighed[] | null => {
  const keys = component.map(one => itemKeys(one.grouping))
  const used = new Set<string>()
  let best: Chosen = { set: [], cost: [0, 0] }
  let steps = 0
  // Per place: how many items of bank lines still to come, a bound on the groups still to be had.
  const bound = component.map((_, index) =>
    Math.min(
      new Set(component.slice(index).flatMap(one => one.grouping.bankLines.map(line => line.id))).size,
      new Set(component.slice(index).flatMap(one => one.grouping.transfers.map(transfer => transfer.id))).size,
    ),
  )
  const walk = (index: number, chosen: Chosen): void => {
    steps++
    if (better(chosen, best)) best = chosen
    if (index === component.length || steps > maxSteps) return
    if (chosen.set.length + (bound[index] as number) < best.set.length) return
    const mine = keys[index] as string[]
    const { cost } = component[index] as Weighed
    if (!mine.some(key => used.has(key))) {
      for (const key of mine) used.add(key)
      walk(index + 1, { set: [...chosen.set, index], cost: [chosen.cost[0] + cost[0], chosen.cost[1] + cost[1]] })
      for (const key of mine) used.delete(key)
    }
    walk(index + 1, chosen)
  }
  walk(0, { set: [], cost: [0, 0] })
  return steps > maxSteps ? null : best.set.map(index => component[index] as Weighed)
}
