import { type ContactRow, type OpenItemPage, type OpenItemRow, subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { factsOf } from '../acts/changes.ts'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { sqlState } from '../database/sqlState.ts'
import { storeContacts } from '../ledger/contacts.ts'
import { isDocument } from '../ledger/documentSorts.ts'

// Whom a client sells to and buys from is kept; what was open between them as the books began is taken over.

/** Adds contacts, or changes those of the same number. */
export const saveContacts = (database: Database, actor: Actor, contacts: readonly ContactRow[]): Promise<number> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      await storeContacts(tx, actor, contacts)
      return contacts.length
    }),
  )

const foreignKeyViolation = '23503'

/** Removes a contact. @throws Refused where something is open with it, or there is none */
export const removeContact = (database: Database, actor: Actor, code: string): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      try {
        const gone = await rowsOf(
          tx,
          { name: is.text },
          sql`DELETE FROM contact WHERE client_id = current_client() AND code = ${code} RETURNING name`,
        )
        if (!gone[0]) throw new Refused('contact_unknown', { contact: code })
        await recordAct(tx, actor, {
          sort: 'remove_contact',
          note: gone[0].name,
          touched: [{ subject: 'contact', key: subjectKey(code), before: factsOf({ name: gone[0].name }) }],
        })
      } catch (error) {
        if (sqlState(error) === foreignKeyViolation) throw new Refused('contact_open', { contact: code })
        throw error
      }
    }),
  )

const itemShape = {
  sort: is.oneOf('invoice', 'bill'),
  contact: is.text,
  number: is.text,
  date: is.date,
  due: is.maybe(is.text),
  currency: is.text,
  amount: is.minor,
  open: is.minor,
}
const itemColumns = sql`i.sort, i.contact, i.number, i.date::text, i.due::text, i.currency, i.amount, i.open`

export const loadOpenItems = (tx: Transaction): Promise<OpenItemPage['items']> =>
  rowsOf(
    tx,
    { ...itemShape, name: is.text },
    sql`SELECT ${itemColumns}, c.name FROM open_item i JOIN contact c ON c.client_id = i.client_id AND c.code = i.contact
      WHERE i.client_id = current_client() ORDER BY i.date, i.number`,
  )

/** What is open beside what the opening balances hold for it: invoices on receivable accounts, bills on payable ones. */
export const loadOpenItemPage = async (tx: Transaction): Promise<OpenItemPage> => {
  const held = await rowsOf(
    tx,
    {
      sort: is.oneOf('invoice', 'bill'),
      open: is.minor,
      opened: is.minor,
      accounts: is.list(is.text),
      others: is.whole,
    },
    sql`
    SELECT s.sort, coalesce((SELECT sum(i.open) FROM open_item i WHERE i.client_id = b.client_id AND i.sort = s.sort AND i.currency = b.base), 0)::bigint AS open,
      (SELECT count(*)::int FROM open_item i WHERE i.client_id = b.client_id AND i.sort = s.sort AND i.currency <> b.base) AS others,
      (s.sign * coalesce((SELECT sum(l.base_amount) FROM entry e JOIN entry_line l ON l.client_id = e.client_id AND l.fiscal_year = e.fiscal_year
        AND l.number = e.number JOIN account a ON a.client_id = l.client_id AND a.code = l.account
        WHERE e.client_id = b.client_id AND ${isDocument('opens')} AND a.type = s.type), 0))::bigint AS opened,
      (SELECT coalesce(json_agg(a.code ORDER BY a.code), '[]') FROM account a WHERE a.client_id = b.client_id AND a.type = s.type AND NOT a.archived) AS accounts
    FROM client b CROSS JOIN (VALUES ('invoice', 'receivable', 1), ('bill', 'payable', -1)) s(sort, type, sign)
    WHERE b.client_id = current_client()`,
  )
  return { items: await loadOpenItems(tx), held }
}

type ItemKey = Pick<OpenItemRow, 'sort' | 'contact' | 'number'>
const keyOfItem = ({ sort, contact, number }: ItemKey): string => subjectKey(sort, contact, number)

/** Takes open invoices and bills, with contacts that are made along; `gone` are no longer open. @throws Refused naming a contact that is not known */
export const saveOpenItems = (
  database: Database,
  actor: Actor,
  save: {
    readonly items: readonly OpenItemRow[]
    readonly gone: readonly ItemKey[]
    readonly contacts: readonly ContactRow[]
  },
): Promise<number> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const { items, gone, contacts } = save
      if (contacts.length > 0) await storeContacts(tx, actor, contacts)
      await refuseUnknown(tx, items)
      const before = new Map((await loadOpenItems(tx)).map(item => [keyOfItem(item), item]))
      await tx.execute(sql`INSERT INTO open_item (client_id, sort, contact, number, date, due, currency, amount, open)
        SELECT DISTINCT ON (r.sort, r.contact, r.number) current_client(), r.sort, r.contact, r.number, r.date, r.due, r.currency, r.amount, r.open
        FROM jsonb_to_recordset(${JSON.stringify(items)}::jsonb)
          AS r(sort text, contact text, number text, date date, due date, currency char(3), amount bigint, open bigint)
        ORDER BY r.sort, r.contact, r.number
        ON CONFLICT (client_id, sort, contact, number) DO UPDATE SET date = excluded.date, due = excluded.due, currency = excluded.currency,
          amount = excluded.amount, open = excluded.open`)
      await tx.execute(sql`DELETE FROM open_item i USING jsonb_to_recordset(${JSON.stringify(gone)}::jsonb) AS r(sort text, contact text, number text)
        WHERE i.client_id = current_client() AND i.sort = r.sort AND i.contact = r.contact AND i.number = r.number`)
      const factsOfItem = (item: OpenItemRow | undefined) =>
        item === undefined ? null : factsOf({ date: item.date, open: item.open, currency: item.currency })
      await recordAct(tx, actor, {
        sort: 'save_open_items',
        note: `${items.length} open, ${gone.length} no longer`,
        touched: [
          ...items.map(item => ({
            subject: 'open_item' as const,
            key: keyOfItem(item),
            before: factsOfItem(before.get(keyOfItem(item))),
            after: factsOfItem(item),
          })),
          ...gone.map(item => ({
            subject: 'open_item' as const,
            key: keyOfItem(item),
            before: factsOfItem(before.get(keyOfItem(item))),
            after: null,
          })),
        ],
      })
      return items.length + gone.length
    }),
  )

const refuseUnknown = async (tx: Transaction, items: readonly OpenItemRow[]): Promise<void> => {
  const [unknown] = await rowsOf(
    tx,
    { contact: is.text },
    sql`SELECT r.contact FROM unnest(${sql.param([...new Set(items.map(item => item.contact))])}::text[]) AS r(contact)
      WHERE NOT EXISTS (SELECT FROM contact c WHERE c.client_id = current_client() AND c.code = r.contact) LIMIT 1`,
  )
  if (unknown) throw new Refused('contact_unknown', { contact: unknown.contact })
}
