/** All ways in which two or more of some amounts add up to a sum. */
export interface Subsets<Item> {
  readonly count: number
  /** How many of them hold each item, in the items' order. */
  readonly holding: readonly number[]
  /** Each of them, its items in their order; empty where there are more than were asked for. */
  readonly listed: readonly (readonly Item[])[]
}

/** Places, as bits, of one half's items, and what they add up to. */
interface Half {
  readonly mask: number
  readonly sum: number
  readonly size: number
}

const halvesOf = (amounts: readonly number[], most: number, target: number): Half[] => {
  let halves: Half[] = [{ mask: 0, sum: 0, size: 0 }]
  amounts.forEach((amount, place) => {
    const longer: Half[] = []
    for (const { mask, sum, size } of halves)
      if (size < most && sum + amount <= target)
        longer.push({ mask: mask | (1 << place), sum: sum + amount, size: size + 1 })
    halves = halves.concat(longer)
  })
  return halves
}

/**
 * Finds every subset of 2 to `most` items, all of one sign, whose amounts add up to `sum`: where that takes many steps, in two halves, each
 * half's sums met with what they lack, so that 24 items take thousands of steps and not millions. Lists them up to
 * `mostListed`; counts them always.
 */
export const subsetsOfSum = <Item extends { readonly amount: number }>(
  items: readonly Item[],
  sum: number,
  limits: Limits,
): Subsets<Item> => {
  const target = Math.abs(sum)
  // What is larger than the sum is in none of them, and most windows are done with here.
  const small = items.filter(item => Math.abs(item.amount) <= target)
  const sizes = small.map(item => Math.abs(item.amount))
  if (small.length < 2 || sizes.reduce((whole, size) => whole + size, 0) < target) return none
  const found = walkAll(sizes, target, limits) ?? meetHalves(sizes, target, limits)
  if (found.count === 0) return none
  const places = small.length === items.length ? null : new Map(small.map((item, place) => [item, place]))
  return {
    count: found.count,
    holding: places === null ? found.holding : items.map(item => found.holding[places.get(item) ?? -1] ?? 0),
    listed:
      found.count > limits.mostListed ? [] : found.masks.map(mask => small.filter((_, place) => (mask >>> place) & 1)),
  }
}

const none: Subsets<never> = { count: 0, holding: [], listed: [] }
/** Steps after which going through the items one by one, quickest in nearly every window, is given up for meeting halves. */
const maxSteps = 4000

interface Masks {
  readonly count: number
  readonly holding: readonly number[]
  /** Places as bits, of up to one more than is listed. */
  readonly masks: readonly number[]
}
interface Limits {
  readonly most: number
  readonly mostListed: number
}

// The largest first: what is left over is soon too little, and a large item soon too much.
const walkAll = (sizes: readonly number[], target: number, limits: Limits): Masks | null => {
  const order = sizes.map((_, place) => place).sort((one, other) => (sizes[other] as number) - (sizes[one] as number))
  const sorted = order.map(place => sizes[place] as number)
  const left = new Array<number>(sizes.length + 1).fill(0)
  for (let at = sizes.length - 1; at >= 0; at--) left[at] = (left[at + 1] as number) + (sorted[at] as number)
  const smallest = sorted.at(-1) as number
  const holding = new Array<number>(sizes.length).fill(0)
  const masks: number[] = []
  let count = 0
  let steps = 0
  const walk = (from: number, rest: number, mask: number, size: number): void => {
    for (let at = from; (left[at] as number) >= rest; at++) {
      const own = sorted[at] as number
      if (own > rest) continue
      if (++steps > maxSteps) return
      const taken = mask | (1 << (order[at] as number))
      if (own < rest) {
        if (size + 1 < limits.most && rest - own >= smallest) walk(at + 1, rest - own, taken, size + 1)
      } else if (size > 0) {
        count++
        noteHolding(holding, taken, 0)
        if (masks.length <= limits.mostListed) masks.push(taken)
      }
    }
  }
  walk(0, target, 0, 0)
  return steps > maxSteps ? null : { count, holding, masks }
}

const meetHalves = (sizes: readonly number[], target: number, limits: Limits): Masks => {
  const middle = sizes.length >> 1
  const bySum = new Map<number, Half[]>()
  for (const half of halvesOf(sizes.slice(middle), limits.most, target)) {
    const known = bySum.get(half.sum)
    if (known) known.push(half)
    else bySum.set(half.sum, [half])
  }
  const holding = new Array<number>(sizes.length).fill(0)
  const masks: number[] = []
  let count = 0
  for (const left of halvesOf(sizes.slice(0, middle), limits.most, target))
    for (const right of bySum.get(target - left.sum) ?? []) {
      if (left.size + right.size < 2 || left.size + right.size > limits.most) continue
      count++
      noteHolding(holding, left.mask, 0)
      noteHolding(holding, right.mask, middle)
      if (masks.length <= limits.mostListed) masks.push(left.mask | (right.mask << middle))
    }
  return { count, holding, masks }
}

const noteHolding = (holding: number[], mask: number, offset: number): void => {
  for (let rest = mask, place = offset; rest !== 0; rest >>>= 1, place++)
    if (rest & 1) holding[place] = (holding[place] as number) + 1
}
