import type { Request, Response } from 'express'
import { clockNow } from '../database/connect.ts'
import { cookiesOf } from './identity.ts'
import { hashOf, isSameText, randomToken } from './secrets.ts'

/** Whoever comes by a link: what they brought along, and where the application is reached. */
export interface Visitor {
  readonly request: Request
  readonly response: Response
  readonly origin: string
}

/** What a link is for, and the hash of its token. */
export interface LinkName {
  readonly purpose: 'question' | 'grant'
  readonly link: string
}

const cookieName = ({ origin }: Visitor, { purpose, link }: LinkName): string =>
  `${cookiesOf(origin).prefix}.${purpose}.${link.slice(0, 16)}`

/** Whether this browser is the one that a link was bound to; `bound` is the hash that is kept of it. */
export const isBoundTo = (visitor: Visitor, name: LinkName, bound: string): boolean => {
  const cookie = cookieName(visitor, name)
  const kept = visitor.request.headers.cookie?.split('; ').find(one => one.startsWith(`${cookie}=`))
  return kept !== undefined && isSameText(hashOf(kept.slice(cookie.length + 1)), bound)
}

/** What binds a browser to a link: the hash is to be kept, and `give` sets the cookie once that is certain. */
export const freshBinding = (
  visitor: Visitor,
  name: LinkName,
): { readonly hash: string; give(until: string): void } => {
  const secret = randomToken()
  return {
    hash: hashOf(secret),
    give: until => {
      visitor.response.cookie(cookieName(visitor, name), secret, {
        ...cookiesOf(visitor.origin).attributes,
        maxAge: Date.parse(until) - clockNow().getTime(),
      })
    },
  }
}
