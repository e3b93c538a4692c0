import { type Role, roles } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { asPerson, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { Refused } from './refused.ts'

/** The practice that a person is of, and as what. @throws Refused where they are of none */
export const practiceOf = async (tx: Transaction, userId: number) => {
  const [row] = await rowsOf(
    tx,
    { practiceId: is.whole, name: is.text, role: is.oneOf(...roles) },
    sql`SELECT p.practice_id AS "practiceId", p.name, m.role FROM practice_person m JOIN practice p USING (practice_id)
      WHERE m.user_id = ${userId} AND m.ended_at IS NULL`,
  )
  if (!row) throw new Refused('not_found', { what: 'practice' })
  return row
}

/** Goes on in a transaction as of one client. */
export const enterClient = async (tx: Transaction, clientId: number | null): Promise<void> => {
  await tx.execute(sql`SELECT set_config('app.client', ${clientId === null ? '' : String(clientId)}, true)`)
}

const setMembership = async (
  tx: Transaction,
  of: { readonly clientId: number; readonly userId: number; readonly role: Role | null },
): Promise<void> => {
  await enterClient(tx, of.clientId)
  await (of.role === null
    ? tx.execute(sql`DELETE FROM membership WHERE client_id = ${of.clientId} AND user_id = ${of.userId}`)
    : tx.execute(sql`INSERT INTO membership (client_id, user_id, role) VALUES (${of.clientId}, ${of.userId}, ${of.role})
      ON CONFLICT (client_id, user_id) DO UPDATE SET role = excluded.role`))
  await enterClient(tx, null)
}

/** Gives a client that was just taken on the people who are of it from the start: whoever took it on, and the owners of the practice. */
export const joinNewClient = async (
  tx: Transaction,
  { clientId, userId }: { readonly clientId: number; readonly userId: number },
): Promise<void> => {
  const people = await rowsOf(
    tx,
    { userId: is.whole, role: is.oneOf(...roles) },
    sql`SELECT m.user_id AS "userId", m.role FROM practice_person m WHERE m.ended_at IS NULL
      AND m.practice_id = (SELECT practice_id FROM practice_person WHERE user_id = ${userId} AND ended_at IS NULL)
      AND (m.role = 'owner' OR m.user_id = ${userId})`,
  )
  for (const one of people)
    await tx.execute(
      sql`INSERT INTO membership (client_id, user_id, role) VALUES (${clientId}, ${one.userId}, ${one.role})`,
    )
}

/** Says what a person is of the practice, and of its clients; an owner is one of all of them. `by`: an owner, whose clients are all there are. */
export const setRole = async (
  tx: Transaction,
  of: {
    readonly practiceId: number
    readonly userId: number
    readonly role: Role
    readonly clients: readonly { readonly clientId: number; readonly role: Role }[]
    readonly by: number
  },
): Promise<void> => {
  await tx.execute(sql`INSERT INTO practice_person (practice_id, user_id, role) VALUES (${of.practiceId}, ${of.userId}, ${of.role})
    ON CONFLICT (practice_id, user_id) DO UPDATE SET role = excluded.role, ended_at = NULL`)
  for (const { clientId, role } of await clientsOf(tx, of.by)) {
    if (role !== 'owner') continue
    const wanted = of.role === 'owner' ? 'owner' : (of.clients.find(one => one.clientId === clientId)?.role ?? null)
    await setMembership(tx, { clientId, userId: of.userId, role: wanted })
  }
}

/** The clients that a person is of, and as what. */
const clientsOf = async (tx: Transaction, userId: number) => {
  await tx.execute(sql`SELECT set_config('app.user', ${String(userId)}, true)`)
  return rowsOf(
    tx,
    { clientId: is.whole, role: is.oneOf(...roles) },
    sql`SELECT client_id AS "clientId", role FROM membership WHERE user_id = ${userId} ORDER BY client_id`,
  )
}

/** Whoever founds a practice, or the one that is. One database keeps one. */
export const ensurePractice = async (tx: Transaction, name: string): Promise<number> => {
  await tx.execute(sql`SELECT pg_advisory_xact_lock(hashtext('culvert practice'))`)
  await tx.execute(sql`INSERT INTO practice (name) SELECT ${name} WHERE NOT EXISTS (SELECT FROM practice)`)
  return (await oneRow(tx, { id: is.whole }, sql`SELECT min(practice_id) AS id FROM practice`)).id
}

/** Makes a person known by their address, and of the practice. Returns their id. */
export const ensurePerson = (
  database: Database,
  person: { readonly email: string; readonly name: string; readonly role?: Role; readonly practice?: string },
): Promise<number> =>
  asPerson(database, 0, async tx => {
    const practiceId = await ensurePractice(tx, person.practice ?? 'Practice')
    await tx.execute(
      sql`INSERT INTO app_user (email, name) VALUES (${person.email}, ${person.name}) ON CONFLICT DO NOTHING`,
    )
    const { id } = await oneRow(
      tx,
      { id: is.whole },
      sql`SELECT user_id AS id FROM app_user WHERE email = ${person.email}`,
    )
    await tx.execute(sql`INSERT INTO practice_person (practice_id, user_id, role) VALUES (${practiceId}, ${id}, ${person.role ?? 'owner'})
      ON CONFLICT DO NOTHING`)
    return id
  })
