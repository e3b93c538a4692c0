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
 * Finds every subset of 2 to `most` items, all of one sign, whose amounts add up to `sum`: the items in two halves, each
 * half's sums met with what they lack, so that 24 items take thousands of steps and not millions. Lists them up to
 * `mostListed`; counts them always.
 */
export const subsetsOfSum = <Item extends { readonly amount: number }>(
  items: readonly Item[],
  sum: number,
  limits: { readonly most: number; readonly mostListed: number },
): Subsets<Item> => {
  const target = Math.abs(sum)
  const middle = items.length >> 1
  const sizes = items.map(item => Math.abs(item.amount))
  const none: Subsets<Item> = { count: 0, holding: [], listed: [] }
  if (items.length < 2 || sizes.reduce((whole, size) => whole + size, 0) < target) return none
  const bySum = new Map<number, Half[]>()
  for (const half of halvesOf(sizes.slice(middle), limits.most, target)) {
    const known = bySum.get(half.sum)
    if (known) known.push(half)
    else bySum.set(half.sum, [half])
  }
  const holding = new Array<number>(items.length).fill(0)
  const met: (readonly [number, number])[] = []
  let count = 0
  for (const left of halvesOf(sizes.slice(0, middle), limits.most, target))
    for (const right of bySum.get(target - left.sum) ?? []) {
      if (left.size + right.size < 2 || left.size + right.size > limits.most) continue
      count++
      noteHolding(holding, left.mask, 0)
      noteHolding(holding, right.mask, middle)
      if (met.length <= limits.mostListed) met.push([left.mask, right.mask])
    }
  if (count === 0) return none
  if (count > limits.mostListed) return { count, holding, listed: [] }
  return { count, holding, listed: met.map(([left, right]) => itemsOf(items, middle, { left, right })) }
}

const noteHolding = (holding: number[], mask: number, offset: number): void => {
  for (let rest = mask, place = offset; rest !== 0; rest >>>= 1, place++)
    if (rest & 1) holding[place] = (holding[place] as number) + 1
}

const itemsOf = <Item>(items: readonly Item[], middle: number, masks: { left: number; right: number }): Item[] =>
  items.filter((_, place) => (place < middle ? (masks.left >>> place) & 1 : (masks.right >>> (place - middle)) & 1))
