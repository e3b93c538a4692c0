import type { PaymentDecision } from '@culvert/contract'
import { type BookedDecision, composeDecision, isTender, movedByDecision, type OneSidedItem } from '@culvert/core'
import { Refused } from '../access/refused.ts'
import { loadSupplies } from '../activity/supplies.ts'
import type { Transaction } from '../database/connect.ts'
import type { BookingDays } from '../ledger/bookingDay.ts'
import type { NewEntry } from '../ledger/writeEntries.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'
import type { Held } from './heldMoney.ts'

/** How a decision is booked; null where it is not: what is attached is booked by its tender, and what waits, is set aside or is as its route says stays as it is. */
const bookedAs = (decision: PaymentDecision, item: OneSidedItem): BookedDecision | null => {
  switch (decision.as) {
    case 'price_reduction':
      return { as: 'like_discount' }
    case 'own_test':
      if (isTender(item.line.kind)) return { as: 'like_refund' }
      if (decision.account === null) throw new Refused('account_missing')
      return { as: 'to_account', account: decision.account, taxCode: null }
    case 'written_off':
    case 'gift':
      return { as: 'to_account', account: decision.account, taxCode: null }
    case 'sale':
      return { as: 'to_account', account: decision.account, taxCode: decision.taxCode }
    default:
      return null
  }
}

/** The entry of a decision, dated `date`; null where nothing of it is booked. @throws Refused where it cannot be */
export const composePayment = async (
  tx: Transaction,
  client: ClientSetup,
  of: {
    readonly item: OneSidedItem
    readonly held: Held
    readonly decision: PaymentDecision
    readonly date: string
    readonly days: BookingDays
  },
): Promise<NewEntry | null> => {
  const { item, held, date } = of
  const decision = bookedAs(of.decision, item)
  if (decision === null) return null
  const { line } = held
  if (decision.as === 'to_account') checkAccount(client, decision.account)
  if (held.hindered !== null || held.account === null)
    throw new Refused('payment_hindered', { line: line.lineId, why: held.hindered ?? 'no_account' })
  const { book } = await loadSupplies(tx, client, [], 'now', {
    source: line.source,
    lineId: line.relatedId,
    orderId: line.orderId,
  })
  const amount = movedByDecision(item)
  const composed = composeDecision(line, decision, {
    setup: client.setup,
    book,
    account: held.account.account,
    date,
    amount,
  })
  const [block] = composed.blocks
  if (block) throw new Refused('decision_not_bookable', { line: line.lineId, reason: block.reason })
  const [entry, ...more] = composed.entries
  if (!entry || more.length > 0) throw new Refused('nothing_left')
  return {
    date: of.days.dayFor(entry),
    document: 'decision',
    source: null,
    key: null,
    generation: null,
    currency: entry.currency,
    payoutLine: null,
    memo: `${memoOf[of.decision.as]} ${line.orderId ?? line.lineId}`,
    reverses: null,
    lines: entry.lines.map(one => ({ ...one, buckets: [], routes: [] })),
  }
}

/** Types of account that something can be decided to: all others move by documents of their own, and their proofs would name it. */
export const decisionAccountTypes = [
  'income',
  'other_income',
  'expense',
  'cost_of_sales',
  'current_asset',
  'current_liability',
  'equity',
] as const
const takesDecisions: ReadonlySet<string> = new Set(decisionAccountTypes)

const checkAccount = ({ setup }: ClientSetup, account: string): void => {
  const known = setup.accounts.get(account)
  if (known && !takesDecisions.has(known.type)) throw new Refused('account_not_for_decisions', { account })
}

const memoOf: Record<PaymentDecision['as'], string> = {
  attached: 'attached',
  price_reduction: 'price reduction of',
  written_off: 'written off of',
  gift: 'gift',
  own_test: 'own test',
  sale: 'sale without an order',
  as_routed: 'as routed',
  waits: 'waits',
  set_aside: 'set aside',
}
