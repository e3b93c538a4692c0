import { sql } from 'drizzle-orm'
import type { Mail } from '../access/mail.ts'
import { recordPracticeAct } from '../acts/practiceActs.ts'
import { asPerson, type Database, oneRow, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { aboutPerson, lockPerson, nameOf } from './setPerson.ts'

/** How long it takes: whoever was not asked has so long to notice. */
const hours = 24

/** Says that somebody lost their second factor: in a day it is asked for no more. They are told by letter. @throws Refused */
export const endFactorOf = async (
  database: Database,
  mail: Mail,
  of: { readonly userId: number; readonly person: number },
): Promise<{ at: string }> => {
  const { at, email, by } = await asPerson(database, of.userId, async tx => {
    const { practiceId } = await lockPerson(tx, of)
    const told = await oneRow(
      tx,
      { at: is.text, email: is.text, by: is.text },
      sql`UPDATE practice_person m SET factor_ends_at = now() + ${hours} * interval '1 hour'
        FROM app_user u WHERE m.practice_id = ${practiceId} AND m.user_id = ${of.person} AND u.user_id = m.user_id
        RETURNING m.factor_ends_at::text AS at, u.email, (SELECT name FROM app_user WHERE user_id = ${of.userId}) AS by`,
    )
    await recordPracticeAct(tx, { sort: 'end_factor', by: of.userId, ...aboutPerson(of.person), note: told.email })
    return told
  })
  await mail({
    to: email,
    subject: 'Your second factor for Culvert ends in a day',
    text: `${by} says that you lost your second factor. In ${hours} hours your password alone lets you in, until you set up a new one.\n\nIf you did not lose it, sign in with it: then it stays.\n`,
  }).catch(() => false)
  return { at: new Date(at).toISOString() }
}

/** Takes it back. @throws Refused */
export const keepFactorOf = (
  database: Database,
  of: { readonly userId: number; readonly person: number },
): Promise<void> =>
  asPerson(database, of.userId, async tx => {
    await lockPerson(tx, of)
    await keepFactor(tx, of.person)
    await recordPracticeAct(tx, {
      sort: 'keep_factor',
      by: of.userId,
      ...aboutPerson(of.person),
      note: await nameOf(tx, of.person),
    })
  })

type Executing = Pick<Parameters<typeof rowsOf>[0], 'execute'>

const keepFactor = async (tx: Executing, userId: number): Promise<void> => {
  await tx.execute(
    sql`UPDATE practice_person SET factor_ends_at = NULL WHERE user_id = ${userId} AND factor_ends_at IS NOT NULL`,
  )
}

/** Whoever used their second factor has it: what was said of its loss is void. */
export const factorWasUsed = (database: Database, address: string): Promise<void> =>
  asPerson(database, 0, async tx => {
    const [row] = await rowsOf(tx, { id: is.whole }, sql`SELECT user_id AS id FROM app_user WHERE email = ${address}`)
    if (row) await keepFactor(tx, row.id)
  })

/** Ends a second factor whose day has come; false: it stands. */
export const endFactorDue = (database: Database, address: string): Promise<boolean> =>
  asPerson(database, 0, async tx => {
    const { rowCount } = await tx.execute(sql`UPDATE practice_person m SET factor_ends_at = NULL FROM app_user u
      WHERE u.user_id = m.user_id AND u.email = ${address} AND m.factor_ends_at <= now()`)
    if (rowCount === 0) return false
    await tx.execute(
      sql`DELETE FROM auth."twoFactor" t USING auth."user" a WHERE t."userId" = a.id AND a.email = ${address}`,
    )
    await tx.execute(sql`UPDATE auth."user" SET "twoFactorEnabled" = false WHERE email = ${address}`)
    return true
  })
