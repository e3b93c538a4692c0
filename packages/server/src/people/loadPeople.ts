import { type PeoplePage, role, roles } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { practiceOf } from '../access/practice.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

const readClients = is.by(z.array(z.object({ clientId: z.number(), role: role.exclude(['owner']) })))
const isoOf = (text: string | null): string | null => (text === null ? null : new Date(text).toISOString())

/** Who is of a practice, what they may do of each client, and who is invited. For its owners, who are of all its clients. */
export const loadPeople = async (tx: Transaction, userId: number): Promise<PeoplePage> => {
  const { practiceId, name } = await practiceOf(tx, userId)
  const people = await rowsOf(
    tx,
    {
      id: is.whole,
      name: is.text,
      email: is.text,
      role: is.oneOf(...roles),
      secondFactor: is.yes,
      factorEndsAt: is.maybe(is.text),
      lastSeen: is.maybe(is.text),
      endedAt: is.maybe(is.text),
    },
    sql`SELECT u.user_id AS id, u.name, u.email, m.role, coalesce(a."twoFactorEnabled", false) AS "secondFactor", m.ended_at::text AS "endedAt",
      m.factor_ends_at::text AS "factorEndsAt",
      (SELECT max(s."updatedAt")::text FROM auth.session s WHERE s."userId" = a.id) AS "lastSeen"
      FROM practice_person m JOIN app_user u USING (user_id) LEFT JOIN auth."user" a ON a."personId" = u.user_id
      WHERE m.practice_id = ${practiceId} ORDER BY m.ended_at NULLS FIRST, u.name`,
  )
  const clients = await rowsOf(
    tx,
    { clientId: is.whole, name: is.text },
    sql`SELECT c.client_id AS "clientId", c.name FROM client c JOIN membership m USING (client_id)
      WHERE m.user_id = ${userId} AND m.role = 'owner' ORDER BY c.name`,
  )
  const memberships = new Map<number, { clientId: number; role: (typeof roles)[number] }[]>()
  for (const { clientId } of clients) {
    await tx.execute(sql`SELECT set_config('app.client', ${String(clientId)}, true)`)
    const members = await rowsOf(
      tx,
      { userId: is.whole, role: is.oneOf(...roles) },
      sql`SELECT user_id AS "userId", role FROM membership WHERE client_id = ${clientId}`,
    )
    for (const one of members)
      memberships.set(one.userId, [...(memberships.get(one.userId) ?? []), { clientId, role: one.role }])
  }
  const invitations = await rowsOf(
    tx,
    {
      id: is.whole,
      email: is.text,
      role: is.oneOf(...roles),
      clients: readClients,
      invitedBy: is.text,
      createdAt: is.text,
      expiresAt: is.text,
    },
    sql`SELECT i.invitation_id AS id, i.email, i.role, i.clients, coalesce(u.name, '') AS "invitedBy", i.created_at::text AS "createdAt",
      i.expires_at::text AS "expiresAt" FROM invitation i LEFT JOIN app_user u ON u.user_id = i.invited_by
      WHERE i.practice_id = ${practiceId} AND i.email IS NOT NULL AND i.used_at IS NULL AND i.withdrawn_at IS NULL AND i.expires_at > now()
      ORDER BY i.created_at DESC`,
  )
  return {
    practice: name,
    people: people.map(one => ({
      ...one,
      clients: memberships.get(one.id) ?? [],
      factorEndsAt: isoOf(one.factorEndsAt),
      lastSeen: isoOf(one.lastSeen),
      endedAt: isoOf(one.endedAt),
    })),
    clients,
    invitations: invitations.map(one => ({
      ...one,
      createdAt: isoOf(one.createdAt) ?? '',
      expiresAt: isoOf(one.expiresAt) ?? '',
    })),
  }
}
