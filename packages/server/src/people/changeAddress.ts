import { sql } from 'drizzle-orm'
import type { Identity } from '../access/identity.ts'
import { Refused } from '../access/refused.ts'
import { hashOf, randomToken } from '../access/secrets.ts'
import { recordPracticeAct } from '../acts/practiceActs.ts'
import { asPerson, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { tellPerson } from './tellPerson.ts'

/** How long both links are good for, in hours. */
const hours = 24

const isTaken = async (tx: Transaction, email: string): Promise<boolean> =>
  (await rowsOf(tx, {}, sql`SELECT FROM app_user WHERE email = ${email}`)).length > 0

/**
 * Begins to change somebody's address: whoever reads letters at the old one and at the new one must say so. A change begun before is given up. Tells whether
 * letters went. @throws Refused where the address is somebody's
 */
export const changeAddress = async (
  database: Database,
  identity: Identity,
  of: { readonly userId: number; readonly email: string },
): Promise<{ mailed: boolean }> => {
  const [atOld, atNew] = [randomToken(), randomToken()]
  const { email, name } = await asPerson(database, of.userId, async tx => {
    if (await isTaken(tx, of.email)) throw new Refused('address_taken')
    await tx.execute(sql`INSERT INTO address_change (user_id, email, old_hash, new_hash, expires_at)
      VALUES (${of.userId}, ${of.email}, ${hashOf(atOld)}, ${hashOf(atNew)}, now() + ${hours} * interval '1 hour')
      ON CONFLICT (user_id) DO UPDATE SET email = excluded.email, old_hash = excluded.old_hash, new_hash = excluded.new_hash,
        old_confirmed = false, new_confirmed = false, expires_at = excluded.expires_at`)
    return oneRow(
      tx,
      { email: is.text, name: is.text },
      sql`SELECT email, name FROM app_user WHERE user_id = ${of.userId}`,
    )
  })
  const letter = (to: string, token: string) =>
    identity.mail({
      to,
      subject: 'Your address for Culvert is to change',
      text: `${name} asked that ${email} becomes ${of.email}.\n\n${identity.origin}/address#${token}\n\nIt changes once this link and the one that went to the other address are opened, within ${hours} hours. If it was not you, do nothing, and change your password.\n`,
    })
  const sent = await Promise.all([letter(email, atOld), letter(of.email, atNew)]).catch(() => [false])
  return { mailed: sent.every(Boolean) }
}

/** Confirms a change at one of the two addresses; with the second it is done, and whoever was signed in signs in anew. @throws Refused */
export const confirmAddress = async (
  database: Database,
  { mail }: Pick<Identity, 'mail'>,
  token: string,
): Promise<{ left: 'old' | 'new' | null }> => {
  const { left, former } = await asPerson(database, 0, tx => confirm(tx, token))
  if (former !== null) tellPerson(mail, former, 'address')
  return { left }
}

const confirm = async (
  tx: Transaction,
  token: string,
): Promise<{ left: 'old' | 'new' | null; former: string | null }> => {
  const hash = hashOf(token)
  const [change] = await rowsOf(
    tx,
    { userId: is.whole, email: is.text, old: is.yes, new: is.yes },
    sql`UPDATE address_change SET old_confirmed = old_confirmed OR old_hash = ${hash}, new_confirmed = new_confirmed OR new_hash = ${hash}
        WHERE (old_hash = ${hash} OR new_hash = ${hash}) AND expires_at > now()
        RETURNING user_id AS "userId", email, old_confirmed AS old, new_confirmed AS new`,
  )
  if (!change) throw new Refused('link_spent')
  if (!change.old) return { left: 'old', former: null }
  if (!change.new) return { left: 'new', former: null }
  if (await isTaken(tx, change.email)) throw new Refused('address_taken')
  const { email } = await oneRow(
    tx,
    { email: is.text },
    sql`SELECT email FROM app_user WHERE user_id = ${change.userId} FOR UPDATE`,
  )
  await tx.execute(sql`UPDATE app_user SET email = ${change.email} WHERE user_id = ${change.userId}`)
  await tx.execute(sql`UPDATE auth."user" SET email = ${change.email} WHERE "personId" = ${change.userId}`)
  await tx.execute(
    sql`DELETE FROM auth.session s USING auth."user" u WHERE u.id = s."userId" AND u."personId" = ${change.userId}`,
  )
  await tx.execute(sql`DELETE FROM address_change WHERE user_id = ${change.userId}`)
  await recordPracticeAct(tx, {
    sort: 'address_changed',
    by: change.userId,
    before: { email },
    after: { email: change.email },
  })
  return { left: null, former: email }
}
