import { z } from 'zod'
import { rateRow } from './books.ts'
import { endpoint } from './endpoint.ts'
import { taxCodeRow } from './mapping.ts'
import { localDate, minor } from './shared.ts'

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

const read = { method: 'POST', right: 'map', query: listQuery, body: 'file' } as const
export const listEndpoints = {
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
