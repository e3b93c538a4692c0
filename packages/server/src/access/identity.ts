import { type Right, rights } from '@culvert/contract'
import { hash, verify } from '@node-rs/argon2'
import { betterAuth } from 'better-auth'
import { fromNodeHeaders } from 'better-auth/node'
import { twoFactor } from 'better-auth/plugins'
import { sql } from 'drizzle-orm'
import type { Request, Response } from 'express'
import pg from 'pg'
import { z } from 'zod'
import { asPerson, type Database, type Report, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { Mail } from './mail.ts'
import { hashOf, secretFor } from './secrets.ts'
import { countTries, type Tries } from './tries.ts'
import type { Signed, Who } from './who.ts'

const hour = 60 * 60
/** A session ends when nothing was asked for so long, in seconds … */
const idleSeconds = 12 * hour
/** … and at last, however much was asked. */
const longestSeconds = 30 * 24 * hour

/** OWASP’s smallest for argon2id: 19 MiB, two passes, one lane; the package’s default algorithm is argon2id. */
const argon = { memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const

/** Makes what is kept of a password. */
export const hashPassword = (password: string): Promise<string> => hash(password, argon)

export interface IdentityParts {
  readonly database: Database
  /** The application’s own connection. */
  readonly url: string
  readonly secret: string
  /** Where people reach the application, without a path. */
  readonly origin: string
  readonly mail: Mail
  readonly report: Report
}

/**
 * How cookies are named and kept: of this host alone, and over nothing that could be read on the way. Browsers keep no such cookie of a plain connection, so
 * that on one’s own machine, where nothing goes over a wire, they bear a plain name.
 */
export const cookiesOf = (origin: string) => {
  const secure = origin.startsWith('https:')
  return {
    prefix: secure ? '__Host-culvert' : 'culvert',
    attributes: { httpOnly: true, secure, sameSite: 'lax', path: '/' } as const,
  }
}

const makeAuth = ({ pool, parts }: { pool: pg.Pool; parts: IdentityParts }) =>
  betterAuth({
    appName: 'Culvert',
    baseURL: parts.origin,
    secret: secretFor(parts.secret, 'sessions'),
    database: pool,
    telemetry: { enabled: false },
    logger: { disabled: true },
    // Tries are counted by our own limits, which know browsers that signed in before.
    rateLimit: { enabled: false },
    emailAndPassword: {
      enabled: true,
      disableSignUp: true,
      minPasswordLength: 12,
      maxPasswordLength: 128,
      password: { hash: hashPassword, verify: ({ hash: kept, password }) => verify(kept, password) },
      revokeSessionsOnPasswordReset: true,
      resetPasswordTokenExpiresIn: hour,
      sendResetPassword: async ({ user, token }) => {
        await parts.mail({
          to: user.email,
          subject: 'A new password for Culvert',
          text: `Somebody, most likely you, asked for a new password.\n\n${parts.origin}/password#${token}\n\nThe link is good for an hour, once. If it was not you, do nothing: your password stays as it is.\n`,
        })
      },
    },
    user: { additionalFields: { personId: { type: 'number', required: true, input: false } } },
    session: { expiresIn: idleSeconds, updateAge: 15 * 60, cookieCache: { enabled: false } },
    plugins: [twoFactor({ issuer: 'Culvert', skipVerificationOnEnable: false })],
    advanced: {
      cookiePrefix: cookiesOf(parts.origin).prefix,
      useSecureCookies: false,
      defaultCookieAttributes: cookiesOf(parts.origin).attributes,
      ipAddress: { disableIpTracking: true },
    },
  })

export type Auth = ReturnType<typeof makeAuth>

/** Who signs in: the package that knows passwords, second factors and sessions, and what was tried. */
export interface Identity {
  readonly database: Database
  readonly auth: Auth
  readonly tries: Tries
  readonly who: Who
  readonly origin: string
  readonly mail: Mail
  /** @throws what keeps the database from answering */
  reach(): Promise<void>
  stop(): Promise<void>
}

export const startIdentity = (parts: IdentityParts): Identity => {
  const pool = new pg.Pool({
    connectionString: parts.url,
    max: 4,
    idleTimeoutMillis: 10_000,
    connectionTimeoutMillis: 15_000,
    options: '-c search_path=auth',
  })
  pool.on('error', error => parts.report(error, 'an idle connection for signing in'))
  const auth = makeAuth({ pool, parts })
  // What the package says of a database that is away tells nothing of it: it is asked itself.
  const reach = async (): Promise<void> => {
    await pool.query('SELECT 1')
  }
  return {
    database: parts.database,
    auth,
    tries: countTries(pool, secretFor(parts.secret, 'tries')),
    // Whoever brings a token asks as that and as nothing else: no cookie that came along is looked at.
    who: async (request, response) =>
      request.headers.authorization === undefined
        ? bySession(auth, cookiesOf(parts.origin).prefix, [request, response]).catch(async (error: unknown) => {
            await reach()
            throw error
          })
        : byToken(parts.database, request),
    reach,
    origin: parts.origin,
    mail: parts.mail,
    stop: () => pool.end(),
  }
}

/** Hands cookies that the package sets on to the browser. */
export const passCookies = (from: Headers, response: Response): void => {
  for (const cookie of from.getSetCookie()) response.append('set-cookie', cookie)
}

const bySession = async (
  auth: Auth,
  prefix: string,
  [request, response]: readonly [Request, Response],
): Promise<Signed | null> => {
  if (!request.headers.cookie?.includes(`${prefix}.session`)) return null
  const { headers, response: found } = await auth.api.getSession({
    headers: fromNodeHeaders(request.headers),
    returnHeaders: true,
  })
  passCookies(headers, response)
  if (!found) return null
  if (Date.now() - new Date(found.session.createdAt).getTime() > longestSeconds * 1000) {
    const ended = await auth.api.signOut({ headers: fromNodeHeaders(request.headers), returnHeaders: true })
    passCookies(ended.headers, response)
    return null
  }
  return { userId: found.user.personId, session: found.session.id, narrowed: null }
}

const tokenRights = z.array(z.enum(rights))
const tokenClients = z.array(z.number())

const byToken = async (database: Database, request: Request): Promise<Signed | null> => {
  const [, token] = /^Bearer ([\w-]{20,200})$/.exec(request.headers.authorization ?? '') ?? []
  if (token === undefined) return null
  const [row] = await asPerson(database, 0, tx =>
    rowsOf(
      tx,
      { id: is.whole, user: is.whole, rights: is.by(tokenRights), clients: is.maybe(is.by(tokenClients)) },
      sql`
      WITH used AS (UPDATE access_token SET last_used_at = now() WHERE token_hash = ${hashOf(token)} AND withdrawn_at IS NULL AND expires_at > now()
        AND (last_used_at IS NULL OR last_used_at < now() - interval '1 minute'))
      SELECT t.token_id AS id, t.user_id AS "user", t.rights, t.clients FROM access_token t
      WHERE t.token_hash = ${hashOf(token)} AND t.withdrawn_at IS NULL AND t.expires_at > now()
        AND EXISTS (SELECT FROM practice_person p WHERE p.user_id = t.user_id AND p.ended_at IS NULL)`,
    ),
  )
  if (!row) return null
  return {
    userId: row.user,
    session: null,
    narrowed: { rights: new Set<Right>(row.rights), clients: row.clients && new Set(row.clients) },
  }
}
