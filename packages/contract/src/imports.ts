import { z } from 'zod'
import { currency, localDate, minor } from './shared.ts'

/** Why what a file brought in cannot be taken back: something rests on it. */
export const importHolds = [
  /** A settlement with lines of it is posted. */
  'posted',
  /** A posted settlement holds lines that are the same money as lines of it. */
  'tied_posted',
  /** A posted settlement is taxed by lines of it. */
  'taxes_posted',
  /** A later pull or file has changed what it said. */
  'changed_since',
  /** Somebody has decided what a payment or a dispute of it is. */
  'decided',
  /** Bank lines of it are paired, coded or set aside, or were. */
  'bank_decided',
  /** A later file or pull told the same again, and it was left out as known: it would be lost. */
  'overlapped',
  /** Somebody has noted or asked something about a line of it. */
  'noted',
] as const
export type ImportHold = (typeof importHolds)[number]

/** What a file brought in, and what rests on it. */
export const importPage = z.object({
  jobId: z.string(),
  name: z.string(),
  sort: z.enum(['activity', 'settlements', 'balances', 'statement']),
  /** Lines, settlements or balances that it brought and that go. */
  rows: z.number(),
  /** Of them those that changed what was there: it comes back. */
  restored: z.number(),
  from: localDate.nullable(),
  to: localDate.nullable(),
  /** What its lines come to, by currency; minor units. */
  sums: z.array(z.object({ currency, amount: minor })),
  /** Settlements and days that lose lines; those that keep none go. */
  settlements: z.number(),
  /** The accounts of a statement. */
  accounts: z.array(z.string()),
  /** Empty: it can be taken back. At most ten names each. */
  holds: z.array(z.object({ code: z.enum(importHolds), count: z.number(), names: z.array(z.string()) })),
})
export type ImportPage = z.infer<typeof importPage>
