import { z } from 'zod'
import { currency, localDate, minor } from './shared.ts'

export const transferItem = z.object({
  id: z.string(),
  source: z.string(),
  sourceName: z.string(),
  key: z.string(),
  currency,
  date: localDate,
  amount: minor,
  reference: z.string().nullable(),
  entry: z.string(),
})
export type TransferItem = z.infer<typeof transferItem>
export const bankItem = z.object({
  id: z.string(),
  date: localDate,
  amount: minor,
  currency,
  description: z.string(),
  reference: z.string(),
})
export type BankItem = z.infer<typeof bankItem>
export const pairingRow = z.object({
  /** Set once confirmed. */
  pairingId: z.string().nullable(),
  sureness: z.enum(['certain', 'likely', 'possible']),
  difference: minor,
  transfers: z.array(transferItem),
  bankLines: z.array(bankItem),
  evidence: z.object({
    exactSum: z.boolean(),
    payerNamed: z.boolean(),
    referenceFound: z.boolean(),
    lagDays: z.number(),
    /** Within what this source's deposits took so far; null: nothing is known of them. */
    lagUsual: z.boolean().nullable().default(null),
    /** Its payouts follow each other; null for one payout and one deposit. */
    consecutive: z.boolean().nullable().default(null),
  }),
  others: z.array(z.object({ transfers: z.array(z.string()), bankLines: z.array(z.string()) })),
  waitsFor: localDate.nullable(),
})
export type PairingRow = z.infer<typeof pairingRow>

export const bankPage = z.object({
  account: z.object({ code: z.string(), name: z.string(), currency, bankNumber: z.string().nullable() }),
  accounts: z.array(z.object({ code: z.string(), name: z.string() })),
  from: localDate,
  to: localDate,
  statementTo: localDate.nullable(),
  booksTo: localDate.nullable(),
  proposals: z.array(pairingRow),
  confirmed: z.array(pairingRow),
  /** Open on one side only, without any proposal. */
  transfersAlone: z.array(transferItem),
  linesAlone: z.array(bankItem),
  groupsNotSearched: z.array(z.string()),
  tooManyFit: z.array(z.object({ id: z.string(), count: z.number() })),
  /** Over all dates. */
  certain: z.number(),
  open: z.number(),
})
export type BankPage = z.infer<typeof bankPage>

export const confirmBody = z.object({
  account: z.string(),
  groups: z
    .array(z.object({ transfers: z.array(z.string()).min(1), bankLines: z.array(z.string()).min(1) }))
    .min(1)
    .max(20_000),
})
export const confirmOutcome = z.object({
  confirmed: z.number(),
  refused: z.array(z.object({ reason: z.string(), bankLine: z.string() })),
})
export type ConfirmOutcome = z.infer<typeof confirmOutcome>
export const statementOutcome = z.object({
  added: z.number(),
  same: z.number(),
  from: localDate.nullable(),
  to: localDate.nullable(),
  accounts: z.array(z.string()),
})
export type StatementOutcome = z.infer<typeof statementOutcome>
export const statementList = z.object({
  accounts: z.array(
    z.object({
      code: z.string(),
      name: z.string(),
      currency,
      bankNumber: z.string().nullable(),
      lines: z.number(),
      from: localDate.nullable(),
      to: localDate.nullable(),
      bank: minor,
      books: minor,
      open: z.number(),
    }),
  ),
})
