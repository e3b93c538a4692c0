import type { Readable } from 'node:stream'
import iconv from 'iconv-lite'

/** Encodings that somebody can say a file without a mark is in, by the names that people know. */
export const encodings = [
  'utf-8',
  'windows-1252',
  'iso-8859-1',
  'iso-8859-15',
  'windows-1250',
  'utf-16le',
  'utf-16be',
] as const
export type Encoding = (typeof encodings)[number]

const marks: readonly (readonly [Encoding, readonly number[]])[] = [
  ['utf-8', [0xef, 0xbb, 0xbf]],
  ['utf-16le', [0xff, 0xfe]],
  ['utf-16be', [0xfe, 0xff]],
]

/** The encoding that a file's byte order mark says; null without one. */
export const markedEncoding = (start: Buffer): Encoding | null =>
  marks.find(([, bytes]) => bytes.every((byte, at) => start[at] === byte))?.[0] ?? null

/** A stream in another encoding as UTF-8. A byte that stands for nothing becomes U+FFFD, as which it is refused. */
export const asUtf8 = (body: Readable, encoding: string): Readable =>
  body.pipe(iconv.decodeStream(encoding)).pipe(iconv.encodeStream('utf8', { addBOM: false })) as unknown as Readable

/** True for a name that `asUtf8` takes. */
export const isEncoding = (name: string): name is Encoding => (encodings as readonly string[]).includes(name)

/** The first bytes of a file as text in an encoding, for somebody to see whether it is the right one. */
export const textIn = (bytes: Buffer, encoding: string): string => iconv.decode(bytes, encoding)
