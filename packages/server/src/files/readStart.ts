import { Readable } from 'node:stream'

/** Bytes by which a file is known. */
const startBytes = 8_192

/** The first bytes of a body, as many as are needed to know what it is; all of a shorter one. Blanks before them are left out. */
export const readStart = async (chunks: AsyncIterator<Buffer>): Promise<Buffer> => {
  let start = Buffer.alloc(0)
  while (start.length < startBytes) {
    const next = await chunks.next()
    if (next.done) break
    start = Buffer.concat([start, Buffer.from(next.value)])
    const text = start.findIndex(byte => byte !== 0x20 && byte !== 0x09 && byte !== 0x0a && byte !== 0x0d)
    start = text < 0 ? Buffer.alloc(0) : start.subarray(text)
  }
  return start
}

/** What was read for a look, and what comes after it. */
export const goingOn = (start: Buffer, chunks: AsyncIterator<Buffer>): Readable =>
  Readable.from(
    (async function* () {
      yield start
      for (let next = await chunks.next(); !next.done; next = await chunks.next()) yield Buffer.from(next.value)
    })(),
    { objectMode: false },
  )
