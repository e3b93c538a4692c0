import { type ContactPage, type ContactRow, subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { factsOf } from '../acts/changes.ts'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

// Whom a client sells to and buys from, and which of them stands for a source as one.

export const loadContacts = (tx: Transaction): Promise<ContactPage['contacts']> =>
  rowsOf(
    tx,
    {
      ...contactShape,
      open: is.list(is.record({ currency: is.text, amount: is.minor })),
    },
    sql`SELECT ${contactColumns}, coalesce((SELECT json_agg(json_build_object('currency', o.currency, 'amount', o.amount) ORDER BY o.currency) FROM (
        SELECT i.currency, sum(CASE i.sort WHEN 'bill' THEN -i.open ELSE i.open END)::bigint AS amount FROM open_item i
        WHERE i.client_id = c.client_id AND i.contact = c.code GROUP BY 1) o), '[]') AS open
      FROM contact c WHERE client_id = current_client() ORDER BY name, code`,
  )

const contactShape = {
  code: is.text,
  name: is.text,
  sort: is.oneOf('customer', 'supplier', 'both'),
  email: is.maybe(is.text),
  taxNumber: is.maybe(is.text),
  country: is.maybe(is.text),
}
const contactColumns = sql`c.code, c.name, c.sort, c.email, c.tax_number AS "taxNumber", c.country`

/** Adds contacts, or changes those of the same number, in the caller’s transaction. */
export const storeContacts = async (tx: Transaction, actor: Actor, contacts: readonly ContactRow[]): Promise<void> => {
  const before = new Map(
    (
      await rowsOf(
        tx,
        contactShape,
        sql`SELECT ${contactColumns} FROM contact c WHERE c.client_id = current_client()
          AND c.code = ANY(${sql.param(contacts.map(one => one.code))}::text[]) ORDER BY c.code FOR UPDATE`,
      )
    ).map(row => [row.code, row]),
  )
  await tx.execute(sql`INSERT INTO contact (client_id, code, name, sort, email, tax_number, country)
    SELECT DISTINCT ON (r.code) current_client(), r.code, r.name, r.sort, r.email, r."taxNumber", r.country
    FROM jsonb_to_recordset(${JSON.stringify(contacts)}::jsonb) AS r(code text, name text, sort text, email text, "taxNumber" text, country text)
    ORDER BY r.code
    ON CONFLICT (client_id, code) DO UPDATE SET name = excluded.name, sort = excluded.sort, email = excluded.email,
      tax_number = excluded.tax_number, country = excluded.country`)
  await recordAct(tx, actor, {
    sort: 'save_contacts',
    note: contacts.length === 1 ? (contacts[0]?.name ?? '') : `${contacts.length} contacts`,
    // What is personal in them is not kept in acts: it could not be erased there.
    touched: contacts.map(({ code, name, sort }) => {
      const was = before.get(code)
      return {
        subject: 'contact',
        key: subjectKey(code),
        before: was === undefined ? null : factsOf({ name: was.name, sort: was.sort }),
        after: factsOf({ name, sort }),
      }
    }),
  })
}

/** Says which contact stands for a source as one, or for somebody that a rule names; those that are new are made, what one is to the client is widened. */
export const standFor = async (
  tx: Transaction,
  actor: Actor,
  stands: readonly { readonly source: string | null; readonly contact: ContactRow }[],
): Promise<void> => {
  const contacts = new Map<string, ContactRow>()
  for (const { contact } of stands) {
    const before = contacts.get(contact.code)
    contacts.set(contact.code, before && before.sort !== contact.sort ? { ...contact, sort: 'both' } : contact)
  }
  await storeContacts(tx, actor, [...contacts.values()])
  const sources = stands.flatMap(({ source, contact }) => (source === null ? [] : [{ source, contact: contact.code }]))
  if (sources.length === 0) return
  await tx.execute(sql`UPDATE source s SET contact = r.contact FROM jsonb_to_recordset(${JSON.stringify(sources)}::jsonb) AS r(source text, contact text)
    WHERE s.client_id = current_client() AND s.source = r.source`)
  await recordAct(tx, actor, {
    sort: 'save_source',
    note: sources.map(one => one.contact).join(', '),
    touched: sources.map(({ source, contact }) => ({
      ...{ subject: 'source', key: subjectKey(source) },
      ...{ before: factsOf({ contact: null }), after: factsOf({ contact }) },
    })),
  })
}
