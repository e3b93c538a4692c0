import { randomUUID } from 'node:crypto'
import { type AcceptBody, type InvitationFacts, type InviteBody, inviteBody, roles } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { hashPassword, type Identity } from '../access/identity.ts'
import { ensurePractice, practiceOf, setRole } from '../access/practice.ts'
import { Refused } from '../access/refused.ts'
import { hashOf, randomToken } from '../access/secrets.ts'
import { recordPracticeAct } from '../acts/practiceActs.ts'
import { asPerson, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { isTriedFirst } from './commonPasswords.ts'

/** How long a link is good for, in days. */
const goodFor = 7
const readClients = is.by(inviteBody.shape.clients.unwrap())

/** Where an invitation is taken: what follows the # is sent to no server and stands in no log. */
const linkOf = (origin: string, token: string): string => `${origin}/invitation#${token}`

/** Invites somebody to the practice of whoever asks. The link is told to them, and sent where letters can be. @throws Refused */
export const invite = async (
  database: Database,
  identity: Identity,
  { userId, body }: { readonly userId: number; readonly body: Required<InviteBody> },
): Promise<{ link: string; mailed: boolean }> => {
  const token = randomToken()
  const { practice, by } = await asPerson(database, userId, async tx => {
    const found = await practiceOf(tx, userId)
    const [taken] = await rowsOf(
      tx,
      {},
      sql`SELECT FROM auth."user" u JOIN practice_person p ON p.user_id = u."personId" AND p.ended_at IS NULL WHERE u.email = ${body.email}`,
    )
    if (taken) throw new Refused('address_taken')
    await refuseForeignClients(
      tx,
      userId,
      body.clients.map(one => one.clientId),
    )
    // One invitation of an address is open: a later one takes its place.
    await tx.execute(sql`UPDATE invitation SET withdrawn_at = now() WHERE practice_id = ${found.practiceId} AND email = ${body.email}
      AND used_at IS NULL AND withdrawn_at IS NULL`)
    await tx.execute(sql`INSERT INTO invitation (practice_id, token_hash, email, role, clients, invited_by, created_at, expires_at)
      VALUES (${found.practiceId}, ${hashOf(token)}, ${body.email}, ${body.role}, ${JSON.stringify(body.clients)}::jsonb, ${userId}, now(),
        now() + ${goodFor} * interval '1 day')`)
    const { name } = await oneRow(tx, { name: is.text }, sql`SELECT name FROM app_user WHERE user_id = ${userId}`)
    await recordPracticeAct(tx, { sort: 'invite', by: userId, note: body.email, after: { role: body.role } })
    return { practice: found.name, by: name }
  })
  const link = linkOf(identity.origin, token)
  const mailed = await identity
    .mail({
      to: body.email,
      subject: `${by} invites you to ${practice} in Culvert`,
      text: `${by} invites you to keep books with ${practice}.\n\n${link}\n\nThe link is good for ${goodFor} days, once. If you do not know ${by}, do nothing.\n`,
    })
    .catch(() => false)
  return { link, mailed }
}

const refuseForeignClients = async (tx: Transaction, userId: number, wanted: readonly number[]): Promise<void> => {
  if (wanted.length === 0) return
  const mine = await rowsOf(
    tx,
    { id: is.whole },
    sql`SELECT client_id AS id FROM membership WHERE user_id = ${userId} AND role = 'owner'`,
  )
  const known = new Set(mine.map(one => one.id))
  if (wanted.some(id => !known.has(id))) throw new Refused('not_found', { what: 'client' })
}

/**
 * A link for the first person, where nobody signs in yet; null where somebody does. Whoever kept books before people signed in takes their place with it.
 * A link made before is good no more.
 */
export const inviteFirst = (database: Database, origin: string): Promise<string | null> =>
  asPerson(database, 0, async tx => {
    await tx.execute(sql`SELECT pg_advisory_xact_lock(hashtext('culvert practice'))`)
    const [someone] = await rowsOf(tx, {}, sql`SELECT FROM auth."user" LIMIT 1`)
    if (someone) return null
    const token = randomToken()
    await tx.execute(
      sql`UPDATE invitation SET withdrawn_at = now() WHERE email IS NULL AND used_at IS NULL AND withdrawn_at IS NULL`,
    )
    await tx.execute(sql`INSERT INTO invitation (practice_id, token_hash, role, user_id, created_at, expires_at)
      SELECT (SELECT min(practice_id) FROM practice), ${hashOf(token)}, 'owner',
        (SELECT min(user_id) FROM practice_person WHERE role = 'owner' AND ended_at IS NULL), now(), now() + interval '1 day'`)
    return linkOf(origin, token)
  })

const invitationShape = {
  id: is.whole,
  practiceId: is.maybe(is.whole),
  practice: is.maybe(is.text),
  email: is.maybe(is.text),
  role: is.oneOf(...roles),
  clients: readClients,
  userId: is.maybe(is.whole),
  invitedBy: is.maybe(is.text),
  inviter: is.maybe(is.whole),
  expiresAt: is.text,
}

const openInvitation = async (tx: Transaction, token: string) => {
  const [row] = await rowsOf(
    tx,
    invitationShape,
    sql`SELECT i.invitation_id AS id, i.practice_id AS "practiceId", p.name AS practice, i.email, i.role, i.clients, i.user_id AS "userId",
      u.name AS "invitedBy", i.invited_by AS inviter, i.expires_at::text AS "expiresAt"
      FROM invitation i LEFT JOIN practice p USING (practice_id) LEFT JOIN app_user u ON u.user_id = i.invited_by
      WHERE i.token_hash = ${hashOf(token)} AND i.used_at IS NULL AND i.withdrawn_at IS NULL AND i.expires_at > now() FOR UPDATE OF i`,
  )
  if (!row) throw new Refused('link_spent')
  return row
}

/** What an invitation is for. @throws Refused where it is good no more */
export const lookAtInvitation = (database: Database, token: string): Promise<InvitationFacts> =>
  asPerson(database, 0, async tx => {
    const { email, practice, role, invitedBy, expiresAt } = await openInvitation(tx, token)
    return { email, practice, role, invitedBy, expiresAt: new Date(expiresAt).toISOString() }
  })

/** Takes an invitation, once: the person is made known, with what they may do and their password, all or nothing. Returns their address. @throws Refused */
export const acceptInvitation = async (database: Database, body: AcceptBody): Promise<string> => {
  const kept = await hashPassword(body.password)
  return asPerson(database, 0, async tx => {
    const found = await openInvitation(tx, body.token)
    const email = found.email ?? body.email
    if (email === undefined || (found.practiceId === null && body.practice === undefined))
      throw new Refused('first_person_tells')
    if (isTriedFirst(body.password, email)) throw new Refused('password_known')
    const [taken] = await rowsOf(tx, {}, sql`SELECT FROM auth."user" WHERE email = ${email}`)
    if (taken) throw new Refused('address_taken')
    const practiceId = found.practiceId ?? (await ensurePractice(tx, body.practice ?? ''))
    if (found.practiceId !== null && found.email === null && body.practice)
      await tx.execute(sql`UPDATE practice SET name = ${body.practice} WHERE practice_id = ${practiceId}`)
    const userId = await personFor(tx, { email, name: body.name, userId: found.userId })
    await setRole(tx, { practiceId, userId, role: found.role, clients: found.clients, by: found.inviter ?? userId })
    await keepPassword(tx, { userId, email, name: body.name, kept })
    await tx.execute(sql`UPDATE invitation SET used_at = now() WHERE invitation_id = ${found.id}`)
    await recordPracticeAct(tx, { sort: 'join', by: userId, note: body.name, after: { role: found.role, email } })
    return email
  })
}

const personFor = async (
  tx: Transaction,
  of: { readonly email: string; readonly name: string; readonly userId: number | null },
): Promise<number> => {
  if (of.userId !== null) {
    await tx.execute(sql`UPDATE app_user SET email = ${of.email}, name = ${of.name} WHERE user_id = ${of.userId}`)
    return of.userId
  }
  // Somebody who had left comes back as who they were: what they did stays theirs.
  const { id } = await oneRow(
    tx,
    { id: is.whole },
    sql`INSERT INTO app_user (email, name) VALUES (${of.email}, ${of.name})
      ON CONFLICT (email) DO UPDATE SET name = excluded.name RETURNING user_id AS id`,
  )
  return id
}

/** What a person signs in by, from now on. */
export const keepPassword = async (
  tx: Transaction,
  of: { readonly userId: number; readonly email: string; readonly name: string; readonly kept: string },
): Promise<void> => {
  const id = randomUUID()
  await tx.execute(sql`INSERT INTO auth."user" (id, name, email, "emailVerified", "personId")
    VALUES (${id}, ${of.name}, ${of.email}, true, ${of.userId})`)
  await tx.execute(sql`INSERT INTO auth.account (id, "accountId", "providerId", "userId", password)
    VALUES (${randomUUID()}, ${id}, 'credential', ${id}, ${of.kept})`)
}

/** Withdraws an invitation of the practice of whoever asks. @throws Refused */
export const withdrawInvitation = (database: Database, userId: number, invitationId: number): Promise<void> =>
  asPerson(database, userId, async tx => {
    const { practiceId } = await practiceOf(tx, userId)
    const [gone] = await rowsOf(
      tx,
      { email: is.maybe(is.text) },
      sql`UPDATE invitation SET withdrawn_at = now() WHERE invitation_id = ${invitationId}
        AND practice_id = ${practiceId} AND used_at IS NULL AND withdrawn_at IS NULL RETURNING email`,
    )
    if (!gone) throw new Refused('not_found', { what: 'invitation' })
    await recordPracticeAct(tx, { sort: 'withdraw_invitation', by: userId, note: gone.email ?? '' })
  })
