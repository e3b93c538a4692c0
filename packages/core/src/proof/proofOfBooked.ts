import type { ActivityLine, SettlementHead } from '../activity/activityLine.ts'
import { isPayout, isReserve, isStock } from '../activity/kinds.ts'
import type { Zone } from '../activity/zone.ts'
import { type BookedActivity, isBooked, lineKey, weightedLine } from '../composing/bookActivity.ts'
import type { DraftEntry } from '../composing/draft.ts'
import { resolveLine, tenderAccount } from '../composing/resolveLine.ts'
import type { Setup, Source } from '../composing/setup.ts'
import { sumMinor } from '../money/minor.ts'
import type { PairingProposal } from '../pairing/proposePairings.ts'
import type { ProofInput } from './proveClearing.ts'

/** Activity that is booked whole, with what else a proof of it looks at. */
export interface BookedMonth {
  readonly setup: Setup
  readonly zone: Zone
  readonly lines: readonly ActivityLine[]
  /** Settlement heads per source key. */
  readonly heads: ReadonlyMap<string, readonly SettlementHead[]>
  readonly booked: BookedActivity
  /** Null where there is no bank statement. */
  readonly pairings: PairingProposal | null
}

/**
 * What the proof of a clearing account at a date is made of, where all that can be posted is: the settlements without blocks. `wanted`:
 * account, local date, and the balance that the processor reports, minor units.
 */
export const proofOfBooked = (
  wanted: { readonly account: string; readonly date: string; readonly reported: number },
  month: BookedMonth,
): ProofInput => {
  const { setup, zone, booked } = month
  const { account } = wanted
  const isOwn = (line: ActivityLine): boolean => setup.sources.get(line.source)?.clearing[line.currency] === account
  const dated = (line: ActivityLine) => ({ date: zone.localDate(line.instant), amount: line.amount })
  const own = [...setup.sources.values()].filter(source => Object.values(source.clearing).includes(account))
  const isPosted = (one: BookedActivity['settlements'][number]): boolean => one.composed.blocks.length === 0
  const entries = booked.settlements.flatMap(one => one.composed.entries)
  const elsewhere = booked.settlements.flatMap(one =>
    one.lines.filter(
      line => isOwn(line) && !isPayout(line.kind) && !isStock(line.kind) && bookedElsewhere(line, month),
    ),
  )
  const isElsewhere = new Set(elsewhere.map(lineKey))
  return {
    date: wanted.date,
    reported: wanted.reported,
    ledger: sumMinor(entries, entry => (entry.date <= wanted.date ? amountOn(entry, account) : 0)),
    settlements: booked.settlements.map(settlement => ({
      name: settlement.name,
      state: isPosted(settlement) ? 'posted' : 'blocked',
      movements: settlement.lines.flatMap(line => {
        if (isPayout(line.kind) || booked.matched.has(lineKey(line)) || isElsewhere.has(lineKey(line))) return []
        if (isOwn(line)) return isStock(line.kind) ? [] : [dated(line)]
        const sentHere = tenderAccount(weightedLine(line, ''), setup, line.currency) === account
        return sentHere ? [{ date: dateOfTender(line, month), amount: -line.amount }] : []
      }),
      payouts: settlement.lines
        .filter(line => isPayout(line.kind) && isOwn(line))
        .map(line => ({
          ...dated(line),
          lineId: line.lineId,
          transferDate: settlement.composed.entries.find(entry => entry.payoutLine === line.lineId)?.date ?? null,
          arrivedOn: arrivalOf(line, month.pairings),
        })),
      entries: settlement.composed.entries
        .filter(entry => entry.document === 'journal')
        .map(entry => ({ date: entry.date, amount: amountOn(entry, account) })),
    })),
    payoutsLeaveBalance: own[0]?.options.payoutsLeaveBalance ?? 'sent',
    reserves: month.lines.filter(line => isOwn(line) && holdsMoney(own) && staysOnBalance(line, setup)).map(dated),
    pending: month.lines.filter(line => isOwn(line) && holdsMoney(own) && isPending(line, setup)).map(dated),
    unpaidOrders: unpaidOrders(account, own, month, isElsewhere),
    elsewhere: (holdsMoney(own) ? elsewhere : []).map(line => ({ ...dated(line), name: line.orderId ?? line.lineId })),
    corrections: [],
    byHand: [],
    heads: own.flatMap(source =>
      (month.heads.get(source.key) ?? []).filter(head => source.clearing[head.currency] === account),
    ),
  }
}

/** A channel holds no money: its account is the control of its orders. */
const holdsMoney = (own: readonly Source[]): boolean => !own.every(source => source.shape === 'channel')

const amountOn = (entry: DraftEntry, account: string): number =>
  sumMinor(entry.lines, line => (line.account === account ? line.amount : 0))

/** Shown on the balance, not booked: neither stock nor a payout that leaves the balance only when it has arrived. */
const isPending = (line: ActivityLine, setup: Setup): boolean =>
  line.status === 'pending' &&
  !isBooked(line, setup) &&
  !isStock(line.kind) &&
  !(isPayout(line.kind) && setup.sources.get(line.source)?.options.payoutsLeaveBalance === 'arrived')

const staysOnBalance = (line: ActivityLine, setup: Setup): boolean =>
  isReserve(line.kind) &&
  line.status === 'available' &&
  setup.sources.get(line.source)?.options.reservesStayOnBalance === true

/** A tender stands in the gateway's account from the day on which the gateway collected it. */
const dateOfTender = (line: ActivityLine, { booked, zone }: BookedMonth): string =>
  booked.collectionDates.get(lineKey(line)) ?? zone.localDate(line.instant)

const arrivalOf = (line: ActivityLine, pairings: PairingProposal | null): string | null =>
  pairings?.pairings
    .find(
      pairing =>
        pairing.sureness !== 'possible' &&
        pairing.transfers.some(transfer => transfer.id === line.lineId && transfer.source === line.source),
    )
    ?.bankLines.at(-1)?.date ?? null

const bookedElsewhere = (line: ActivityLine, { setup, zone, booked }: BookedMonth): boolean => {
  const source = setup.sources.get(line.source)
  if (!source || booked.matched.has(lineKey(line))) return false
  const resolution = resolveLine(weightedLine(line, zone.localDate(line.instant)), setup, source, line.currency)
  return resolution.ok && resolution.elsewhere
}

// A channel holds no money: what is open on its orders is all that its account may show. At a gateway the account shows what its
// channels tendered, the processor what it collected.
const unpaidOrders = (
  account: string,
  own: readonly Source[],
  month: BookedMonth,
  isElsewhere: ReadonlySet<string>,
): NonNullable<ProofInput['unpaidOrders']> => {
  const { setup, zone, booked } = month
  const isChannel = !holdsMoney(own)
  return booked.settlements.flatMap(settlement =>
    settlement.lines.flatMap(line => {
      const name = line.orderId ?? line.lineId
      if (setup.sources.get(line.source)?.clearing[line.currency] === account) {
        if (!isChannel || isStock(line.kind) || isElsewhere.has(lineKey(line))) return []
        if (isPayout(line.kind) && own[0]?.options.payoutsLeaveBalance === 'arrived') return []
        return [{ name, date: zone.localDate(line.instant), amount: line.amount }]
      }
      if (tenderAccount(weightedLine(line, ''), setup, line.currency) !== account) return []
      const collected = booked.collected.get(lineKey(line)) ?? 0
      const amount = -line.amount - collected
      return amount === 0 ? [] : [{ name, date: dateOfTender(line, month), amount }]
    }),
  )
}
