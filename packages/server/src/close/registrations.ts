import type { RegistrationBody, RegistrationList } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, asClient, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'

/** Tax registrations with the codes that feed each, and the codes of the mapping that feed none. */
export const loadRegistrations = async (tx: Transaction): Promise<RegistrationList> => {
  const registrations = await rowsOf(
    tx,
    { id: is.whole, agency: is.text, country: is.text, number: is.text, codes: is.list(is.text) },
    sql`SELECT r.registration_id AS id, r.agency, r.country, r.number, ARRAY(SELECT c.tax_code FROM registration_code c
        WHERE c.client_id = r.client_id AND c.registration_id = r.registration_id ORDER BY c.tax_code) AS codes
      FROM registration r WHERE r.client_id = current_client() ORDER BY r.registration_id`,
  )
  const without = await rowsOf(
    tx,
    { code: is.text },
    sql`SELECT t.code FROM tax_code t WHERE t.client_id = current_client() AND NOT EXISTS (SELECT FROM registration_code c
      WHERE c.client_id = t.client_id AND c.tax_code = t.code) ORDER BY t.code`,
  )
  return { registrations, without: without.map(row => row.code) }
}

/** Adds a registration, or changes the one of an id; a code feeds the one that named it last. @throws Refused for an id or a code that there is not */
export const saveRegistration = (
  database: Database,
  actor: Actor,
  { id, ...body }: RegistrationBody & { readonly id: number | null },
): Promise<number> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      // One at a time: the next id, and which code feeds which, are read before they are written.
      await tx.execute(sql`SELECT FROM client WHERE client_id = current_client() FOR NO KEY UPDATE`)
      const known = await rowsOf(
        tx,
        { code: is.text },
        sql`SELECT code FROM tax_code WHERE client_id = current_client()`,
      )
      const [unknown] = body.codes.filter(code => !known.some(one => one.code === code))
      if (unknown !== undefined) throw new Refused('tax_code_unknown', { code: unknown })
      const saved = id ?? (await addRegistration(tx, body))
      if (id !== null) await changeRegistration(tx, { id, ...body })
      const codes = sql.param([...new Set(body.codes)])
      await tx.execute(sql`DELETE FROM registration_code WHERE client_id = current_client()
        AND (registration_id = ${saved} OR tax_code = ANY(${codes}::text[]))`)
      await tx.execute(sql`INSERT INTO registration_code (client_id, tax_code, registration_id)
        SELECT current_client(), code, ${saved} FROM unnest(${codes}::text[]) code`)
      await recordAct(tx, actor, {
        sort: 'save_registrations',
        note: `${body.agency} ${body.number}`.trim(),
        touched: [
          { subject: 'tax_filing', key: `registration-${saved}`, after: { ...body, codes: body.codes.join(', ') } },
        ],
      })
      return saved
    }),
  )

const addRegistration = async (tx: Transaction, { agency, country, number }: RegistrationBody): Promise<number> =>
  (
    await oneRow(
      tx,
      { id: is.whole },
      sql`INSERT INTO registration (client_id, registration_id, agency, country, number)
        SELECT current_client(), coalesce(max(registration_id), 0) + 1, ${agency}, ${country}, ${number}
        FROM registration WHERE client_id = current_client() RETURNING registration_id AS id`,
    )
  ).id

const changeRegistration = async (
  tx: Transaction,
  { id, agency, country, number }: RegistrationBody & { readonly id: number },
): Promise<void> => {
  const changed = await rowsOf(
    tx,
    {},
    sql`UPDATE registration SET agency = ${agency}, country = ${country}, number = ${number}
      WHERE client_id = current_client() AND registration_id = ${id} RETURNING registration_id`,
  )
  if (changed.length === 0) throw new Refused('registration_unknown')
}
