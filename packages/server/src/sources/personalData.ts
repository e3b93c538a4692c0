import { type CustomerRow, type PersonalOfSource, type PersonalScope, subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { found } from '../access/refused.ts'
import { erasePersons, loadPersonalOf, narrowPersons } from '../activity/persons.ts'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { holdSources } from '../database/locks.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'

/** Says what a source may tell of customers, from now on and of what is stored. @throws Refused where there is no such source */
export const setPersonalScope = (
  database: Database,
  actor: Actor,
  { source, scope }: { readonly source: string; readonly scope: PersonalScope },
): Promise<PersonalOfSource> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      found((await holdSources(tx, [source], 'store'))[0] ?? null, 'source')
      const before = await loadPersonalOf(tx, source)
      await tx.execute(
        sql`UPDATE source SET personal_data = ${scope} WHERE client_id = current_client() AND source = ${source}`,
      )
      const narrowed = await narrowPersons(tx, source, scope)
      if (before.scope !== scope)
        await recordAct(tx, actor, {
          sort: 'personal_data',
          note: source,
          touched: [
            {
              subject: 'source',
              key: subjectKey(source),
              before: { personalData: before.scope },
              after: { personalData: scope, erased: narrowed },
            },
          ],
        })
      return loadPersonalOf(tx, source)
    }),
  )

/** Customers shown at most; whoever looks for more says more of the name. */
const mostShown = 200

/** Customers whose name or e-mail address begins with a text, however it is written. */
export const findCustomers = async (
  tx: Transaction,
  text: string,
): Promise<{ customers: CustomerRow[]; more: boolean }> => {
  if (text.length < 2) return { customers: [], more: false }
  const begins = `${text.toLowerCase().replaceAll(/[\\%_]/g, '\\$&')}%`
  const rows = await rowsOf(
    tx,
    {
      personId: is.text,
      source: is.text,
      customer: is.maybe(is.text),
      email: is.maybe(is.text),
      shipTo: is.maybe(is.text),
      lines: is.whole,
      first: is.maybe(is.text),
      last: is.maybe(is.text),
    },
    sql`WITH met AS (
      SELECT person_id, customer, email, ship_to FROM personal
      WHERE client_id = current_client() AND (lower(customer) LIKE ${begins} OR lower(email) LIKE ${begins}) ORDER BY customer, person_id LIMIT ${mostShown + 1})
    SELECT m.person_id AS "personId", coalesce(min(l.source), '') AS source, m.customer, m.email, m.ship_to AS "shipTo", count(l.line_id)::int AS lines,
      min(l.local_date)::text AS first, max(l.local_date)::text AS last
    FROM met m LEFT JOIN activity_line l ON l.client_id = current_client() AND l.person_id = m.person_id
    GROUP BY m.person_id, m.customer, m.email, m.ship_to ORDER BY m.customer, m.person_id`,
  )
  return { customers: rows.slice(0, mostShown), more: rows.length > mostShown }
}

const about = (ids: readonly string[]) => ids.map(id => ({ subject: 'person' as const, key: id }))

/** All that is kept of customers, as JSON to be handed to them: what they are, and each line that tells of them. That it was taken out is written down. */
export const exportCustomers = (
  database: Database,
  actor: Actor,
  ids: readonly string[],
): Promise<{ name: string; text: string }> =>
  asClient(database, actor, async tx => {
    const persons = await rowsOf(
      tx,
      {
        personId: is.text,
        customer: is.maybe(is.text),
        email: is.maybe(is.text),
        shipTo: is.maybe(is.text),
        note: is.maybe(is.text),
        rest: is.anything,
        lines: is.list(
          is.record({
            source: is.text,
            line: is.text,
            date: is.text,
            kind: is.text,
            order: is.maybe(is.text),
            amountMinor: is.minor,
            currency: is.text,
          }),
        ),
      },
      sql`WITH lines AS (SELECT l.person_id, json_agg(json_build_object('source', l.source, 'line', l.line_id, 'date', l.local_date, 'kind', l.kind, 'order', l.order_id,
          'amountMinor', l.amount, 'currency', l.currency) ORDER BY l.local_date, l.source, l.line_id, l.revision) AS lines
          FROM activity_line l WHERE l.client_id = current_client() AND l.person_id = ANY(${sql.param([...ids])}::uuid[]) GROUP BY l.person_id)
      SELECT p.person_id AS "personId", p.customer, p.email, p.ship_to AS "shipTo", p.note, p.rest, coalesce(l.lines, '[]') AS lines
      FROM personal p LEFT JOIN lines l USING (person_id) WHERE p.client_id = current_client() AND p.person_id = ANY(${sql.param([...ids])}::uuid[]) ORDER BY p.customer, p.person_id`,
    )
    await recordAct(tx, actor, { sort: 'export_person', note: `${persons.length}`, touched: about(ids) })
    const text = JSON.stringify({ persons: persons.map(({ personId: _, ...told }) => told) }, null, 2)
    return { name: 'customer-data.json', text: `${text}\n` }
  })

/** Erases what is kept of customers; what is booked stays as it is. Returns of how many. */
export const eraseCustomers = (database: Database, actor: Actor, ids: readonly string[]): Promise<number> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const erased = await erasePersons(tx, ids)
      if (erased > 0) await recordAct(tx, actor, { sort: 'erase_person', note: `${erased}`, touched: about(ids) })
      return erased
    }),
  )
