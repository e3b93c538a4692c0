import { type Course, type Role, rightsOfRole, roles, type Session, stageNames } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { practiceOf } from './practice.ts'

const facts = sql`c.client_id AS "clientId", c.name, c.base, c.time_zone AS "timeZone", c.locale, c.archived_at::text AS "archivedAt", m.role`

const withRights = <Facts extends { readonly role: Role }>(facts: Facts) => ({
  ...facts,
  rights: [...rightsOfRole[facts.role]],
})

/** Who is signed in, and their clients with what waits at each stage. */
export const loadSession = async (tx: Transaction, userId: number): Promise<Session> => {
  const practice = await practiceOf(tx, userId)
  const user = await oneRow(
    tx,
    { name: is.text, email: is.text },
    sql`SELECT name, email FROM app_user WHERE user_id = ${userId}`,
  )
  const clients = await rowsOf(
    tx,
    {
      clientId: is.whole,
      name: is.text,
      base: is.text,
      timeZone: is.text,
      locale: is.text,
      archivedAt: is.maybe(is.text),
      role: is.oneOf(...roles),
      stages: is.list(
        is.record({ stage: is.oneOf(...stageNames), waiting: is.whole, amount: is.minor, note: is.text }),
      ),
    },
    sql`
    SELECT ${facts}, (SELECT coalesce(json_agg(json_build_object('stage', s.stage, 'waiting', s.waiting, 'amount', s.amount, 'note', s.note)), '[]')
      FROM client_summary s WHERE s.client_id = c.client_id) AS stages
    FROM client c JOIN membership m ON m.client_id = c.client_id AND m.user_id = ${userId} ORDER BY c.name`,
  )
  return {
    user,
    practice: { name: practice.name, role: practice.role, rights: [...rightsOfRole[practice.role]] },
    clients: clients.map(withRights),
  }
}

/** Clients of the person in which something is to be counted anew. */
export const staleClients = async (tx: Transaction): Promise<number[]> =>
  (
    await rowsOf(
      tx,
      { id: is.whole },
      sql`SELECT DISTINCT client_id AS id FROM client_summary WHERE stale ORDER BY client_id`,
    )
  ).map(row => row.id)

/** The course of one client. */
export const loadCourse = async (tx: Transaction, userId: number): Promise<Omit<Course, 'asked'>> => {
  const row = await oneRow(
    tx,
    {
      clientId: is.whole,
      name: is.text,
      base: is.text,
      timeZone: is.text,
      locale: is.text,
      archivedAt: is.maybe(is.text),
      role: is.oneOf(...roles),
      stages: is.list(
        is.record({ stage: is.oneOf(...stageNames), waiting: is.whole, amount: is.minor, note: is.text }),
      ),
      latest: is.maybe(is.text),
      earliest: is.maybe(is.text),
      pulledTo: is.maybe(is.text),
    },
    sql`
    SELECT ${facts}, (SELECT coalesce(json_agg(json_build_object('stage', s.stage, 'waiting', s.waiting, 'amount', s.amount, 'note', s.note)), '[]')
      FROM client_summary s WHERE s.client_id = c.client_id) AS stages,
      greatest((SELECT max(last_date) FROM settlement WHERE client_id = c.client_id),
        (SELECT max(date) FROM bank_line WHERE client_id = c.client_id))::text AS latest,
      least((SELECT min(first_date) FROM settlement WHERE client_id = c.client_id),
        (SELECT min(date) FROM bank_line WHERE client_id = c.client_id))::text AS earliest,
      (SELECT max(pulled_to) FROM source WHERE client_id = c.client_id) AS "pulledTo"
    FROM client c JOIN membership m ON m.client_id = c.client_id AND m.user_id = ${userId} WHERE c.client_id = current_client()`,
  )
  const { stages, latest, earliest, pulledTo, ...client } = row
  return { client: withRights(client), stages, latest, earliest, pulledTo }
}
