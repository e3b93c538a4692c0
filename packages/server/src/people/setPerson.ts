import type { PersonBody } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { practiceOf, setRole } from '../access/practice.ts'
import { Refused } from '../access/refused.ts'
import { recordPracticeAct } from '../acts/practiceActs.ts'
import { asPerson, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

/** Locks who is of a practice, and gives the one that is asked about. @throws Refused */
export const lockPerson = async (tx: Transaction, of: { readonly userId: number; readonly person: number }) => {
  const { practiceId } = await practiceOf(tx, of.userId)
  const people = await rowsOf(
    tx,
    { userId: is.whole, role: is.text },
    sql`SELECT user_id AS "userId", role FROM practice_person WHERE practice_id = ${practiceId} AND ended_at IS NULL
      ORDER BY user_id FOR UPDATE`,
  )
  const found = people.find(one => one.userId === of.person)
  if (!found) throw new Refused('not_found', { what: 'person' })
  if (of.person === of.userId) throw new Refused('not_oneself')
  // Who asks may have ceased to be an owner since: two who demote each other leave one.
  if (people.find(one => one.userId === of.userId)?.role !== 'owner')
    throw new Refused('may_not', { right: 'people', role: null })
  return { practiceId, found }
}

/** A person as what an act is about. */
export const aboutPerson = (person: number) => ({ subject: 'person', key: String(person) }) as const

/** The name of a person, as it is now. */
export const nameOf = async (tx: Transaction, person: number): Promise<string> =>
  (await oneRow(tx, { name: is.text }, sql`SELECT name FROM app_user WHERE user_id = ${person}`)).name

/** What somebody may do of which clients, in words. */
const clientsText = async (
  tx: Transaction,
  { userId, body }: { readonly userId: number; readonly body: PersonBody },
): Promise<string> => {
  await tx.execute(sql`SELECT set_config('app.user', ${String(userId)}, true)`)
  const names = await rowsOf(tx, { id: is.whole, name: is.text }, sql`SELECT client_id AS id, name FROM client`)
  const byId = new Map(names.map(one => [one.id, one.name]))
  return body.clients.map(one => `${byId.get(one.clientId) ?? one.clientId}: ${one.role}`).join(', ')
}

/** Says what somebody may do, of the practice and of each of its clients. @throws Refused */
export const setPerson = (
  database: Database,
  of: { readonly userId: number; readonly person: number; readonly body: PersonBody },
): Promise<void> =>
  asPerson(database, of.userId, async tx => {
    const { practiceId, found } = await lockPerson(tx, of)
    await setRole(tx, { practiceId, userId: of.person, role: of.body.role, clients: of.body.clients, by: of.userId })
    await recordPracticeAct(tx, {
      sort: 'set_person',
      by: of.userId,
      ...aboutPerson(of.person),
      note: await nameOf(tx, of.person),
      before: { role: found.role },
      after: { role: of.body.role, clients: await clientsText(tx, of) },
    })
  })

/** Lets somebody go: they are of no client any more, signed out everywhere, and their tokens and invitations end. @throws Refused */
export const removePerson = (
  database: Database,
  of: { readonly userId: number; readonly person: number },
): Promise<void> =>
  asPerson(database, of.userId, async tx => {
    const { practiceId, found } = await lockPerson(tx, of)
    await setRole(tx, { practiceId, userId: of.person, role: 'guest', clients: [], by: of.userId })
    await tx.execute(
      sql`UPDATE practice_person SET ended_at = now() WHERE practice_id = ${practiceId} AND user_id = ${of.person}`,
    )
    await tx.execute(
      sql`UPDATE access_token SET withdrawn_at = now() WHERE user_id = ${of.person} AND withdrawn_at IS NULL`,
    )
    await tx.execute(
      sql`UPDATE invitation SET withdrawn_at = now() WHERE invited_by = ${of.person} AND used_at IS NULL AND withdrawn_at IS NULL`,
    )
    // Their address may be invited anew; what they signed in by is gone, sessions and second factor with it.
    await tx.execute(sql`DELETE FROM auth."user" WHERE "personId" = ${of.person}`)
    await recordPracticeAct(tx, {
      sort: 'remove_person',
      by: of.userId,
      ...aboutPerson(of.person),
      note: await nameOf(tx, of.person),
      before: { role: found.role },
    })
  })
