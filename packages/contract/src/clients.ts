import { z } from 'zod'
import { currency, localDate, minor } from './shared.ts'

export const stageNames = [
  'sources',
  'mapping',
  'settlements',
  'payments',
  'clearing',
  'bank',
  'books',
  'close',
] as const
export const stageName = z.enum(stageNames)
export type StageName = z.infer<typeof stageName>

/** What waits at a stage. `amount` in the client's base currency, minor units. */
export const stageSummary = z.object({ stage: stageName, waiting: z.number().int(), amount: minor, note: z.string() })
export type StageSummary = z.infer<typeof stageSummary>

export const clientFacts = z.object({
  clientId: z.number().int(),
  name: z.string(),
  base: currency,
  timeZone: z.string(),
  locale: z.string(),
  role: z.string(),
})
export type ClientFacts = z.infer<typeof clientFacts>

export const session = z.object({
  user: z.object({ name: z.string(), email: z.string() }),
  clients: z.array(clientFacts.extend({ stages: z.array(stageSummary) })),
})
export type Session = z.infer<typeof session>

export const course = z.object({
  client: clientFacts,
  stages: z.array(stageSummary),
  /** Last local date of any activity or bank line: what "lately" is counted from. Null without data. */
  latest: localDate.nullable(),
  pulledTo: z.string().nullable(),
})
export type Course = z.infer<typeof course>

export const newClient = z.object({
  name: z.string().trim().min(1).max(200),
  base: currency,
  timeZone: z.string(),
  cutOff: z.string().default('00:00'),
  locale: z.string().default('en-IE'),
  exchangeRounding: z.string().nullable().default(null),
  /** Account for what foreign balances gain or lose when they are paid out. */
  exchangeDifference: z.string().nullable().default(null),
})
export type NewClient = z.input<typeof newClient>

export const foundItem = z.object({
  sort: z.enum(['settlement', 'order', 'line', 'entry', 'bank_line', 'transfer', 'account', 'page']),
  title: z.string(),
  detail: z.string(),
  amount: minor.nullable(),
  currency: currency.nullable(),
  link: z.string(),
})
export type FoundItem = z.infer<typeof foundItem>
export const findResult = z.object({ items: z.array(foundItem) })
