import { contactSorts } from '@culvert/core'
import { z } from 'zod'
import { rateRow } from './books.ts'
import { endpoint, nothing } from './endpoint.ts'
import { taxCodeRow } from './mapping.ts'
import { changedCount, currency, localDate, minor } from './shared.ts'

// Lists from files: read, and held against what is there, before anything of them is taken.

/** What somebody has said of a file, and of what in it could be read two ways. */
const listQuery = z.object({
  encoding: z.string().max(40).optional(),
  sheet: z.string().max(200).optional(),
  decimal: z.enum(['.', ',']).optional(),
  order: z.enum(['ymd', 'dmy', 'mdy']).optional(),
})
export type ListQuery = z.infer<typeof listQuery>
export const listAsks = z.object({ what: z.enum(['decimal', 'order']), value: z.string() })
export type ListAsks = z.infer<typeof listAsks>

const state = z.enum(['new', 'changed', 'same'])

export const rateList = z.object({
  asks: z.array(listAsks),
  rates: z.array(rateRow.extend({ state, was: z.string().nullable() })),
  /** How many that stand are not in the list; they stay. */
  vanished: z.number(),
})
export type RateList = z.infer<typeof rateList>

export const balanceList = z.object({
  asks: z.array(listAsks),
  balances: z.array(
    z.object({
      row: z.number(),
      account: z.string(),
      amount: minor,
      /** Why it cannot be entered; null: it can. */
      unfit: z.enum(['unknown_account', 'not_entered']).nullable(),
    }),
  ),
})
export type BalanceList = z.infer<typeof balanceList>

export const itemList = z.object({
  asks: z.array(listAsks),
  items: z.array(
    z.object({
      row: z.number(),
      code: z.string(),
      name: z.string(),
      account: z.string().nullable(),
      taxCode: z.string().nullable(),
      cost: minor.nullable(),
      state,
      /** What of it is not known here; such an item is not taken. */
      unknown: z.enum(['account', 'tax_code', 'no_account']).nullable(),
    }),
  ),
  vanished: z.array(z.object({ code: z.string(), name: z.string() })),
  /** The client’s day: from when on a cost of the list holds. */
  today: localDate,
})
export type ItemList = z.infer<typeof itemList>

/** A tax code as the list would have it, whole: with the rates that stand, and those that the list adds. */
export const taxList = z.object({
  asks: z.array(listAsks),
  codes: z.array(
    z.object({
      code: taxCodeRow,
      state,
      /** Rates that are new, or another than stands on their day. */
      rates: z.array(z.object({ from: localDate, percent: z.string() })),
      /** Why it is not taken as it is: its account is unknown or none of tax, its use is told in an unknown word, it has several parts, or another rate without a day. */
      unfit: z.enum(['account', 'use', 'parts', 'no_day']).nullable(),
    }),
  ),
  vanished: z.array(z.object({ code: z.string(), name: z.string() })),
})
export type TaxList = z.infer<typeof taxList>

/** Whom a client sells to or buys from. */
export const contactRow = z.object({
  code: z.string().trim().min(1, 'its number, or its name').max(100),
  name: z.string().trim().min(1, 'its name').max(300),
  sort: z.enum(contactSorts),
  email: z.string().trim().max(300).nullable(),
  taxNumber: z.string().trim().max(60).nullable(),
  country: z
    .string()
    .regex(/^[A-Z]{2}$/, 'a country')
    .nullable(),
})
export type ContactRow = z.infer<typeof contactRow>

/** An invoice or bill that is not paid, or in part. */
export const openItemRow = z.object({
  sort: z.enum(['invoice', 'bill']),
  /** Code of the contact. */
  contact: z.string().min(1).max(100),
  number: z.string().min(1).max(100),
  date: localDate,
  due: localDate.nullable(),
  currency,
  amount: minor,
  open: minor,
})
export type OpenItemRow = z.infer<typeof openItemRow>
const openItemKey = openItemRow.pick({ sort: true, contact: true, number: true })

export const contactPage = z.object({
  contacts: z.array(
    contactRow.extend({
      /** What is open with it: invoices are plus, bills minus; by currency. */
      open: z.array(z.object({ currency, amount: minor })),
    }),
  ),
})
export type ContactPage = z.infer<typeof contactPage>

export const openItemPage = z.object({
  items: z.array(openItemRow.extend({ name: z.string() })),
  /** What is open in all beside what the opening balances hold for it, by sort; in base. */
  held: z.array(
    z.object({
      sort: z.enum(['invoice', 'bill']),
      open: minor,
      opened: minor,
      accounts: z.array(z.string()),
      /** Items in other currencies: not added up here. */
      others: z.number(),
    }),
  ),
})
export type OpenItemPage = z.infer<typeof openItemPage>

const unfitItem = z.enum(['two_contacts']).nullable()
export const contactList = z.object({
  asks: z.array(listAsks),
  contacts: z.array(contactRow.extend({ row: z.number(), state })),
  vanished: z.array(z.object({ code: z.string(), name: z.string() })),
})
export type ContactList = z.infer<typeof contactList>
export const openItemList = z.object({
  asks: z.array(listAsks),
  items: z.array(
    openItemRow.extend({
      row: z.number(),
      state,
      /** Its contact is not known yet: it is made with it. */
      makes: z.boolean(),
      /** Why it is not taken; null: it is. */
      unfit: unfitItem,
    }),
  ),
  /** Open here and not in the list: paid meanwhile, it seems. */
  vanished: z.array(openItemRow),
})
export type OpenItemList = z.infer<typeof openItemList>

const read = { method: 'POST', right: 'map', query: listQuery, body: 'file' } as const
export const listEndpoints = {
  contacts: endpoint({
    method: 'GET',
    path: '/contacts',
    right: 'read',
    does: 'Whom the client sells to and buys from, with what is open.',
    answer: contactPage,
  }),
  saveContacts: endpoint({
    method: 'PUT',
    path: '/contacts',
    right: 'map',
    does: 'Adds contacts, or changes those that there are.',
    body: z.object({ contacts: z.array(contactRow).min(1).max(5000) }),
    answer: changedCount,
  }),
  removeContact: endpoint({
    method: 'POST',
    path: '/contacts/:contact/remove',
    right: 'map',
    does: 'Removes a contact with which nothing is open.',
    answer: nothing,
  }),
  openItems: endpoint({
    method: 'GET',
    path: '/open-items',
    right: 'read',
    does: 'Open invoices and bills, held against the opening balances.',
    answer: openItemPage,
  }),
  saveOpenItems: endpoint({
    method: 'PUT',
    path: '/open-items',
    right: 'map',
    does: 'Takes open invoices and bills with contacts that are not known yet, and takes out those that are no longer open.',
    body: z.object({
      items: z.array(openItemRow).max(5000),
      gone: z.array(openItemKey).max(5000).default([]),
      contacts: z.array(contactRow).max(5000).default([]),
    }),
    answer: changedCount,
  }),
  readContacts: endpoint({
    ...read,
    path: '/lists/contacts',
    does: 'Reads a list of contacts, and says what it would change. Stores nothing.',
    answer: contactList,
  }),
  readOpenItems: endpoint({
    ...read,
    path: '/lists/open-items',
    query: listQuery.extend({ sort: z.enum(['invoice', 'bill']).default('invoice') }),
    does: 'Reads a list of open invoices and bills, and says what it would change. Stores nothing.',
    answer: openItemList,
  }),
  readRates: endpoint({
    ...read,
    path: '/lists/rates',
    does: 'Reads a list of exchange rates, or a central bank’s reference rates, and says what it would change. Stores nothing.',
    answer: rateList,
  }),
  readBalances: endpoint({
    ...read,
    path: '/lists/opening',
    does: 'Reads a list of opening balances. Stores nothing.',
    answer: balanceList,
  }),
  readItems: endpoint({
    ...read,
    path: '/lists/items',
    does: 'Reads a list of items, and says what it would change. Stores nothing.',
    answer: itemList,
  }),
  readTaxes: endpoint({
    ...read,
    path: '/lists/tax-codes',
    does: 'Reads a list of tax codes, and says what it would change. Stores nothing.',
    answer: taxList,
  }),
}
