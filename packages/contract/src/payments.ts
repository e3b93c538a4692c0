import { decisionSorts } from '@culvert/core'
import { z } from 'zod'
import { endpoint, nothing } from './endpoint.ts'
import { mapVersion } from './mapping.ts'
import { currency, localDate, minor } from './shared.ts'

const tieLine = z.object({
  source: z.string(),
  sourceName: z.string(),
  lineId: z.string(),
  date: localDate,
  order: z.string().nullable(),
  customer: z.string().nullable(),
  amount: minor,
  currency,
  /** Key of the settlement that the line is in. */
  settlement: z.string(),
})

/** A payment by the line that it is decided by. */
const paymentRef = z.object({ source: z.string().min(1), lineId: z.string().min(1) })

/** What one-sided payments are compared by. */
const candidate = tieLine.extend({
  evidence: z.array(z.enum(['same_amount', 'same_name', 'like_order', 'same_day'])),
  /** Local days from the tender to the collection. */
  lag: z.number(),
  /** Collected beyond what was tendered, as attaching the two would leave it. */
  difference: minor,
})

const oneSidedRow = z.object({
  sort: z.enum([
    'tender_not_collected',
    'collected_without_order',
    'refund_not_paid',
    'refund_without_order',
    'amount_differs',
  ]),
  gateway: z.string(),
  gatewayName: z.string(),
  line: tieLine,
  /** The tender of a collection whose amount differs. */
  other: tieLine.nullable(),
  /** As the gateway signs it; of a match the difference. */
  amount: minor,
  /** The line that a decision names. */
  decide: paymentRef,
  acts: z.array(z.enum(decisionSorts)),
  /** The account on which the money stands; null where it stands on none. */
  held: z.object({ account: z.string(), name: z.string() }).nullable(),
  /** Why nothing of it can be booked yet: its settlement is not posted, it stands on no account, or its route took tax out of it. */
  hindered: z.enum(['not_posted', 'no_account', 'taxed_by_route']).nullable(),
  candidates: z.array(candidate),
  proposed: z
    .discriminatedUnion('as', [
      z.object({ as: z.literal('attached'), to: paymentRef }),
      z.object({ as: z.literal('price_reduction') }),
    ])
    .nullable(),
})
export type OneSidedRow = z.infer<typeof oneSidedRow>

const decidedRow = z.object({
  line: tieLine,
  decision: z.enum(decisionSorts),
  /** As the gateway signs it, when it was decided. */
  amount: minor,
  /** The collection that it was attached to. */
  attachedTo: z.object({ source: z.string(), lineId: z.string(), order: z.string().nullable() }).nullable(),
  until: localDate.nullable(),
  account: z.string().nullable(),
  entry: z.object({ fiscalYear: z.number(), number: z.number(), date: localDate }).nullable(),
  by: z.string(),
  at: z.string(),
  note: z.string(),
  /** Whether what was decided is still what is so; if not, it is to be taken back. */
  holds: z.boolean(),
})
export type DecidedPayment = z.infer<typeof decidedRow>

/** What only channels or only gateways know of. */
export const tieOutPage = z.object({
  /** The version of the map whose labels these are. */
  version: mapVersion,
  /** Tenders and collections that are the same money. */
  matched: z.number(),
  /** Collections whose routes send them elsewhere: they pay invoices, not orders of a channel. */
  elsewhere: z.array(z.object({ currency, count: z.number(), amount: minor })),
  items: z.array(oneSidedRow),
  /** What stands decided, the latest first. */
  decided: z.array(decidedRow),
  base: currency,
  /** Local date of the client. */
  today: localDate,
  /** Up to how much of one payment may be written off, in base; null: nothing. */
  writeOffUpTo: minor.nullable(),
  /** Accounts that something can be decided to. */
  accounts: z.array(z.object({ code: z.string(), name: z.string(), type: z.string() })),
  taxCodes: z.array(z.object({ code: z.string(), name: z.string() })),
  labels: z.array(
    z.object({
      label: z.string(),
      channels: z.array(z.string()),
      /** The source it stands for; null: none. */
      source: z.string().nullable(),
      /** What was tendered by it while no source stands behind. */
      without: z.array(z.object({ currency, count: z.number(), amount: minor })),
    }),
  ),
  gateways: z.array(z.object({ source: z.string(), name: z.string() })),
})
export type TieOutPage = z.infer<typeof tieOutPage>

const account = z.string('Choose the account.').min(1, 'Choose the account.').max(40)

/** What a payment is said to be. */
export const paymentDecision = z.discriminatedUnion('as', [
  z.object({ as: z.literal('attached'), to: paymentRef }),
  z.object({ as: z.literal('price_reduction') }),
  z.object({ as: z.literal('written_off'), account }),
  z.object({ as: z.literal('gift'), account }),
  /** Of a tender the order is undone like by a refund, and no account is asked for. */
  z.object({ as: z.literal('own_test'), account: account.nullable() }),
  z.object({ as: z.literal('sale'), account, taxCode: z.string().min(1).max(40).nullable() }),
  z.object({ as: z.literal('as_routed') }),
  z.object({ as: z.literal('waits'), until: localDate }),
  z.object({ as: z.literal('set_aside') }),
])
export type PaymentDecision = z.infer<typeof paymentDecision>

/** A payment, and what is decided of it. */
export const decidedPayment = z
  .object({
    of: paymentRef,
    /** What was seen to be open, as the gateway signs it: another is decided anew. */
    amount: minor,
    decision: paymentDecision,
    note: z.string().trim().max(500).default(''),
  })
  .refine(({ decision, note }) => decision.as !== 'set_aside' || note !== '', { path: ['note'], error: 'Say why.' })

export const decidePaymentsBody = z.object({ decisions: z.array(decidedPayment).min(1).max(500) })
export type DecidePayments = z.input<typeof decidePaymentsBody>
export const undoPaymentsBody = z.object({ of: z.array(paymentRef).min(1).max(500) })
export const saveWriteOffBody = z.object({
  /** In base; null: nothing may be written off. */
  upTo: minor.positive().nullable(),
  /** What stood when it was changed. */
  from: minor.nullable(),
})

export const saveLabelsBody = z.object({
  labels: z.array(z.object({ label: z.string().min(1).max(200), source: z.string().min(1).max(60) })).max(500),
  version: mapVersion,
})

/** A payment that a buyer's bank took back, and what became of it. Amounts as the source signs them: below zero is what is disputed. */
export const disputeRow = z.object({
  source: z.string(),
  sourceName: z.string(),
  lineId: z.string(),
  date: localDate,
  order: z.string().nullable(),
  description: z.string().nullable(),
  settlement: z.string(),
  currency,
  amount: minor,
  /** What of it is still disputed. */
  left: minor,
  /** `changed`: it was decided, and its line, its settlement or what came back of it is another since; `waits`: its settlement is not posted; `elsewhere`: it is booked to no account of disputed payments. */
  state: z.enum(['open', 'won', 'written_off', 'credited', 'changed', 'waits', 'elsewhere']),
  account: z.string().nullable(),
  accountName: z.string().nullable(),
  /** The sale that it belongs to, as the tax of a credit would be that of. */
  sale: z.object({ lineId: z.string(), date: localDate }).nullable(),
  decided: z.object({ entry: z.string(), date: localDate, by: z.string(), note: z.string() }).nullable(),
})
export type DisputeRow = z.infer<typeof disputeRow>
export const disputesPage = z.object({
  today: localDate,
  disputes: z.array(disputeRow),
  /** Accounts that a loss can be written off to. */
  costs: z.array(z.object({ code: z.string(), name: z.string() })),
})
export type DisputesPage = z.infer<typeof disputesPage>
export const decideDisputeBody = z.object({
  source: z.string().min(1),
  lineId: z.string().min(1),
  /** Local date on which it was decided. */
  date: localDate,
  note: z.string().trim().max(500).default(''),
  decision: z.discriminatedUnion('as', [
    z.object({ as: z.literal('written_off'), account: z.string('Choose the account.').min(1, 'Choose the account.') }),
    z.object({ as: z.literal('credited') }),
  ]),
})
export type DecideDispute = z.input<typeof decideDisputeBody>
export const undoDisputeBody = z.object({ source: z.string().min(1), lineId: z.string().min(1) })

export const paymentEndpoints = {
  tieOut: endpoint({
    method: 'GET',
    path: '/tie-out',
    right: 'read',
    does: 'What channels say was paid, held against what gateways collected.',
    answer: tieOutPage,
  }),
  saveLabels: endpoint({
    method: 'PUT',
    path: '/tie-out/labels',
    right: 'map',
    does: 'Says which source each label of a means of payment is.',
    body: saveLabelsBody,
    answer: z.object({ version: z.number() }),
  }),
  decidePayments: endpoint({
    method: 'POST',
    path: '/tie-out/decide',
    right: 'post',
    does: 'Decides payments that only one side knows of, all of them or none.',
    body: decidePaymentsBody,
    answer: z.object({
      decided: z.number(),
      entries: z.array(z.object({ fiscalYear: z.number(), number: z.number(), date: localDate })),
    }),
  }),
  undoPayments: endpoint({
    method: 'POST',
    path: '/tie-out/undo',
    right: 'post',
    does: 'Takes back what was decided of payments: their entries are reversed, ties by hand end.',
    body: undoPaymentsBody,
    answer: z.object({ undone: z.number(), reversals: z.number() }),
  }),
  saveWriteOff: endpoint({
    method: 'PUT',
    path: '/tie-out/write-off',
    right: 'map',
    does: 'Says up to how much of one payment may be written off.',
    body: saveWriteOffBody,
    answer: nothing,
  }),
  disputes: endpoint({
    method: 'GET',
    path: '/disputes',
    right: 'read',
    does: 'Disputed payments.',
    answer: disputesPage,
  }),
  decideDispute: endpoint({
    method: 'POST',
    path: '/disputes/decide',
    right: 'post',
    does: 'Writes a disputed payment off, or credits it.',
    body: decideDisputeBody,
    answer: nothing,
  }),
  undoDispute: endpoint({
    method: 'POST',
    path: '/disputes/undo',
    right: 'post',
    does: 'Takes the decision on a disputed payment back.',
    body: undoDisputeBody,
    answer: nothing,
  }),
}
