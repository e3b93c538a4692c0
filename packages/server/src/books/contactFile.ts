import type { Readable } from 'node:stream'
import type { ContactList, ContactRow, ListQuery, OpenItemList, OpenItemRow } from '@culvert/contract'
import { FaultList, foldText, readContactList, readOpenItemList } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { refuseOn } from '../access/fileRefused.ts'
import { oneRow, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { readListRecords } from '../files/readList.ts'
import { loadContacts } from '../ledger/contacts.ts'
import { loadOpenItems } from './contacts.ts'

/** Reads a list of contacts and holds it against those that there are: what it does not tell stays. @throws FileRefused with every fault found */
export const readContacts = async (tx: Transaction, body: Readable, told: ListQuery): Promise<ContactList> => {
  const faults = new FaultList()
  const { header, records } = await readListRecords(body, told, faults)
  refuseOn(faults)
  const { contacts } = readContactList(header, records, { faults })
  refuseOn(faults)
  const standing = await loadContacts(tx)
  const byCode = new Map(standing.map(one => [one.code, one]))
  const named = new Set(contacts.map(one => one.code))
  return {
    asks: [],
    contacts: contacts.map(({ row, ...one }) => {
      const was = byCode.get(one.code)
      const next: ContactRow = {
        code: one.code,
        name: one.name,
        sort: one.sort ?? was?.sort ?? 'customer',
        email: one.email ?? was?.email ?? null,
        taxNumber: one.taxNumber ?? was?.taxNumber ?? null,
        country: one.country ?? was?.country ?? null,
      }
      const names = Object.keys(next) as (keyof ContactRow)[]
      const state = !was ? 'new' : names.every(name => next[name] === was[name]) ? 'same' : 'changed'
      return { ...next, row, state } as const
    }),
    vanished: standing.filter(one => !named.has(one.code)).map(({ code, name }) => ({ code, name })),
  }
}

/** Reads a list of open invoices and bills and holds it against what is open here. @throws FileRefused with every fault found */
export const readOpenItems = async (
  tx: Transaction,
  body: Readable,
  told: ListQuery & { readonly sort: 'invoice' | 'bill' },
): Promise<OpenItemList> => {
  const faults = new FaultList()
  const { header, records } = await readListRecords(body, told, faults)
  refuseOn(faults)
  const { base } = await oneRow(tx, { base: is.text }, sql`SELECT base FROM client WHERE client_id = current_client()`)
  const { items, asks } = readOpenItemList(header, records, { faults, told, base, sort: told.sort })
  refuseOn(faults)
  const contacts = await loadContacts(tx)
  const standing = await loadOpenItems(tx)
  const keyOf = (item: Pick<OpenItemRow, 'sort' | 'contact' | 'number'>) =>
    JSON.stringify([item.sort, item.contact, item.number])
  const byKey = new Map(standing.map(({ name: _, ...item }) => [keyOf(item), item]))
  const listed = items.map(({ row, ...item }) => {
    const found = contactsNamed(contacts, item.contact)
    const next = { ...item, contact: found.length === 1 ? (found[0] as string) : item.contact }
    const was = byKey.get(keyOf(next))
    const same = was?.open === next.open && was.amount === next.amount && was.date === next.date && was.due === next.due
    return {
      ...next,
      row,
      state: !was
        ? ('new' as const)
        : same && was.currency === next.currency
          ? ('same' as const)
          : ('changed' as const),
      makes: found.length === 0,
      unfit: found.length > 1 ? ('two_contacts' as const) : null,
    }
  })
  const named = new Set(listed.map(keyOf))
  const sorts = new Set(listed.map(item => item.sort))
  return {
    asks: [...asks],
    items: listed,
    // A list of invoices says nothing of bills.
    vanished:
      asks.length > 0 ? [] : [...byKey.values()].filter(item => sorts.has(item.sort) && !named.has(keyOf(item))),
  }
}

/** Codes of the contacts that a list's word may mean: its number, else its name however it is written. */
const contactsNamed = (contacts: readonly { code: string; name: string }[], word: string): readonly string[] => {
  const exact = contacts.filter(one => one.code === word)
  const alike = exact.length > 0 ? exact : contacts.filter(one => foldText(one.name) === foldText(word))
  return alike.map(one => one.code)
}
