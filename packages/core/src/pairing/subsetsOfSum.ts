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
  // What is larger than the sum is in none of them, and most windows are done with here: nothing is copied for those.
  let [fitting, whole] = [0, 0]
  for (const item of items) {
    const size = Math.abs(item.amount)
    if (size > target) continue
    fitting++
    whole += size
  }
  if (fitting < 2 || whole < target) return none
  const small = fitting === items.length ? items : items.filter(item => Math.abs(item.amount) <= target)
  const sizes = small.map(item => Math.abs(item.amount))
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

const noMasks: Masks = { count: 0, holding: [], masks: [] }

/** One walk through the sizes, the largest first: what is left over is soon too little, and a large item soon too much. */
class Walk {
  steps = 0
  readonly masks: number[] = []
  count = 0
  private readonly order: readonly number[]
  private readonly sorted: readonly number[]
  /** What the sizes from a place on come to together. */
  private readonly left: readonly number[]
  private readonly limits: Limits
  holding: number[] | null = null

  constructor(sizes: readonly number[], limits: Limits) {
    const order = sizes.map((_, place) => place).sort((one, other) => (sizes[other] as number) - (sizes[one] as number))
    const left = new Array<number>(sizes.length + 1).fill(0)
    for (let at = sizes.length - 1; at >= 0; at--)
      left[at] = (left[at + 1] as number) + (sizes[order[at] as number] as number)
    this.order = order
    this.sorted = order.map(place => sizes[place] as number)
    this.left = left
    this.limits = limits
  }
  from(start: number, rest: number, mask: number, size: number): void {
    const { sorted, left, order } = this
    for (let at = start; (left[at] as number) >= rest; at++) {
      const own = sorted[at] as number
      if (own > rest) continue
      if (++this.steps > maxSteps) return
      if (own === rest) {
        if (size > 0) this.note(mask | (1 << (order[at] as number)))
      } else if (size + 1 < this.limits.most && rest - own >= (sorted[sorted.length - 1] as number))
        this.from(at + 1, rest - own, mask | (1 << (order[at] as number)), size + 1)
    }
  }
  private note(mask: number): void {
    this.count++
    this.holding ??= new Array<number>(this.sorted.length).fill(0)
    noteHolding(this.holding, mask, 0)
    if (this.masks.length <= this.limits.mostListed) this.masks.push(mask)
  }
}

const walkAll = (sizes: readonly number[], target: number, limits: Limits): Masks | null => {
  const walk = new Walk(sizes, limits)
  walk.from(0, target, 0, 0)
  if (walk.steps > maxSteps) return null
  return walk.holding === null ? noMasks : { count: walk.count, holding: walk.holding, masks: walk.masks }
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
