import { type Right, type Role, rightsOfRole, roles } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import type { NextFunction, Request, RequestHandler, Response } from 'express'
import { type Actor, asPerson, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { Refused } from './refused.ts'
import type { Signed, Who } from './who.ts'

/** Hosts under which the application answers, without ports. */
export const hostsOf = (origin: string): ReadonlySet<string> =>
  new Set(['127.0.0.1', 'localhost', '[::1]', new URL(origin).hostname])

const changes = (request: Request): boolean => request.method !== 'GET' && request.method !== 'HEAD'

/**
 * The one place that establishes who asks. Only our own pages may: another site's page could reach a loopback address too, or one that it lets its own name
 * point to, but cannot name its host, nor change anything from its own origin. A program that brings a token has no pages.
 */
export const establishPerson = (who: Who, hosts: ReadonlySet<string>) => {
  const refuseForeign = (request: Request): void => {
    const host = (request.headers.host ?? '').replace(/:\d+$/, '')
    if (!hosts.has(host)) throw new Refused('host_unknown')
    if (!changes(request) || request.headers.authorization !== undefined) return
    const { origin } = request.headers
    if (request.headers['x-culvert'] === undefined || (origin !== undefined && !isSameOrigin(origin, request)))
      throw new Refused('foreign_page')
  }
  return async (request: Request, response: Response, next: NextFunction): Promise<void> => {
    refuseForeign(request)
    response.locals.signed = await who(request, response)
    next()
  }
}

const isSameOrigin = (origin: string, request: Request): boolean => {
  try {
    return new URL(origin).host === request.headers.host
  } catch {
    return false
  }
}

/** Establishes the client named in the path, and what the person is of it. */
export const establishClient =
  (database: Database) =>
  async (request: Request, response: Response, next: NextFunction): Promise<void> => {
    const { userId, narrowed } = signedOf(response)
    const clientId = Number(request.params.client)
    const isOne = Number.isSafeInteger(clientId) && clientId > 0 && clientId < 2 ** 31
    const [member] =
      isOne && (narrowed?.clients ?? null)?.has(clientId) !== false
        ? await asPerson(database, userId, tx =>
            rowsOf(
              tx,
              { role: is.oneOf(...roles), archived: is.yes },
              sql`SELECT m.role, c.archived_at IS NOT NULL AS archived FROM membership m JOIN client c USING (client_id)
                WHERE m.user_id = ${userId} AND m.client_id = ${clientId}`,
            ),
          )
        : []
    if (!member) throw new Refused('not_found', { what: 'client' })
    response.locals.actor = { userId, clientId } satisfies Actor
    response.locals.role = member.role
    response.locals.archived = member.archived
    next()
  }

/** What the person is of the practice; a guest's, or nobody's, is none of it. */
const practiceRole = async (database: Database, userId: number): Promise<Role | null> => {
  const [row] = await asPerson(database, userId, tx =>
    rowsOf(
      tx,
      { role: is.oneOf(...roles) },
      sql`SELECT role FROM practice_person WHERE user_id = ${userId} AND ended_at IS NULL`,
    ),
  )
  return row?.role ?? null
}

/** Establishes what the person is beside all clients. */
export const establishPractice =
  (database: Database) =>
  async (_request: Request, response: Response, next: NextFunction): Promise<void> => {
    const signed = response.locals.signed as Signed | null
    response.locals.role = signed ? await practiceRole(database, signed.userId) : null
    next()
  }

/** Lets through who may do what an endpoint needs, before anything that was sent along is read. */
export const allow =
  (right: Right): RequestHandler =>
  (_request, response, next) => {
    if (right === 'anyone') return next()
    const { narrowed } = signedOf(response)
    const role = response.locals.role as Role | null
    if (role === null || !rightsOfRole[role].has(right)) throw new Refused('may_not', { right, role })
    // What is a person's own, and who is of the practice, no token reaches; what is open to all who are signed in, each does.
    if (narrowed && right !== 'enter' && !narrowed.rights.has(right)) throw new Refused('token_may_not', { right })
    next()
  }

/** Lets no change through to a client whose books are only read, unless it is meant for one. */
export const refuseArchived =
  ({ method, whenArchived }: { readonly method: string; readonly whenArchived: boolean }): RequestHandler =>
  (_request, response, next) => {
    if (method !== 'GET' && !whenArchived && response.locals.archived === true) throw new Refused('client_archived')
    next()
  }

/** Who asks. @throws Refused 401 where nobody is signed in */
export const signedOf = (response: Response): Signed => {
  const signed = response.locals.signed as Signed | null
  if (!signed) throw new Refused('not_signed_in')
  return signed
}

/** The user and client that this request runs under. */
export const actorOf = (response: Response): Actor => response.locals.actor as Actor
