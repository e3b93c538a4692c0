/** Orders texts by code point; empty first. */
export const compareText = (left: string, right: string): number => {
  if (left === right) return 0
  const length = Math.min(left.length, right.length)
  for (let index = 0; index < length; index++) {
    const one = left.codePointAt(index) as number
    const other = right.codePointAt(index) as number
    if (one !== other) return one - other
  }
  return left.length - right.length
}
