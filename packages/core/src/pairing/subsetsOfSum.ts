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
 * Finds every subset of 2 to `most` items, all of one sign, whose amounts add up to `sum`, its items in their order: where that takes many steps, in two
 * halves, each half's sums met with what they lack, so that 24 items take thousands of steps and not millions. Null where there are more than
 * `mostListed`: they are counted no further.
 */
export const subsetsOfSum = <Item extends { readonly amount: number }>(
  items: readonly Item[],
  sum: number,
  limits: Limits,
): (readonly Item[])[] | null => {
  if (!walk.takes(items, Math.abs(sum))) return []
  const found = walk.all(limits)
  const masks = found === undefined ? meetHalves(items, Math.abs(sum), limits) : found
  return masks === null ? null : masks.map(mask => items.filter((_, place) => (mask >>> place) & 1))
}

/** Steps after which going through the items one by one, quickest in nearly every window, is given up for meeting halves. */
const maxSteps = 4000

interface Limits {
  readonly most: number
  readonly mostListed: number
}

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
  private target = 0
  private steps = 0
  /** Places as bits. */
  private masks: number[] = []
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
    this.target = target
    return true
  }
  /** Every subset of the window that was taken in, as places; null where there are too many, undefined where that takes too many steps. */
  all(limits: Limits): number[] | null | undefined {
    this.limits = limits
    this.steps = 0
    this.masks = []
    this.from(0, this.target, 0, 0)
    if (this.masks.length > limits.mostListed) return null
    return this.steps > maxSteps ? undefined : this.masks
  }
  private from(start: number, rest: number, mask: number, size: number): void {
    const { sizes, left, places } = this
    const smallest = sizes[this.fitting - 1] as number
    for (let at = start; at < this.fitting && (left[at] as number) >= rest; at++) {
      const own = sizes[at] as number
      if (own > rest) continue
      if (++this.steps > maxSteps || this.masks.length > this.limits.mostListed) return
      if (own === rest) {
        if (size > 0) this.masks.push(mask | (1 << (places[at] as number)))
      } else if (size + 1 < this.limits.most && rest - own >= smallest)
        this.from(at + 1, rest - own, mask | (1 << (places[at] as number)), size + 1)
    }
  }
}
const walk = new Walk()

const meetHalves = (items: readonly { readonly amount: number }[], target: number, limits: Limits): number[] | null => {
  const sizes = items.map(item => Math.abs(item.amount))
  const middle = sizes.length >> 1
  const bySum = new Map<number, Half[]>()
  for (const half of halvesOf(sizes.slice(middle), limits.most, target)) {
    const known = bySum.get(half.sum)
    if (known) known.push(half)
    else bySum.set(half.sum, [half])
  }
  const masks: number[] = []
  for (const left of halvesOf(sizes.slice(0, middle), limits.most, target))
    for (const right of bySum.get(target - left.sum) ?? []) {
      if (left.size + right.size < 2 || left.size + right.size > limits.most) continue
      if (masks.length >= limits.mostListed) return null
      masks.push(left.mask | (right.mask << middle))
    }
  return masks
}
