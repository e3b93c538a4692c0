import type { NextFunction, Request, Response } from 'express'
import { Refused } from './refused.ts'

/** Texts that no database column can hold: with a NUL, or half of a pair of signs. */
const isStorable = (text: string): boolean => !text.includes('\0') && !/\p{Surrogate}/u.test(text)

const mostDepth = 30

/** The way to the first text that cannot be stored, or to what is nested too deep; null where all can. */
const unstorable = (value: unknown, path: string, depth: number): string | null => {
  if (typeof value === 'string') return isStorable(value) ? null : path
  if (value === null || typeof value !== 'object') return null
  if (depth > mostDepth) return path
  for (const [name, part] of Object.entries(value)) {
    const found = isStorable(name)
      ? unstorable(part, path === '' ? name : `${path}.${name}`, depth + 1)
      : path || 'a name'
    if (found !== null) return found
  }
  return null
}

/** Refuses requests with texts that cannot be stored, naming the field, before anything is done with them. */
export const refuseUnstorable = (request: Request, _response: Response, next: NextFunction): void => {
  let address = ''
  try {
    address = decodeURIComponent(request.path)
  } catch {
    throw new Refused('address_unreadable')
  }
  const found = isStorable(address)
    ? (unstorable(request.query, 'query', 0) ?? unstorable(request.body, '', 0))
    : 'the address'
  if (found !== null) throw new Refused('text_unstorable', { field: found })
  next()
}
