import { createHash, createHmac, randomBytes, timingSafeEqual } from 'node:crypto'

/** A secret of one purpose, made from the one that the application is given: who learns one knows none of the others. */
export const secretFor = (secret: string, purpose: string): string =>
  createHmac('sha256', secret).update(purpose).digest('hex')

/** What cannot be guessed: 32 random bytes, as they stand in a link. */
export const randomToken = (): string => randomBytes(32).toString('base64url')

/** What is kept of a token: it is random throughout, so that a plain hash cannot be searched. */
export const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex')

/** Whether two texts are the same, however long that takes to see. */
export const isSameText = (left: string, right: string): boolean => {
  const [one, other] = [left, right].map(text => createHash('sha256').update(text).digest()) as [Buffer, Buffer]
  return timingSafeEqual(one, other)
}
