import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { orJob } from './jobs.ts'
import { changedCount, currency, kind, listPart, localDate, minor, settlementKey } from './shared.ts'

export const settlementState = z.enum(['blocked', 'proposed', 'posted', 'set_aside', 'elsewhere'])
export type SettlementState = z.infer<typeof settlementState>

/** Why a settlement is blocked, in words. */
export const blockReasonWords: Readonly<Record<string, string>> = {
  unmapped: 'not mapped',
  tax_code_missing: 'tax code missing',
  account_unusable: 'account missing, archived or of another currency',
  rule: 'a route stops it for a person',
  does_not_foot: 'does not foot',
  rate_missing: 'exchange rate missing',
  out_of_range: 'beyond what an amount can be',
  tax_differs: 'tax seen differs from tax expected',
  likely_double: 'likely a double',
  awaits_channel: 'waits for its channel',
  order_open: 'an order is open for the same amount',
  awaits_lines: 'nothing reported for it yet',
}

export const blockRow = z.object({
  reason: z.string(),
  amount: minor,
  /** The entry that it may be the double of. */
  entry: z.string().optional(),
  /** Channels that it waits for, and the local date each is pulled to. */
  awaits: z.array(z.object({ source: z.string(), pulledTo: localDate.nullable() })).optional(),
  /** Collections without a tender, each with the open order that it is most likely of. */
  orders: z.array(z.object({ lineId: z.string(), amount: minor, source: z.string(), order: z.string() })).optional(),
  concerned: z.array(
    z.object({ kind, category: z.string().nullable(), amount: minor, count: z.number(), route: z.number().nullable() }),
  ),
})
export type BlockRow = z.infer<typeof blockRow>

export const settlementRow = settlementKey.extend({
  name: z.string(),
  sourceName: z.string(),
  state: settlementState,
  from: localDate.nullable(),
  to: localDate.nullable(),
  entryDate: localDate.nullable(),
  payoutDate: localDate.nullable(),
  gross: minor,
  fees: minor,
  tax: minor,
  payout: minor,
  balance: minor,
  lines: z.number(),
  blocks: z.array(blockRow),
  corrections: z.number(),
  correctionAmount: minor,
  setAsideReason: z.string().nullable(),
})
export type SettlementRow = z.infer<typeof settlementRow>
export const settlementList = z.object({
  rows: z.array(settlementRow),
  counts: z.record(settlementState, z.object({ count: z.number() })),
  more: z.boolean(),
})
export type SettlementList = z.infer<typeof settlementList>

/** A figure of the statement: lines alike in kind and category. `to`: places in the entry, with what goes there. */
export const statementRow = z.object({
  kind,
  category: z.string().nullable(),
  lines: z.number(),
  amount: minor,
  blocked: z.string().nullable(),
  to: z.array(z.number()),
  route: z.string().nullable(),
  taxCode: z.string().nullable(),
  /** Collections that channels' tenders have booked: they book nothing here. */
  matched: z.boolean(),
})
export type StatementRow = z.infer<typeof statementRow>

export const entryLineRow = z.object({
  account: z.string(),
  accountName: z.string(),
  taxCode: z.string(),
  segments: z.string(),
  amount: minor,
  baseAmount: minor,
})
export const draftEntry = z.object({
  document: z.string(),
  date: localDate,
  currency,
  number: z.string().nullable(),
  lines: z.array(entryLineRow),
})
export type DraftEntryBody = z.infer<typeof draftEntry>

export const settlementPage = settlementRow.extend({
  openingBalance: minor.nullable(),
  closingBalance: minor.nullable(),
  payoutReference: z.string().nullable(),
  base: currency,
  statement: z.array(statementRow),
  entries: z.array(draftEntry),
  generation: z.number(),
  /** Different orders that its lines name. */
  orders: z.number(),
  earlier: z.array(z.object({ number: z.string(), document: z.string(), date: localDate, generation: z.number() })),
  /** Of a blocked one: channels that tender to its source, and the local date each is known to. */
  channels: z.array(z.object({ source: z.string(), name: z.string(), pulledTo: localDate.nullable() })),
  place: z.object({
    index: z.number(),
    count: z.number(),
    previous: settlementKey.nullable(),
    next: settlementKey.nullable(),
  }),
  correctionLines: z.array(z.object({ lineId: z.string(), kind, before: minor.nullable(), after: minor })),
})
export type SettlementPage = z.infer<typeof settlementPage>

export const activityRow = z.object({
  source: z.string(),
  lineId: z.string(),
  revision: z.number(),
  occurredAt: z.string(),
  localDate,
  kind,
  orderId: z.string().nullable(),
  category: z.string().nullable(),
  sku: z.string().nullable(),
  description: z.string().nullable(),
  region: z.string().nullable(),
  amount: minor,
  taxAmount: minor.nullable(),
  status: z.string(),
  currency,
})
export type ActivityRow = z.infer<typeof activityRow>
export const activityList = z.object({ lines: z.array(activityRow), total: z.number(), sum: minor })
export type ActivityList = z.infer<typeof activityList>

export const keysBody = z.object({ keys: z.array(settlementKey).min(1).max(20_000) })
export const setAsideBody = keysBody.extend({ reason: z.string().trim().min(1).max(500) })

export const postOutcome = z.object({
  posted: z.array(settlementKey),
  entries: z.number(),
  notPosted: z.array(
    z.discriminatedUnion('reason', [
      z.object({ key: settlementKey, reason: z.enum(['unknown', 'posted', 'set_aside', 'elsewhere']) }),
      z.object({ key: settlementKey, reason: z.literal('blocked'), blocks: z.array(blockRow) }),
    ]),
  ),
  /** How many were not tried any more after something went wrong in the midst. */
  brokenOff: z.object({ left: z.number() }).nullable(),
})
export type PostOutcome = z.infer<typeof postOutcome>
export const takeBackOutcome = z.object({
  takenBack: z.array(settlementKey),
  entries: z.number(),
  refused: z.array(z.object({ key: settlementKey, reason: z.enum(['not_posted', 'paired']) })),
  brokenOff: z.object({ left: z.number() }).nullable(),
})
export type TakeBackOutcome = z.infer<typeof takeBackOutcome>

export const settlementEndpoints = {
  settlements: endpoint({
    method: 'GET',
    path: '/settlements',
    right: 'read',
    does: 'Settlements by state, source and date.',
    query: listPart.extend({
      state: z.string().optional(),
      source: z.string().optional(),
      from: z.string().optional(),
      to: z.string().optional(),
    }),
    answer: settlementList,
  }),
  settlement: endpoint({
    method: 'GET',
    path: '/settlements/:source/:key/:currency',
    right: 'read',
    does: 'One settlement: its statement and its entries.',
    answer: settlementPage,
  }),
  settlementLines: endpoint({
    method: 'GET',
    path: '/settlements/:source/:key/:currency/lines',
    right: 'read',
    does: 'The lines behind a figure of a statement.',
    query: z.object({ kind: z.string(), category: z.string().default('') }),
    answer: activityList,
  }),
  post: endpoint({
    method: 'POST',
    path: '/settlements/post',
    right: 'post',
    does: 'Posts settlements.',
    body: keysBody,
    answer: orJob(postOutcome),
  }),
  takeBack: endpoint({
    method: 'POST',
    path: '/settlements/take-back',
    right: 'post',
    does: 'Takes posted settlements back.',
    body: keysBody,
    answer: orJob(takeBackOutcome),
  }),
  setAside: endpoint({
    method: 'POST',
    path: '/settlements/set-aside',
    right: 'settle',
    does: 'Sets settlements aside, with a reason.',
    body: setAsideBody,
    answer: changedCount,
  }),
  sayNoDouble: endpoint({
    method: 'POST',
    path: '/settlements/no-double',
    right: 'settle',
    does: 'Says of settlements that they are no doubles of what is in the ledger.',
    body: keysBody,
    answer: changedCount,
  }),
  takeUp: endpoint({
    method: 'POST',
    path: '/settlements/take-up',
    right: 'settle',
    does: 'Takes settlements up again.',
    body: keysBody,
    answer: changedCount,
  }),
  correct: endpoint({
    method: 'POST',
    path: '/settlements/:source/:key/:currency/correction',
    right: 'post',
    does: 'Books what has changed since a settlement was posted.',
    answer: changedCount,
  }),
}
