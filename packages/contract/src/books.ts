import { accountTypes } from '@culvert/core'
import { z } from 'zod'
import { endpoint, nothing } from './endpoint.ts'
import { listedAccount } from './files.ts'
import { newAccount } from './mapping.ts'
import { draftEntry } from './settlements.ts'
import { changedCount, currency, kind, listPart, localDate, minor, settlementKey } from './shared.ts'

export const accountBalance = z.object({
  code: z.string(),
  name: z.string(),
  type: z.string(),
  currency,
  debit: minor,
  credit: minor,
  balance: minor,
  baseBalance: minor,
  archived: z.boolean(),
  takesPostings: z.boolean(),
  takesPayments: z.boolean(),
  description: z.string(),
  bankNumber: z.string().nullable(),
})
export type AccountBalance = z.infer<typeof accountBalance>
export const chartPage = z.object({
  base: currency,
  accounts: z.array(accountBalance),
  sum: minor,
  entries: z.number(),
})
export type ChartPage = z.infer<typeof chartPage>

/** What an account can be used by, and so rests on it. */
export const accountUses = [
  'entries',
  'routes',
  'tax_codes',
  'items',
  'sources',
  'bank_lines',
  'client',
  'decisions',
] as const

export const accountForm = z.object({
  code: z.string().trim().min(1, 'its number').max(20),
  name: z.string().trim().min(1, 'its name').max(200),
  type: z.enum(accountTypes),
  currency,
  description: z.string().max(500),
  takesPostings: z.boolean(),
  /** Of a bank or card account: payouts may be paid into it, and drawn from it. */
  takesPayments: z.boolean(),
  archived: z.boolean(),
  /** The bank's own number of it; of bank and card accounts. */
  bankNumber: z
    .string()
    .trim()
    .max(60)
    .transform(text => (text === '' ? null : text.replace(/\s+/g, '')))
    .nullable(),
})
export type AccountForm = z.input<typeof accountForm>

export const chartAccountPage = z.object({
  /** Of the setup: what is saved is made from it. */
  version: z.number(),
  account: accountForm,
  uses: z.array(z.object({ use: z.enum(accountUses), count: z.number() })),
  /** In base. */
  balance: minor,
})
export type ChartAccountPage = z.infer<typeof chartAccountPage>

/** What a list of accounts would change. */
export const chartFile = z.object({
  rows: z.array(
    listedAccount.extend({
      /** How it stands beside the chart as it is. */
      state: z.enum(['new', 'changed', 'same']),
      /** The account of that number as it is. */
      was: z.object({ name: z.string(), type: z.string() }).nullable(),
    }),
  ),
  /** Accounts of the chart that the list does not have. */
  vanished: z.array(z.object({ code: z.string(), name: z.string() })),
})
export type ChartFile = z.infer<typeof chartFile>

export const startingChartPage = z.object({
  language: z.string(),
  numbering: z.string(),
  accounts: z.array(z.object({ code: z.string(), name: z.string(), type: z.enum(accountTypes) })),
})

export const takenChart = z.object({ added: z.number(), changed: z.number(), same: z.number() })

export const entryRow = z.object({
  number: z.string(),
  date: localDate,
  document: z.string(),
  source: z.string().nullable(),
  key: z.string().nullable(),
  currency,
  total: minor,
  memo: z.string(),
  postedAt: z.string(),
  reverses: z.string().nullable(),
  reversedBy: z.string().nullable(),
})
export type EntryRow = z.infer<typeof entryRow>
export const entryList = z.object({ rows: z.array(entryRow), more: z.boolean() })
export type EntryList = z.infer<typeof entryList>
export const entryPage = draftEntry.extend({
  entry: entryRow,
  base: currency,
  settlement: settlementKey.nullable(),
  by: z.string(),
})
export type EntryPage = z.infer<typeof entryPage>

export const registerRow = z.object({
  entry: z.string(),
  lineNo: z.number(),
  date: localDate,
  document: z.string(),
  memo: z.string(),
  taxCode: z.string(),
  segments: z.string(),
  /** In the money of the account's sums. */
  amount: minor,
  /** What the line moves in its entry's currency, where that is another; else null. */
  foreignAmount: minor.nullable(),
  foreignCurrency: currency,
  balance: minor,
})
export type RegisterRow = z.infer<typeof registerRow>
export const registerPage = z.object({
  account: z.object({ code: z.string(), name: z.string(), type: z.string(), currency }),
  opening: minor,
  closing: minor,
  /** Lines of the account between the dates. */
  total: z.number(),
  rows: z.array(registerRow),
  more: z.boolean(),
  from: localDate.nullable(),
  to: localDate.nullable(),
})
export type RegisterPage = z.infer<typeof registerPage>

/** A step of the way from order to bank line. `here` marks where one stands. */
export const traceStep = z.object({
  sort: z.enum(['order', 'line', 'route', 'entry', 'transfer', 'bank_line', 'balance']),
  here: z.boolean(),
  title: z.string(),
  detail: z.string(),
  count: z.number(),
  amount: minor.nullable(),
  currency: currency.nullable(),
  link: z.string().nullable(),
  items: z.array(
    z.object({ title: z.string(), detail: z.string(), amount: minor.nullable(), link: z.string().nullable() }),
  ),
})
export type TraceStep = z.infer<typeof traceStep>
export const trace = z.object({ title: z.string(), amount: minor, currency, steps: z.array(traceStep) })
export type Trace = z.infer<typeof trace>

/** How many parts of a step are named at most, the heaviest first; absent: a few. */
const wide = { named: z.coerce.number().int().min(1).max(500).optional() }

/** Where a trace starts. */
export const traceStart = z.discriminatedUnion('at', [
  z.object({
    ...wide,
    at: z.literal('entry_line'),
    entry: z.string().regex(/^\d{4}-\d+$/),
    line: z.coerce.number().int().positive(),
  }),
  z.object({
    ...wide,
    at: z.literal('statement'),
    source: z.string(),
    key: z.string(),
    currency,
    kind: z.string(),
    category: z.string().optional(),
  }),
  z.object({
    ...wide,
    at: z.literal('draft_line'),
    source: z.string(),
    key: z.string(),
    currency,
    entry: z.coerce.number().int(),
    line: z.coerce.number().int(),
  }),
  z.object({ ...wide, at: z.literal('line'), source: z.string(), lineId: z.string() }),
  z.object({ ...wide, at: z.literal('order'), order: z.string() }),
  /** All of a settlement but its payouts, or one part of its statement. */
  z.object({
    ...wide,
    at: z.literal('settlement'),
    source: z.string(),
    key: z.string(),
    currency,
    part: z.enum(['gross', 'tax', 'tenders', 'fees', 'held', 'payout']).optional(),
  }),
  z.object({ ...wide, at: z.literal('entry'), entry: z.string().regex(/^\d{4}-\d+$/) }),
  z.object({ ...wide, at: z.literal('transfer'), id: z.string() }),
  z.object({ ...wide, at: z.literal('bank_line'), account: z.string(), id: z.string() }),
  /** An account's balance or one side of it: of all days, up to a day, or after one line of its register. */
  z.object({
    ...wide,
    at: z.literal('account'),
    account: z.string(),
    side: z.enum(['debit', 'credit']).optional(),
    to: localDate.optional(),
    /** Up to this line in the register's order: an entry's number and the line's, as `2026-12/3`. */
    through: z
      .string()
      .regex(/^\d{4}-\d+\/\d+$/)
      .optional(),
  }),
  /** A row of the mapping page. */
  z.object({
    ...wide,
    at: z.literal('kind'),
    source: z.string(),
    kind,
    category: z.string().optional(),
    region: z.string().optional(),
    gateway: z.string().optional(),
    method: z.string().optional(),
    byItself: z.enum(['gateway', 'tender']).optional(),
  }),
  /** What was sold of a product, told apart by its SKU and title; absent: it has none. */
  z.object({
    ...wide,
    at: z.literal('product'),
    source: z.string(),
    sku: z.string().optional(),
    title: z.string().optional(),
  }),
  /** What was reported or stated that an account holds, as last said up to a date. */
  z.object({ ...wide, at: z.literal('reported'), account: z.string(), currency, date: localDate }),
  /** What a bank account moved by its statements. */
  z.object({ ...wide, at: z.literal('bank'), account: z.string() }),
  /** One side of the trial balance, up to a day. */
  z.object({ ...wide, at: z.literal('chart'), side: z.enum(['debit', 'credit']), to: localDate.optional() }),
])
export type TraceStart = z.infer<typeof traceStart>

/** From a date on, one unit of a currency in another; the rate as a plain decimal. */
export const rateRow = z.object({
  date: localDate,
  from: currency.toUpperCase(),
  to: currency.toUpperCase(),
  /** How much of `to` one of `from` is; also with a comma. */
  rate: z
    .string()
    .trim()
    .max(30)
    .overwrite(rate => rate.replace(',', '.'))
    .refine(rate => Number(rate) > 0, 'A number above zero, like 0.92.'),
})
export type RateRow = z.infer<typeof rateRow>
export const ratesPage = z.object({ rates: z.array(rateRow) })

export const openingLine = z.object({ account: z.string(), amount: minor })
/** What the accounts held as the books began: plus is a debit, in the base currency. They add up to nothing. */
export const openingBody = z.object({
  date: localDate,
  lines: z.array(openingLine).min(2).max(2000),
})
export const openingPage = z.object({
  base: currency,
  /** The day before anything else is booked; null: nothing is. */
  before: localDate.nullable(),
  standing: z.object({ number: z.string(), date: localDate, by: z.string(), lines: z.array(openingLine) }).nullable(),
  /** Those that can be entered: held in base, and not archived. */
  accounts: z.array(z.object({ code: z.string(), name: z.string(), type: z.string() })),
})
export type OpeningPage = z.infer<typeof openingPage>

const range = listPart.extend({ from: z.iso.date().optional(), to: z.iso.date().optional() })
export const bookEndpoints = {
  rates: endpoint({ method: 'GET', path: '/rates', right: 'read', does: 'Exchange rates.', answer: ratesPage }),
  saveRates: endpoint({
    method: 'PUT',
    path: '/rates',
    right: 'map',
    does: 'Saves exchange rates.',
    body: z.object({ rates: z.array(rateRow).min(1).max(5000) }),
    answer: changedCount,
  }),
  chart: endpoint({
    method: 'GET',
    path: '/books/chart',
    right: 'read',
    does: 'The chart of accounts with balances.',
    query: range,
    answer: chartPage,
  }),
  chartAccount: endpoint({
    method: 'GET',
    path: '/books/accounts/:account',
    right: 'read',
    does: 'One account, and what uses it.',
    answer: chartAccountPage,
  }),
  saveAccount: endpoint({
    method: 'PUT',
    path: '/books/accounts/:account',
    right: 'map',
    does: 'Changes an account, or archives it. Its number, type and currency stay while anything rests on them.',
    body: accountForm.extend({ version: z.number().int() }),
    answer: z.object({ version: z.number() }),
  }),
  startingChart: endpoint({
    method: 'GET',
    path: '/books/starting-chart',
    right: 'read',
    does: 'A small chart in the client’s language and its country’s common numbering, to begin with.',
    answer: startingChartPage,
  }),
  readChart: endpoint({
    method: 'POST',
    path: '/books/chart/file',
    right: 'map',
    does: 'Reads a list of accounts, and says what it would change. Stores nothing.',
    query: z.object({ encoding: z.string().max(40).optional(), sheet: z.string().max(200).optional() }),
    body: 'file',
    answer: chartFile,
  }),
  takeChart: endpoint({
    method: 'POST',
    path: '/books/chart',
    right: 'map',
    does: 'Adds accounts to the chart, and takes names and descriptions of those that are there.',
    body: z.object({ accounts: z.array(newAccount).min(1).max(5000) }),
    answer: takenChart,
  }),
  opening: endpoint({
    method: 'GET',
    path: '/books/opening',
    right: 'read',
    does: 'Opening balances.',
    answer: openingPage,
  }),
  postOpening: endpoint({
    method: 'POST',
    path: '/books/opening',
    right: 'post',
    does: 'Posts opening balances.',
    body: openingBody,
    answer: z.object({ number: z.string() }),
    status: 201,
  }),
  undoOpening: endpoint({
    method: 'POST',
    path: '/books/opening/undo',
    right: 'post',
    does: 'Takes opening balances back.',
    answer: nothing,
  }),
  entries: endpoint({
    method: 'GET',
    path: '/books/entries',
    right: 'read',
    does: 'Entries by date.',
    query: range,
    answer: entryList,
  }),
  entry: endpoint({
    method: 'GET',
    path: '/books/entries/:number',
    right: 'read',
    does: 'One entry.',
    answer: entryPage,
  }),
  register: endpoint({
    method: 'GET',
    path: '/books/register/:account',
    right: 'read',
    does: 'The lines of an account with the running balance.',
    query: range,
    answer: registerPage,
  }),
  trace: endpoint({
    method: 'GET',
    path: '/trace',
    right: 'read',
    does: 'The way of an amount, from the order to the bank.',
    query: traceStart,
    answer: trace,
  }),
}
