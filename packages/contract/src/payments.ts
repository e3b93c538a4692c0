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

/** What only channels or only gateways know of. */
export const tieOutPage = z.object({
  /** The version of the map whose labels these are. */
  version: mapVersion,
  /** Tenders and collections that are the same money. */
  matched: z.number(),
  /** Collections whose routes send them elsewhere: they pay invoices, not orders of a channel. */
  elsewhere: z.array(z.object({ currency, count: z.number(), amount: minor })),
  items: z.array(
    z.object({
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
    }),
  ),
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
    z.object({ as: z.literal('written_off'), account: z.string().min(1) }),
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
