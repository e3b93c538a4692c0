import { addDays, daysBetween } from '../activity/localDate.ts'
import { type ReadText, readText } from './bankWording.ts'
import { Bindings } from './bindings.ts'
import { chooseLikely, choosePossible, scoreOf } from './choosePairings.ts'
import { exactGroupings } from './exactGroupings.ts'
import { OpenAmounts } from './openAmounts.ts'
import {
  byDateAndId,
  type Grouping,
  keyOfLine,
  keyOfTransfer,
  keysOf,
  lagDays,
  type OpenBankLine,
  type OpenTransfer,
  type PairingOptions,
  textOfLine,
} from './pairingItems.ts'
import { type Context, compareGroupings, idOf, type Pairing, type PairingEvidence, type Sureness } from './pairings.ts'
import { Payers } from './payers.ts'

export interface PairingProposal {
  readonly pairings: readonly Pairing[]
  /** Items whose windows were too crowded to look for groups. */
  readonly groupsNotSearched: readonly string[]
  /** Items for which too many groupings fit to choose, with the count. */
  readonly tooManyFit: readonly { readonly id: string; readonly count: number }[]
}

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
    !overlapping(grouping, context).some(other => referenceFound(other, bindings)) &&
    !mayBeMistyped(grouping, context)
  )
    return { certain: true, waitsFor: null }
  if (!certainByName(grouping, context)) return { certain: false, waitsFor: null }
  if (options.completeTo === null) return { certain: true, waitsFor: null }
  const end = windowEnd(grouping, options)
  return options.completeTo >= end ? { certain: true, waitsFor: null } : { certain: false, waitsFor: end }
}

// A reference that is cut off or mistyped may be that of another payout: then its own stands in no bank line.
const mayBeMistyped = ({ transfers }: Grouping, { options, open, bindings }: Context): boolean =>
  options.doubtReferences === true &&
  transfers.some(payout =>
    open.equalPayouts(payout).some(other => !transfers.includes(other) && bindings.isUnborne(other)),
  )

/** Whether a bank line names another source besides that of its payouts: it may be a deposit of both. */
const namesAnother = ({ bankLines, transfers }: Grouping, { options, payers }: Context): boolean =>
  options.doubtReferences === true &&
  bankLines.some(line => payers.carriesAnother(line, (transfers[0] as OpenTransfer).source))

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
    !namesAnother(grouping, context) &&
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
