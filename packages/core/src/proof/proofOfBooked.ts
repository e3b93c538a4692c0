import type { ActivityLine, SettlementHead } from '../activity/activityLine.ts'
import { isCollection, isPayout, isReserve, isStock, isTender } from '../activity/kindTraits.ts'
import { addDays } from '../activity/localDate.ts'
import type { Zone } from '../activity/zone.ts'
import { type BookedActivity, type BookedSettlement, isBooked } from '../composing/bookActivity.ts'
import type { DraftEntry } from '../composing/draft.ts'
import { lineKey, weightedLine } from '../composing/lineKey.ts'
import { type Resolution, resolveLine, tenderAccount } from '../composing/resolveLine.ts'
import { endDate, entryDateOfLine } from '../composing/settlementDates.ts'
import type { Setup, Source } from '../composing/setup.ts'
import { addMinor, sumMinor } from '../money/minor.ts'
import type { PairingProposal } from '../pairing/proposePairings.ts'
import { openOrderLimit, openOrders } from '../tieout/openOrders.ts'
import { alikePayouts, alikeTies, type NamedFact, type PayoutSeen, tiesLookedDays } from './findAlike.ts'
import { missingDays, missingNumbers } from './findMissing.ts'
import type { DocumentRef, NamedAmount, ProofInput, ProofMovement, ProofSettlement } from './proofInput.ts'

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
 * account, local date, and the balance that its sources report, minor units.
 */
export const proofOfBooked = (
  wanted: { readonly account: string; readonly date: string; readonly reported: number },
  month: BookedMonth,
): ProofInput => {
  const { setup, booked } = month
  const { account } = wanted
  const resolved = new Map<ActivityLine, Resolution | null>()
  const view: AccountView = {
    ...month,
    account,
    own: [...setup.sources.values()].filter(source => Object.values(source.clearing).includes(account)),
    resolutionOf: line => {
      const known = resolved.get(line)
      if (known !== undefined) return known
      const found = resolutionOf(line, month)
      resolved.set(line, found)
      return found
    },
  }
  const { own } = view
  const entries = booked.settlements.flatMap(one => one.composed.entries)
  const waiting = month.lines.filter(line => isOwn(line, view) && sourceOf(line, setup)?.shape !== 'channel')
  return {
    date: wanted.date,
    reported: wanted.reported,
    ledger: sumMinor(entries, entry => (entry.date <= wanted.date ? amountOn(entry, account) : 0)),
    settlements: booked.settlements.map(settlement => proofSettlement(settlement, view)),
    reserves: waiting.filter(line => staysOnBalance(line, setup)).map(line => ofSource(line, month)),
    pending: waiting.filter(line => isPending(line, setup)).map(line => ofSource(line, month)),
    unpaidOrders: booked.settlements.flatMap(one => one.lines.flatMap(line => unpaid(line, view))),
    elsewhere: booked.settlements.flatMap(one =>
      one.lines
        .filter(line => isElsewhere(line, view))
        .map(line => ({ ...dated(line, month), name: line.orderId ?? line.lineId, ref: refOfLine(line) })),
    ),
    corrections: [],
    byHand: [],
    series: own.map(source => ({
      source: source.key,
      opened: 0,
      heads: (month.heads.get(source.key) ?? []).filter(head => source.clearing[head.currency] === account),
    })),
    wrongEntries: booked.settlements.flatMap(settlement => wrongEntriesOf(settlement, view)),
    timing: setup.timing ?? null,
    alike: alikeOn(view, wanted.date),
    missing: own.flatMap(source => missingOf(source, view, wanted.date)),
    openOrders: setup.timing ? openOrdersOn(view, wanted.date) : [],
  }
}

/** Payouts of the account's sources, and tenders and collections on it, that are likely doubles. */
const alikeOn = (view: AccountView, date: string): NamedFact[] => {
  const { booked, zone } = view
  const standing = booked.settlements.flatMap(one => one.lines.map(line => ({ line, head: one.activity.head })))
  const payouts = standing.flatMap(({ line, head }): PayoutSeen[] =>
    (line.kind === 'payout' || line.kind === 'payout_returned') && isOwn(line, view)
      ? [
          {
            ...{ source: line.source, currency: line.currency, lineId: line.lineId, kind: line.kind },
            ...{ amount: line.amount, date: zone.localDate(line.instant) },
            reference: head?.payoutReference ?? null,
            arrived: arrivalOf(line, view.pairings) !== null,
          },
        ]
      : [],
  )
  const since = addDays(date, -tiesLookedDays)
  const isRecent = (line: ActivityLine) => zone.localDate(line.instant) >= since && zone.localDate(line.instant) <= date
  const ties = standing.flatMap(({ line }) =>
    isRecent(line) &&
    ((isOwn(line, view) && (isTender(line.kind) || isCollection(line.kind))) || isSentHere(line, view))
      ? [line]
      : [],
  )
  return [
    ...alikePayouts(payouts).map(({ source, lineId, date }) => ({
      ...{ name: lineId, date },
      ref: { of: 'line' as const, source, lineId },
    })),
    ...alikeTies(ties).map(line => ({
      ...{ name: line.orderId ?? line.lineId, date: zone.localDate(line.instant) },
      ref: { of: 'line' as const, source: line.source, lineId: line.lineId },
    })),
  ]
}

/** Days and statement numbers that a source left out. */
const missingOf = (source: Source, view: AccountView, date: string): NamedFact[] => {
  const days = new Set<string>()
  for (const { activity } of view.booked.settlements)
    if (activity.source === source.key && activity.day !== null) days.add(activity.day)
  const heads = (view.heads.get(source.key) ?? []).filter(
    head => source.clearing[head.currency] === view.account && (head.periodStart ?? '') <= date,
  )
  const ref = { of: 'source', source: source.key } as const
  return [
    ...missingDays(days, date)
      .filter(day => day >= (source.options.bookedFrom ?? ''))
      .map(day => ({ name: `${source.key} ${day}`, ref, date: day })),
    ...missingNumbers(heads.map(head => head.settlementId)).map(name => ({ name, ref, date })),
  ]
}

/** Orders of the account's channels that are open at a date, and were begun longer ago than orders stay open. */
const openOrdersOn = (view: AccountView, date: string): NamedFact[] => {
  const until = addDays(date, -openOrderLimit)
  const lines = view.booked.settlements.flatMap(one =>
    one.lines
      .filter(line => isOwn(line, view) && sourceOf(line, view.setup)?.shape === 'channel')
      .map(line => ({ ...line, localDate: view.zone.localDate(line.instant), elsewhere: isElsewhere(line, view) })),
  )
  const known = lines.filter(line => line.localDate <= date)
  const keyOf = ({ source, order }: { readonly source: string; readonly order: string }) =>
    JSON.stringify([source, order])
  // What another document books is paid there.
  const here = new Set(openOrders(known.filter(line => !line.elsewhere)).map(keyOf))
  return openOrders(known)
    .filter(order => order.from < until && here.has(keyOf(order)))
    .map(({ source, order, from }) => ({ name: order, ref: { of: 'order', source, order }, date: from }))
}

/** The month as one account sees it. */
interface AccountView extends BookedMonth {
  readonly account: string
  /** The sources whose clearing account it is. */
  readonly own: readonly Source[]
  readonly resolutionOf: (line: ActivityLine) => Resolution | null
}

const sourceOf = (line: ActivityLine, setup: Setup): Source | undefined => setup.sources.get(line.source)

const isOwn = (line: ActivityLine, { setup, account }: AccountView): boolean =>
  sourceOf(line, setup)?.clearing[line.currency] === account

const dated = (line: ActivityLine, { zone }: BookedMonth) => ({
  date: zone.localDate(line.instant),
  amount: line.amount,
})

const ofSource = (line: ActivityLine, month: BookedMonth): NamedAmount => ({
  ...dated(line, month),
  name: line.source,
  ref: { of: 'source', source: line.source },
})

const refOfLine = (line: ActivityLine): DocumentRef =>
  line.orderId === null
    ? { of: 'line', source: line.source, lineId: line.lineId }
    : { of: 'order', source: line.source, order: line.orderId }

const resolutionOf = (line: ActivityLine, { setup, zone }: BookedMonth): Resolution | null => {
  const source = sourceOf(line, setup)
  return source ? resolveLine(weightedLine(line, zone.localDate(line.instant)), setup, source, line.currency) : null
}

const refOf = ({ activity }: BookedSettlement): DocumentRef => ({
  of: 'settlement',
  source: activity.source,
  key: activity.settlementId ?? `day:${activity.day}`,
})

const proofSettlement = (settlement: BookedSettlement, view: AccountView): ProofSettlement => ({
  name: settlement.name,
  ref: refOf(settlement),
  state: settlement.composed.blocks.length === 0 ? 'posted' : 'blocked',
  movements: settlement.lines.flatMap(line => movementsOf(line, settlement, view)),
  payouts: settlement.lines
    .filter(line => isPayout(line.kind) && isOwn(line, view))
    .map(line => ({
      ...dated(line, view),
      lineId: line.lineId,
      transferDate: settlement.composed.entries.find(entry => entry.payoutLine === line.lineId)?.date ?? null,
      arrivedOn: arrivalOf(line, view.pairings),
      leaves: sourceOf(line, view.setup)?.options.payoutsLeaveBalance ?? 'sent',
    })),
})

/** What a line does to the account: as one of its own sources', as a tender sent there, or as both. */
const movementsOf = (line: ActivityLine, settlement: BookedSettlement, view: AccountView): ProofMovement[] => {
  const { activity, composed } = settlement
  const source = sourceOf(line, view.setup)
  const localDate = view.zone.localDate(line.instant)
  const end = composed.blocks.length === 0 ? endDate(activity) : null
  const bookedOn = end === null || !source ? null : entryDateOfLine(localDate, end, source)
  const movements: ProofMovement[] = []
  if (isOwn(line, view) && countsItself(line, view)) movements.push({ date: localDate, amount: line.amount, bookedOn })
  // It moves nothing, but a settlement that is held up is to be mended whatever its lines come to.
  else if (isOwn(line, view) && bookedOn === null) movements.push({ date: localDate, amount: 0, bookedOn })
  if (isSentHere(line, view))
    movements.push({
      date: dateOfTender(line, view),
      amount: line.amount === 0 ? 0 : -line.amount,
      bookedOn,
      tendered: true,
    })
  return movements
}

/** A collection that a tender has booked, stock, and what another document books, pass the account by. */
const countsItself = (line: ActivityLine, view: AccountView): boolean =>
  !isPayout(line.kind) && !isStock(line.kind) && !view.booked.matched.has(lineKey(line)) && !isElsewhere(line, view)

const isElsewhere = (line: ActivityLine, view: AccountView): boolean => {
  if (!isOwn(line, view) || isPayout(line.kind) || isStock(line.kind) || view.booked.matched.has(lineKey(line)))
    return false
  const resolution = view.resolutionOf(line)
  return resolution?.ok === true && resolution.elsewhere
}

/** A tender sent to the account: by its means of payment, also from a source that shares it, or by another source's route. */
const isSentHere = (line: ActivityLine, view: AccountView): boolean => {
  if (!isTender(line.kind) || view.own.length === 0) return false
  if (tenderAccount(weightedLine(line, ''), view.setup, line.currency) === view.account) return true
  const resolution = view.resolutionOf(line)
  return !isOwn(line, view) && resolution?.ok === true && !resolution.elsewhere && resolution.account === view.account
}

const amountOn = (entry: DraftEntry, account: string): number =>
  sumMinor(entry.lines, line => (line.account === account ? line.amount : 0))

// A journal holds the lines that are booked on its date, a transfer its payout: what an entry's amount on the account differs from theirs,
// no line can explain.
const wrongEntriesOf = (settlement: BookedSettlement, view: AccountView): NamedAmount[] => {
  if (settlement.composed.blocks.length > 0) return []
  const { name } = settlement
  const journals = new Map<string, number>()
  const add = (date: string, amount: number): void => {
    journals.set(date, addMinor(journals.get(date) ?? 0, amount))
  }
  for (const entry of settlement.composed.entries)
    if (entry.document === 'journal') add(entry.date, amountOn(entry, view.account))
  for (const line of settlement.lines)
    for (const { bookedOn, amount } of movementsOf(line, settlement, view))
      if (bookedOn !== null) add(bookedOn, -amount)
  const payouts = settlement.lines.filter(line => isPayout(line.kind) && isOwn(line, view))
  const transfers = payouts.map(line => {
    const made = settlement.composed.entries.filter(entry => entry.payoutLine === line.lineId)
    const amount = addMinor(
      sumMinor(made, entry => amountOn(entry, view.account)),
      -line.amount,
    )
    return [made[0]?.date ?? view.zone.localDate(line.instant), amount] as const
  })
  return [...journals, ...transfers]
    .filter(([, amount]) => amount !== 0)
    .map(([date, amount]) => ({ name, ref: refOf(settlement), date, amount }))
}

/** Shown on the balance, not booked: neither stock nor a payout that leaves the balance only when it has arrived. */
const isPending = (line: ActivityLine, setup: Setup): boolean =>
  line.status === 'pending' &&
  !isBooked(line, setup) &&
  !isStock(line.kind) &&
  !(isPayout(line.kind) && sourceOf(line, setup)?.options.payoutsLeaveBalance === 'arrived')

const staysOnBalance = (line: ActivityLine, setup: Setup): boolean =>
  isReserve(line.kind) && isBooked(line, setup) && sourceOf(line, setup)?.options.reservesStayOnBalance === true

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

// The account shows what was tendered to it, the processor what it collected.
const unpaid = (line: ActivityLine, view: AccountView): NamedAmount[] => {
  if (!isSentHere(line, view)) return []
  const collected = view.booked.collected.get(lineKey(line)) ?? 0
  const amount = addMinor(-line.amount, -collected)
  return amount === 0
    ? []
    : [{ name: line.orderId ?? line.lineId, ref: refOfLine(line), date: dateOfTender(line, view), amount }]
}
