/** A seeded source of numbers: the same seed, the same data. */
export interface Random {
  /** A fraction from 0 up to 1. */
  next(): number
  /** A whole number from `low` to `high`, both included. */
  whole(low: number, high: number): number
  /** One of the items; with weights, in proportion to them. */
  pick<Item>(items: readonly Item[], weights?: readonly number[]): Item
  /** True in `share` of the cases. */
  chance(share: number): boolean
}

/** The generator mulberry32: 32 bits of state, good enough for made-up orders. */
export const seeded = (seed: number): Random => {
  let state = seed >>> 0
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0
    let mixed = Math.imul(state ^ (state >>> 15), state | 1)
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61)
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296
  }
  return {
    next,
    whole: (low, high) => low + Math.floor(next() * (high - low + 1)),
    chance: share => next() < share,
    pick: (items, weights) => {
      if (!weights) return items[Math.floor(next() * items.length)] as (typeof items)[number]
      let at = next() * weights.reduce((sum, weight) => sum + weight, 0)
      const index = weights.findIndex(weight => {
        at -= weight
        return at < 0
      })
      return items[Math.max(index, 0)] as (typeof items)[number]
    },
  }
}
