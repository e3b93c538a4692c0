/** Ways in which files arrive broken, in an order that a seed decides. */
export interface Mutator {
  /** A whole number from 0 on, below `below`. */
  next(below: number): number
  mutate(seed: Buffer): Buffer
}

/** A generator of numbers that is the same on every machine. */
export const mutatorOf = (seed: number): Mutator => {
  let state = seed >>> 0
  const next = (below: number): number => {
    state = (state + 0x6d2b79f5) >>> 0
    let mixed = Math.imul(state ^ (state >>> 15), state | 1)
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61)
    return ((mixed ^ (mixed >>> 14)) >>> 0) % below
  }
  return {
    next,
    mutate: file => {
      let bytes = file
      // Most files have one fault, some a few.
      for (let count = 1 + (next(4) === 0 ? next(4) : 0); count > 0; count--) bytes = mutateOnce(bytes, next)
      return bytes
    },
  }
}

const mutateOnce = (bytes: Buffer, next: (below: number) => number): Buffer => {
  const at = next(Math.max(1, bytes.length))
  const insert = (added: Buffer): Buffer => Buffer.concat([bytes.subarray(0, at), added, bytes.subarray(at)])
  switch (next(13)) {
    case 0: {
      const flipped = Buffer.from(bytes)
      flipped[at] = (flipped[at] ?? 0) ^ (1 << next(8))
      return flipped
    }
    case 1:
      return bytes.subarray(0, at)
    case 2:
      return insert(Buffer.from([0]))
    case 3:
      return insert(Buffer.from('"'))
    case 4:
      return insert(Buffer.from([0xff, 0xfe]))
    case 5:
      return insert(bytes.subarray(at, at + next(400)))
    case 6:
      return Buffer.concat([bytes.subarray(0, at), bytes.subarray(at + next(400))])
    case 7:
      return insert(
        Buffer.from(
          ['1e308', '-', '.', ',', ';', '\t', '\r', '=1+1', '<a>', ']]>', '&x;', '\u202e'][next(12)] as string,
        ),
      )
    case 8:
      return swapFields(bytes, next)
    case 9:
      return withLines(bytes, lines => lines.filter((_, index) => index !== at % lines.length))
    case 10:
      return withLines(bytes, lines =>
        lines.flatMap((line, index) => (index === at % lines.length ? [line, line] : [line])),
      )
    case 11:
      return Buffer.from(
        bytes
          .toString('latin1')
          .replaceAll(',', next(2) ? ';' : '\t')
          .replaceAll('\n', '\r\n'),
        'latin1',
      )
    default:
      return Buffer.from(bytes.toString('utf8'), next(2) ? 'utf16le' : 'latin1')
  }
}

const withLines = (bytes: Buffer, change: (lines: string[]) => string[]): Buffer =>
  Buffer.from(change(bytes.toString('latin1').split('\n')).join('\n'), 'latin1')

const swapFields = (bytes: Buffer, next: (below: number) => number): Buffer =>
  withLines(bytes, lines => {
    const row = next(lines.length)
    const fields = (lines[row] ?? '').split(',')
    const [one, other] = [next(fields.length), next(fields.length)]
    const moved = fields[one] ?? ''
    fields[one] = fields[other] ?? ''
    fields[other] = moved
    return lines.with(row, fields.join(','))
  })
