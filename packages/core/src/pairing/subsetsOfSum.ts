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
  if (!walk.takes(items, Math.abs(sum))) return none
  const found = walk.all(limits) ?? meetHalves(items, Math.abs(sum), limits)
  if (found.count === 0) return none
  const { masks, holding, count } = found
  return {
    count,
    holding,
    listed: count > limits.mostListed ? [] : masks.map(mask => items.filter((_, place) => (mask >>> place) & 1)),
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

/** Most items that are gone through: their places are bits of a number. */
const mostItems = 30

/**
 * Goes through the sizes of a window, the largest first: what is left over is soon too little, and a large item soon too much. There is
 * one of it: most of the tens of thousands of windows hold nothing, and making its lists for each took longer than going through them.
 */
class Walk {
  /** Sizes up to the sum in falling order, the places of their items, and what the sizes from a place on come to. */
  private readonly sizes = new Float64Array(mostItems)
  private readonly places = new Int8Array(mostItems)
  private readonly left = new Float64Array(mostItems + 1)
  private fitting = 0
  private of = 0
  private target = 0
  private steps = 0
  private count = 0
  private masks: number[] = []
  private holding: number[] | null = null
  private limits: Limits = { most: 0, mostListed: 0 }

  /** Takes a window in; false where nothing of it can add up to the sum. */
  takes(items: readonly { readonly amount: number }[], target: number): boolean {
    const { sizes, places, left } = this
    if (items.length > mostItems) throw new RangeError(`${items.length} items are too many to go through`)
    let fitting = 0
    let whole = 0
    for (let place = 0; place < items.length; place++) {
      const size = Math.abs((items[place] as { amount: number }).amount)
      if (size > target) continue
      whole += size
      let at = fitting++
      for (; at > 0 && (sizes[at - 1] as number) < size; at--) {
        sizes[at] = sizes[at - 1] as number
        places[at] = places[at - 1] as number
      }
      sizes[at] = size
      places[at] = place
    }
    if (fitting < 2 || whole < target) return false
    left[fitting] = 0
    for (let at = fitting - 1; at >= 0; at--) left[at] = (left[at + 1] as number) + (sizes[at] as number)
    this.fitting = fitting
    this.of = items.length
    this.target = target
    return true
  }
  /** Every subset of the window that was taken in; null where that takes too many steps. */
  all(limits: Limits): Masks | null {
    this.limits = limits
    this.steps = 0
    this.count = 0
    this.holding = null
    this.from(0, this.target, 0, 0)
    if (this.steps > maxSteps) return null
    return this.holding === null ? noMasks : { count: this.count, holding: this.holding, masks: this.masks }
  }
  private from(start: number, rest: number, mask: number, size: number): void {
    const { sizes, left, places } = this
    const smallest = sizes[this.fitting - 1] as number
    for (let at = start; at < this.fitting && (left[at] as number) >= rest; at++) {
      const own = sizes[at] as number
      if (own > rest) continue
      if (++this.steps > maxSteps) return
      if (own === rest) {
        if (size > 0) this.note(mask | (1 << (places[at] as number)))
      } else if (size + 1 < this.limits.most && rest - own >= smallest)
        this.from(at + 1, rest - own, mask | (1 << (places[at] as number)), size + 1)
    }
  }
  private note(mask: number): void {
    if (this.holding === null) {
      this.holding = new Array<number>(this.of).fill(0)
      this.masks = []
    }
    this.count++
    noteHolding(this.holding, mask, 0)
    if (this.masks.length <= this.limits.mostListed) this.masks.push(mask)
  }
}
const walk = new Walk()

const meetHalves = (items: readonly { readonly amount: number }[], target: number, limits: Limits): Masks => {
  const sizes = items.map(item => Math.abs(item.amount))
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
