/** Letters to change, add, drop or change over with a neighbour to make one text of the other; `most` + 1 once it is more. */
export const editDistance = (one: string, other: string, most: number): number => {
  if (Math.abs(one.length - other.length) > most) return most + 1
  let beforeLast: number[] = []
  let last = Array.from({ length: other.length + 1 }, (_, place) => place)
  for (let row = 1; row <= one.length; row++) {
    const next = [row]
    for (let place = 1; place <= other.length; place++) {
      const same = one[row - 1] === other[place - 1]
      let least = Math.min(
        (last[place] as number) + 1,
        (next[place - 1] as number) + 1,
        (last[place - 1] as number) + (same ? 0 : 1),
      )
      if (row > 1 && place > 1 && one[row - 1] === other[place - 2] && one[row - 2] === other[place - 1])
        least = Math.min(least, (beforeLast[place - 2] as number) + 1)
      next.push(least)
    }
    if (Math.min(...next) > most) return most + 1
    beforeLast = last
    last = next
  }
  return Math.min(last[other.length] as number, most + 1)
}
