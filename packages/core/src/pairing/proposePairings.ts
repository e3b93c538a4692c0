import { addDays, dayNumber, daysBetween } from '../activity/localDate.ts'
import { assignEqual } from './assignEqual.ts'
import { type ReadText, readText } from './bankWording.ts'
import { bestDisjoint, components, type Weighed, weigh } from './bestDisjoint.ts'
import { Bindings } from './bindings.ts'
import { type ExactGroupings, exactGroupings, maxComponent } from './exactGroupings.ts'
import { groupBy } from './groupBy.ts'
import { OpenAmounts } from './openAmounts.ts'
import {
  byDateAndId,
  type Grouping,
  keyed,
  keyOfLine,
  keyOfTransfer,
  keysOf,
  lagDays,
  type OpenBankLine,
  type OpenTransfer,
  type PairingOptions,
  textOfLine,
} from './pairingItems.ts'
import { Payers } from './payers.ts'

export type Sureness = 'certain' | 'likely' | 'possible'

export interface PairingEvidence {
  readonly exactSum: boolean
  readonly payerNamed: boolean
  readonly referenceFound: boolean
  /** Days from the last payout to the last bank line. */
  readonly lagDays: number
  /** Within what the source's deposits took so far; null where nothing is known of them. */
  readonly lagUsual: boolean | null
  /** Its payouts follow each other at their source; null for 1:1. */
  readonly consecutive: boolean | null
}

export interface Pairing extends Grouping {
  readonly sureness: Sureness
  /** Deposited less paid out, minor units: zero but for a possible pairing. */
  readonly difference: number
  readonly evidence: PairingEvidence
  /** What the evidence adds up to, in points: an order among what is not certain. */
  readonly score: number
  /** Other exact groupings that share a member. */
  readonly others: readonly Grouping[]
  /** Certain but for data not yet known: until this date (local) both sides must be pulled. */
  readonly waitsFor: string | null
}

export interface PairingProposal {
  readonly pairings: readonly Pairing[]
  /** Items whose windows were too crowded to look for groups. */
  readonly groupsNotSearched: readonly string[]
  /** Items for which too many groupings fit to choose, with the count. */
  readonly tooManyFit: readonly { readonly id: string; readonly count: number }[]
}

/** Exact groupings of one item beyond which none of them is likely. */
const maxGroupingsOfItem = 50
/** Other groupings shown beside a pairing. */
const maxOthersShown = 20

/** Proposes which bank lines and transfers are the same money, and how sure that is. */
export const proposePairings = (
  transfers: readonly OpenTransfer[],
  bankLines: readonly OpenBankLine[],
  options: PairingOptions,
): PairingProposal => {
  const texts = new Map(bankLines.map(line => [line, readText(textOfLine(line))]))
  const textOf = (line: OpenBankLine): ReadText => texts.get(line) as ReadText
  const bindings = new Bindings(transfers, bankLines, options, textOf)
  const payers = new Payers(transfers, options, textOf)
  const exact = exactGroupings(transfers, bankLines, options, bindings)
  const groupings = [...exact.groupings].sort(compareGroupings)
  const context: Context = {
    options,
    exact,
    bindings,
    payers,
    open: new OpenAmounts(transfers, bankLines, payers),
    byItem: indexByItem(groupings),
    order: orderBySource(transfers),
  }
  const certain = groupings.flatMap(grouping =>
    judge(grouping, context).certain ? [pairing(grouping, 'certain', context)] : [],
  )
  const taken = new Set(certain.flatMap(keysOf))
  const free = groupings.filter(grouping => !keysOf(grouping).some(key => taken.has(key)))
  const { chosen, tooManyFit } = chooseLikely(free, exact, bindings)
  const likely = chosen.map(grouping => pairing(grouping, 'likely', context))
  for (const key of likely.flatMap(keysOf)) taken.add(key)
  const possible = choosePossible(
    transfers.filter(transfer => !taken.has(keyOfTransfer(transfer))),
    bankLines.filter(line => !taken.has(keyOfLine(line))),
    { options, bindings },
  ).map(grouping => pairing(grouping, 'possible', context))
  return {
    pairings: [...certain, ...likely, ...possible].sort(compareGroupings),
    groupsNotSearched: [...exact.groupsNotSearched].map(idOf).sort(),
    tooManyFit,
  }
}

const idOf = (key: string): string => key.slice(1)

interface Context {
  readonly options: PairingOptions
  readonly exact: ExactGroupings
  readonly bindings: Bindings
  readonly payers: Payers
  readonly open: OpenAmounts
  readonly byItem: ReadonlyMap<string, readonly Grouping[]>
  /** Place of each transfer among those of its source, by id. */
  readonly order: ReadonlyMap<string, number>
}

const orderBySource = (transfers: readonly OpenTransfer[]): Map<string, number> => {
  const next = new Map<string, number>()
  const order = new Map<string, number>()
  for (const { id, source } of [...transfers].sort(byDateAndId)) {
    const place = next.get(source) ?? 0
    order.set(id, place)
    next.set(source, place + 1)
  }
  return order
}

const compareLists = (
  left: readonly { date: string; id: string }[],
  right: readonly { date: string; id: string }[],
): number => {
  for (let at = 0; at < Math.min(left.length, right.length); at++) {
    const order = byDateAndId(left[at] as { date: string; id: string }, right[at] as { date: string; id: string })
    if (order !== 0) return order
  }
  return left.length - right.length
}
/** A grouping is the list of its bank lines, then of its transfers, by (date, id). */
const compareGroupings = (left: Grouping, right: Grouping): number =>
  compareLists(left.bankLines, right.bankLines) || compareLists(left.transfers, right.transfers)

const indexByItem = (groupings: readonly Grouping[]): Map<string, Grouping[]> => {
  const byItem = new Map<string, Grouping[]>()
  for (const grouping of groupings)
    for (const key of keysOf(grouping)) {
      const list = byItem.get(key)
      if (list) list.push(grouping)
      else byItem.set(key, [grouping])
    }
  return byItem
}

const overlapping = (grouping: Grouping, { byItem }: Context): Grouping[] => {
  const keys = keysOf(grouping)
  // Most share nothing with any other.
  if (keys.every(key => (byItem.get(key)?.length ?? 0) < 2)) return []
  return [...new Set(keys.flatMap(key => byItem.get(key) ?? []))].filter(other => other !== grouping)
}

const payerNamed = ({ bankLines, transfers }: Grouping, payers: Payers): boolean =>
  bankLines.every(line => transfers.every(transfer => payers.named(line) === transfer.source))

const referenceFound = ({ bankLines, transfers }: Grouping, bindings: Bindings): boolean =>
  bankLines.every(line => transfers.every(transfer => bindings.bears(line, transfer)))

/** Last date on which something could still arrive that fits a member of the grouping. */
const windowEnd = (grouping: Grouping, options: PairingOptions): string => {
  const last = grouping.transfers.reduce((latest, transfer) => (transfer.date > latest ? transfer.date : latest), '')
  return addDays(last, options.windowDays)
}

const judge = (grouping: Grouping, context: Context): { certain: boolean; waitsFor: string | null } => {
  const { options, bindings } = context
  if (
    referenceFound(grouping, bindings) &&
    !overlapping(grouping, context).some(other => referenceFound(other, bindings))
  )
    return { certain: true, waitsFor: null }
  if (!certainByName(grouping, context)) return { certain: false, waitsFor: null }
  if (options.completeTo === null) return { certain: true, waitsFor: null }
  const end = windowEnd(grouping, options)
  return options.completeTo >= end ? { certain: true, waitsFor: null } : { certain: false, waitsFor: end }
}

/** Receipts that name their payer, that nothing else fits, and beside which nothing of the payer's is alike, or could have been cut to them. */
const certainByName = (grouping: Grouping, context: Context): boolean => {
  const { exact, payers, open } = context
  if ((grouping.transfers[0] as OpenTransfer).amount <= 0) return false
  const alone = keysOf(grouping).every(
    key => exact.counts.get(key) === 1 && !exact.groupsNotSearched.has(key) && !exact.crowded.has(key),
  )
  return (
    alone &&
    payerNamed(grouping, payers) &&
    !open.anyAlike(grouping) &&
    !open.anyTwoAlike(grouping) &&
    !grouping.bankLines.some(line => mayBeCut(line, grouping, context))
  )
}

/** Whether a bank line is lower by up to the fee than an open payout of its source, outside its grouping, that it may be grouped with. */
const mayBeCut = (line: OpenBankLine, { transfers }: Grouping, { options, open, bindings }: Context): boolean => {
  const { bankFeeUpTo, windowDays } = options
  if (bankFeeUpTo === null) return false
  const [{ source }] = transfers as [OpenTransfer]
  return open
    .payoutsBefore(line, source, windowDays)
    .some(
      payout =>
        payout.amount > line.amount &&
        payout.amount - line.amount <= bankFeeUpTo &&
        !transfers.includes(payout) &&
        bindings.mayMeet(line, payout, windowDays),
    )
}

const pairing = (grouping: Grouping, sureness: Sureness, context: Context): Pairing => {
  const deposited = grouping.bankLines.reduce((sum, line) => sum + line.amount, 0)
  const paid = grouping.transfers.reduce((sum, transfer) => sum + transfer.amount, 0)
  const evidence = evidenceOf(grouping, context, deposited === paid)
  return {
    bankLines: grouping.bankLines,
    transfers: grouping.transfers,
    sureness,
    difference: deposited - paid,
    others:
      sureness === 'possible'
        ? []
        : overlapping(grouping, context)
            .slice(0, maxOthersShown)
            .map(({ bankLines, transfers }) => ({ bankLines, transfers })),
    waitsFor: sureness === 'likely' ? judge(grouping, context).waitsFor : null,
    evidence,
    score: scoreOf(evidence),
  }
}

const evidenceOf = (
  grouping: Grouping,
  { options, order, payers, bindings }: Context,
  exactSum: boolean,
): PairingEvidence => {
  const { bankLines, transfers } = grouping
  const lag = lagDays(grouping, daysBetween)
  const usual = options.usualLags?.get(transfers[0]?.source ?? '')
  const places = transfers.map(transfer => order.get(transfer.id) as number)
  return {
    exactSum,
    payerNamed: payerNamed(grouping, payers),
    referenceFound: referenceFound(grouping, bindings),
    lagDays: lag,
    lagUsual: usual === undefined ? null : usual.from <= lag && lag <= usual.to,
    consecutive:
      transfers.length === 1 && bankLines.length === 1
        ? null
        : places.every((place, index) => index === 0 || place === (places[index - 1] as number) + 1),
  }
}

/** Points by which people may sort what is not certain; they never make anything certain. */
const scoreOf = (evidence: PairingEvidence): number =>
  (evidence.exactSum ? 4 : 0) +
  (evidence.referenceFound ? 4 : 0) +
  (evidence.payerNamed ? 2 : 0) +
  (evidence.lagUsual ? 1 : 0) +
  (evidence.consecutive ? 1 : 0)

const isOneToOne = ({ bankLines, transfers }: Grouping): boolean => bankLines.length === 1 && transfers.length === 1

/** Chooses among exact groupings that touch no certain one, or says for which items too many fit. */
const chooseLikely = (groupings: readonly Grouping[], exact: ExactGroupings, bindings: Bindings) => {
  const chosen: Grouping[] = []
  const tooMany = new Set<string>(exact.overfull)
  for (const component of components(groupings.map(grouping => weigh(grouping, keysOf(grouping).length)))) {
    const members = component.map(one => one.grouping)
    if (members.every(isOneToOne)) chosen.push(...assigned(component, bindings))
    else if (component.length > maxComponent) for (const key of members.flatMap(keysOf)) tooMany.add(key)
    else {
      const crowded = new Set(members.flatMap(keysOf).filter(key => (exact.counts.get(key) ?? 0) > maxGroupingsOfItem))
      for (const key of crowded) tooMany.add(key)
      const rest = component.filter(one => !keysOf(one.grouping).some(key => crowded.has(key)))
      for (const part of components(rest)) chosen.push(...solved(part, tooMany, bindings))
    }
  }
  return {
    chosen,
    tooManyFit: [...tooMany].sort().map(key => ({
      id: idOf(key),
      count: exact.overfull.has(key) ? maxComponent + 1 : (exact.counts.get(key) ?? 0),
    })),
  }
}

/** The best of equal amounts 1:1. What references bind does not keep to the order of dates, and is solved as any other grouping is. */
const assigned = (component: readonly Weighed[], bindings: Bindings): Grouping[] => {
  const members = component.map(one => one.grouping)
  const anyBound = members.some(({ bankLines }) => bankLines.some(line => bindings.isBound(line)))
  const best = anyBound ? bestDisjoint(component) : null
  return best?.map(one => one.grouping) ?? assignEqual(members)
}

const solved = (part: readonly Weighed[], tooMany: Set<string>, bindings: Bindings): Grouping[] => {
  const members = part.map(one => one.grouping)
  if (members.every(isOneToOne)) return assigned(part, bindings)
  const best = bestDisjoint(part)
  if (best === null) for (const key of members.flatMap(keysOf)) tooMany.add(key)
  return (best ?? []).map(one => one.grouping)
}

const choosePossible = (
  transfers: readonly OpenTransfer[],
  bankLines: readonly OpenBankLine[],
  { options, bindings }: Pick<Context, 'options' | 'bindings'>,
): Grouping[] => {
  const { bankFeeUpTo, windowDays } = options
  if (bankFeeUpTo === null) return []
  const byDay = groupBy(transfers, transfer => dayNumber(transfer.date))
  const open = new Set(transfers)
  const isShort = (transfer: OpenTransfer, line: OpenBankLine): boolean => {
    const short = transfer.amount - line.amount
    const sameMoney = transfer.bankAccount === line.bankAccount && transfer.currency === line.currency
    return (
      sameMoney && line.amount > 0 && short > 0 && short <= bankFeeUpTo && bindings.mayMeet(line, transfer, windowDays)
    )
  }
  const inWindow = (line: OpenBankLine): readonly OpenTransfer[] => {
    const day = dayNumber(line.date)
    return Array.from({ length: windowDays + 1 }, (_, lag) => byDay.get(day - lag) ?? []).flat()
  }
  const candidates = bankLines.flatMap(line => {
    const near = bindings.isBound(line) ? bindings.borne(line).filter(transfer => open.has(transfer)) : inWindow(line)
    return near
      .filter(transfer => isShort(transfer, line))
      .map(transfer => weigh(keyed({ bankLines: [line], transfers: [transfer] }), transfer.amount - line.amount))
  })
  candidates.sort((left, right) => compareGroupings(left.grouping, right.grouping))
  return components(candidates).flatMap(component => (bestDisjoint(component) ?? []).map(one => one.grouping))
}
