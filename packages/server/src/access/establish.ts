import { sql } from 'drizzle-orm'
import type { NextFunction, Request, Response } from 'express'
import { type Actor, asPerson, type Database, rowsOf } from '../database/connect.ts'
import { Refused } from './refused.ts'

/** Who acts when nobody signs in yet: the person whose desk this machine is. */
export interface Person {
  readonly userId: number
}

const allowedHosts = new Set(['127.0.0.1', 'localhost', '[::1]'])

/**
 * The one place that establishes the user and the client of a request. Only this machine's own pages may ask: another
 * site's page could reach a loopback address too, but cannot name its host, nor send our header without being allowed.
 */
export const establishPerson =
  (person: Person) =>
  (request: Request, response: Response, next: NextFunction): void => {
    const host = (request.headers.host ?? '').replace(/:\d+$/, '')
    if (!allowedHosts.has(host)) throw new Refused('host_unknown')
    if (request.method !== 'GET' && request.method !== 'HEAD' && request.headers['x-culvert'] === undefined)
      throw new Refused('foreign_page')
    response.locals.userId = person.userId
    next()
  }

/** Establishes the client named in the path, of which the person must be a member. */
export const establishClient =
  (database: Database) =>
  async (request: Request, response: Response, next: NextFunction): Promise<void> => {
    const clientId = Number(request.params.client)
    const userId = response.locals.userId as number
    const [member] =
      Number.isSafeInteger(clientId) && clientId > 0 && clientId < 2 ** 31
        ? await asPerson(database, userId, tx =>
            rowsOf(tx, {}, sql`SELECT FROM membership WHERE user_id = ${userId} AND client_id = ${clientId}`),
          )
        : []
    if (!member) throw new Refused('not_found', { what: 'client' })
    response.locals.actor = { userId, clientId } satisfies Actor
    next()
  }

/** The user and client that this request runs under. */
export const actorOf = (response: Response): Actor => response.locals.actor as Actor
export const userOf = (response: Response): number => response.locals.userId as number
