import { createReadStream, createWriteStream } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Readable, Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import type { Request } from 'express'
import { Refused } from './refused.ts'

/** What a body may be: bytes in all, seconds in all, and bytes a second once it has had time to begin. */
export const receiveLimits = { mostBytes: 2_000_000_000, mostSeconds: 1800, leastBytesASecond: 4000, graceSeconds: 20 }

/** A body that has come whole, as a file of ours that only we can read. */
export interface ReceivedFile {
  readonly bytes: number
  open(): Readable
  dispose(): Promise<void>
}

/**
 * Receives a body whole into a temporary file, bounded in size, time and pace, before anything is held for it: a slow sender costs a file and a socket,
 * no connection to the database. @throws Refused
 */
export const receiveFile = async (request: Request, limits = receiveLimits): Promise<ReceivedFile> => {
  const told = Number(request.headers['content-length'])
  if (told > limits.mostBytes) throw tooLarge(limits.mostBytes)
  const folder = await mkdtemp(join(tmpdir(), 'culvert-'))
  const dispose = () => rm(folder, { recursive: true, force: true })
  const path = join(folder, 'body')
  let bytes = 0
  const counting = new Transform({
    transform: (chunk: Buffer, _encoding, done) => {
      bytes += chunk.length
      done(bytes > limits.mostBytes ? tooLarge(limits.mostBytes) : null, chunk)
    },
  })
  const slow = new AbortController()
  const begun = Date.now()
  const pace = setInterval(() => {
    const seconds = (Date.now() - begun) / 1000
    if (seconds > limits.mostSeconds || (seconds > limits.graceSeconds && bytes / seconds < limits.leastBytesASecond))
      slow.abort()
  }, 1000)
  try {
    await pipeline(request, counting, createWriteStream(path, { mode: 0o600, flags: 'wx' }), { signal: slow.signal })
    return { bytes, open: () => createReadStream(path), dispose }
  } catch (error) {
    await dispose()
    if (error instanceof Refused) throw error
    throw new Refused(slow.signal.aborted ? 'file_too_slow' : 'file_not_whole')
  } finally {
    clearInterval(pace)
  }
}

const tooLarge = (mostBytes: number): Refused => new Refused('file_too_large', { mostBytes })

/** Files read into the database at the same time by one process: others wait their turn, holding nothing. */
const atOnce = 3
let running = 0
const waiting: (() => void)[] = []

/** Runs `work` once fewer than so many files are being read in. */
export const inTurn = async <Result>(work: () => Promise<Result>): Promise<Result> => {
  // A turn that is handed on stays counted: whoever is woken takes the place of the one who has ended.
  if (running >= atOnce) await new Promise<void>(resolve => waiting.push(resolve))
  else running++
  try {
    return await work()
  } finally {
    const next = waiting.shift()
    if (next) next()
    else running--
  }
}

/** Receives a file, has it read in its turn, and lets it go. */
export const readReceived = async <Result>(
  request: Request,
  read: (body: Readable) => Promise<Result>,
): Promise<Result> => {
  const file = await receiveFile(request)
  try {
    return await inTurn(() => read(file.open()))
  } finally {
    await file.dispose()
  }
}
