import { type AccountPage, type NewTokenBody, type Right, rights } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { Refused } from '../access/refused.ts'
import { hashOf, randomToken } from '../access/secrets.ts'
import { recordPracticeAct } from '../acts/practiceActs.ts'
import { asPerson, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

const readRights = is.by(z.array(z.enum(rights)))
const readClients = is.by(z.array(z.number()))
const iso = (text: string): string => new Date(text).toISOString()

/** One’s own sessions, second factor and tokens. `session`: the one that asks. */
export const loadAccount = async (tx: Transaction, userId: number, session: string | null): Promise<AccountPage> => {
  const { name, email, secondFactor } = await oneRow(
    tx,
    { name: is.text, email: is.text, secondFactor: is.yes },
    sql`SELECT u.name, u.email, coalesce(a."twoFactorEnabled", false) AS "secondFactor" FROM app_user u
      LEFT JOIN auth."user" a ON a."personId" = u.user_id WHERE u.user_id = ${userId}`,
  )
  const sessions = await rowsOf(
    tx,
    { id: is.text, agent: is.text, address: is.text, createdAt: is.text, lastSeen: is.text },
    sql`SELECT s.id, coalesce(s."userAgent", '') AS agent, coalesce(s."ipAddress", '') AS address, s."createdAt"::text AS "createdAt",
      s."updatedAt"::text AS "lastSeen" FROM auth.session s JOIN auth."user" a ON a.id = s."userId"
      WHERE a."personId" = ${userId} AND s."expiresAt" > now() ORDER BY s."updatedAt" DESC`,
  )
  const tokens = await rowsOf(
    tx,
    {
      id: is.whole,
      name: is.text,
      begins: is.text,
      rights: readRights,
      clients: is.maybe(readClients),
      expiresAt: is.text,
      lastUsedAt: is.maybe(is.text),
    },
    sql`SELECT token_id AS id, name, begins, rights, clients, expires_at::text AS "expiresAt", last_used_at::text AS "lastUsedAt"
      FROM access_token WHERE user_id = ${userId} AND withdrawn_at IS NULL AND expires_at > now() ORDER BY token_id DESC`,
  )
  return {
    ...{ name, email, secondFactor },
    sessions: sessions.map(one => ({
      ...one,
      here: one.id === session,
      createdAt: iso(one.createdAt),
      lastSeen: iso(one.lastSeen),
    })),
    tokens: tokens.map(one => ({
      ...one,
      expiresAt: iso(one.expiresAt),
      lastUsedAt: one.lastUsedAt && iso(one.lastUsedAt),
    })),
  }
}

/** Ends a session of one’s own. @throws Refused */
export const endSession = (database: Database, userId: number, session: string): Promise<void> =>
  asPerson(database, userId, async tx => {
    const { rowCount } = await tx.execute(sql`DELETE FROM auth.session s USING auth."user" a
      WHERE s.id = ${session} AND a.id = s."userId" AND a."personId" = ${userId}`)
    if (rowCount === 0) throw new Refused('not_found', { what: 'session' })
    await recordPracticeAct(tx, { sort: 'end_session', by: userId })
  })

/** Ends all sessions of one’s own but one. */
export const endOtherSessions = (database: Database, userId: number, but: string | null): Promise<void> =>
  asPerson(database, userId, async tx => {
    await tx.execute(sql`DELETE FROM auth.session s USING auth."user" a
      WHERE a.id = s."userId" AND a."personId" = ${userId} AND s.id IS DISTINCT FROM ${but}`)
  })

/** Makes a token, told once: what is kept is its hash. It can do no more than its person, whatever it is given. @throws Refused for a client that is not theirs */
export const addToken = (database: Database, userId: number, body: NewTokenBody): Promise<string> =>
  asPerson(database, userId, async tx => {
    const mine = await rowsOf(
      tx,
      { id: is.whole },
      sql`SELECT client_id AS id FROM membership WHERE user_id = ${userId}`,
    )
    const known = new Set(mine.map(one => one.id))
    if (body.clients?.some(id => !known.has(id))) throw new Refused('not_found', { what: 'client' })
    const token = `culvert_${randomToken()}`
    const given: readonly Right[] = [...new Set(body.rights)]
    await tx.execute(sql`INSERT INTO access_token (user_id, name, token_hash, begins, rights, clients, created_at, expires_at)
      VALUES (${userId}, ${body.name}, ${hashOf(token)}, ${token.slice(0, 14)}, ${JSON.stringify(given)}::jsonb,
        ${body.clients === null ? null : JSON.stringify(body.clients)}::jsonb, now(), now() + ${body.days} * interval '1 day')`)
    await recordPracticeAct(tx, {
      sort: 'add_token',
      by: userId,
      note: body.name,
      after: { rights: given.join(' '), clients: body.clients?.join(' ') ?? 'all', days: body.days },
    })
    return token
  })

/** Withdraws a token of one’s own. @throws Refused */
export const withdrawToken = (database: Database, userId: number, token: number): Promise<void> =>
  asPerson(database, userId, async tx => {
    const [gone] = await rowsOf(
      tx,
      { name: is.text },
      sql`UPDATE access_token SET withdrawn_at = now() WHERE token_id = ${token} AND user_id = ${userId} AND withdrawn_at IS NULL RETURNING name`,
    )
    if (!gone) throw new Refused('not_found', { what: 'token' })
    await recordPracticeAct(tx, { sort: 'withdraw_token', by: userId, note: gone.name })
  })
