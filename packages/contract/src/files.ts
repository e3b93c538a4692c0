import { accountTypes, type ColumnChoice, columnMeanings, dateOrders, kinds } from '@culvert/core'
import { z } from 'zod'
import { endpoint, nothing } from './endpoint.ts'
import { currency } from './shared.ts'

// Files of any shape: what they are, what their columns mean, and what somebody said of them before.

const kind = z.enum(Object.keys(kinds) as [keyof typeof kinds, ...(keyof typeof kinds)[]])
const words = z.record(z.string().max(500), z.string().max(100))
const numbers = z.object({ decimal: z.enum(['.', ',']), thousands: z.enum(['', ',', '.', ' ', "'"]) })
const columnsOf = <Meaning extends z.ZodType>(meaning: Meaning) =>
  z.array(z.object({ name: z.string().max(500), meaning: meaning.nullable() })).max(2000)

/** What somebody has said of the columns of a file of activity. */
export const columnChoice: z.ZodType<ColumnChoice> = z.object({
  columns: columnsOf(z.enum(columnMeanings.activity)),
  kinds: z.record(z.string().max(500), kind.nullable()),
  reversed: z.array(z.string().max(500)).max(2000),
  kind: kind.nullable(),
  currency: currency.nullable(),
  feeKind: kind,
  feesPositive: z.boolean(),
  debitsNegative: z.boolean(),
  holdNet: z.boolean(),
  regions: words,
  statuses: words,
  numbers,
  dates: z.enum(dateOrders),
  timeZone: z.string(),
})

/** The same of a bank statement. */
export const bankChoice = z.object({
  columns: columnsOf(z.enum(columnMeanings.bank)),
  /** Of every row, where no column says it. */
  currency: currency.nullable(),
  /** Code of the account that it is of, where no column says it. */
  account: z.string().nullable(),
  debitsNegative: z.boolean(),
  numbers,
  dates: z.enum(dateOrders),
})
export type BankChoiceBody = z.infer<typeof bankChoice>

/** The same of settlements and of balances. */
const rowChoice = <Meaning extends z.ZodType>(meaning: Meaning) =>
  z.object({ columns: columnsOf(meaning), currency: currency.nullable(), numbers, dates: z.enum(dateOrders) })

/** Said of the file besides its columns. */
const told = { encoding: z.string().nullable(), sheet: z.string().nullable() }
export const savedColumns = z.discriminatedUnion('of', [
  z.object({ of: z.literal('activity'), choice: columnChoice, ...told }),
  z.object({ of: z.literal('bank'), choice: bankChoice, ...told }),
  z.object({ of: z.literal('settlements'), choice: rowChoice(z.enum(columnMeanings.settlements)), ...told }),
  z.object({ of: z.literal('balances'), choice: rowChoice(z.enum(columnMeanings.balances)), ...told }),
])
export type SavedColumns = z.infer<typeof savedColumns>

/** What could be read two ways, and is asked. */
export const columnQuestion = z.discriminatedUnion('code', [
  z.object({ code: z.literal('column'), column: z.string() }),
  z.object({ code: z.literal('kind'), word: z.string() }),
  z.object({ code: z.literal('region'), word: z.string() }),
  z.object({ code: z.literal('status'), word: z.string() }),
  z.object({ code: z.literal('numbers'), styles: z.array(numbers) }),
  z.object({ code: z.literal('dates'), orders: z.array(z.enum(dateOrders)), sample: z.string() }),
  z.object({ code: z.literal('currency') }),
  z.object({ code: z.literal('account') }),
  z.object({ code: z.literal('fee_sign') }),
])
export type ColumnQuestionBody = z.infer<typeof columnQuestion>

/** What a file can be found to be. */
export const fileSorts = ['activity', 'settlements', 'balances', 'bank', 'chart', 'table', 'unknown'] as const

export const fileLook = z.object({
  /** `table`: rows whose columns somebody has to say, or has said; `unknown`: nothing that Culvert reads. */
  sort: z.enum(fileSorts),
  format: z.enum(['csv', 'xlsx', 'camt', 'ofx', 'mt940', 'other']),
  /** Of a file without a mark that is no UTF-8: how its first odd line reads in each encoding. */
  encodings: z.array(z.object({ encoding: z.string(), sample: z.string() })),
  sheets: z.array(z.string()),
  header: z.array(z.string()),
  /** The first rows, at most 5,000 of them. */
  rows: z.array(z.array(z.string())),
  /** Of the whole file. */
  count: z.number(),
  /** What was said of such a head before. */
  saved: savedColumns.nullable(),
  /** What its columns are proposed to mean, where they are to be said, and what has to be asked. */
  proposed: z.object({ said: savedColumns, questions: z.array(columnQuestion) }).nullable(),
})
export type FileLook = z.infer<typeof fileLook>

const ofSubject = { subject: z.enum(['source', 'account']), key: z.string().max(100) }

/** An account as a list of accounts tells it; its type null where the file has no word for it that is known. */
export const listedAccount = z.object({
  row: z.number(),
  code: z.string(),
  name: z.string(),
  type: z.enum(accountTypes).nullable(),
  /** The file's word for the type. */
  typeWord: z.string(),
  currency,
  description: z.string(),
  bankNumber: z.string().nullable(),
})
export type ListedAccount = z.infer<typeof listedAccount>

export const fileEndpoints = {
  lookAtFile: endpoint({
    method: 'POST',
    path: '/files/look',
    right: 'bring',
    does: 'Looks at a file and keeps nothing of it: what it is, and its first rows.',
    query: z.object({
      name: z.string().max(300).default('file'),
      encoding: z.string().max(40).optional(),
      sheet: z.string().max(200).optional(),
      subject: z.enum(['source', 'account', 'none']).default('none'),
      key: z.string().max(100).default(''),
      /** What the rows of a source's file are, where somebody says so. */
      as: z.enum(['activity', 'settlements', 'balances']).optional(),
    }),
    body: 'file',
    answer: fileLook,
  }),
  saveColumns: endpoint({
    method: 'PUT',
    path: '/files/columns',
    right: 'bring',
    does: 'Keeps what the columns of files with this head mean, for a source or a bank account.',
    body: z.object({ ...ofSubject, header: z.array(z.string().max(500)).min(1).max(2000), said: savedColumns }),
    answer: nothing,
  }),
}
