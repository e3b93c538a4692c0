import { z } from 'zod'
import { currency, localDate, minor } from './shared.ts'

export const clearingRow = z.object({
  account: z.string(),
  name: z.string(),
  source: z.string(),
  sourceName: z.string(),
  currency,
  books: minor,
  reported: minor.nullable(),
  reportedOn: localDate.nullable(),
  unexplained: minor.nullable(),
  entries: z.number(),
})
export type ClearingRow = z.infer<typeof clearingRow>
export const clearingList = z.object({ accounts: z.array(clearingRow) })

export const proofPage = z.object({
  account: z.string(),
  name: z.string(),
  source: z.string(),
  sourceName: z.string(),
  currency,
  date: localDate,
  reportedOn: localDate.nullable(),
  ledger: minor,
  reported: minor.nullable(),
  causes: z.array(
    z.object({
      cause: z.string(),
      amount: minor,
      documents: z.array(z.object({ name: z.string(), amount: minor, link: z.string().nullable() })),
    }),
  ),
  unexplained: minor.nullable(),
  waterline: z.object({
    books: z.array(z.object({ date: localDate, balance: minor })),
    reported: z.array(z.object({ date: localDate, balance: minor })),
  }),
  ageing: z.array(minor).length(4),
})
export type ProofPage = z.infer<typeof proofPage>
