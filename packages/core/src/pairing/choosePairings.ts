import { dayNumber } from '../activity/localDate.ts'
import { assignEqual } from './assignEqual.ts'
import { bestDisjoint, components, type Weighed, weigh } from './bestDisjoint.ts'
import type { Bindings } from './bindings.ts'
import { type ExactGroupings, maxComponent } from './exactGroupings.ts'
import { groupBy } from './groupBy.ts'
import { type Grouping, keyed, keysOf, type OpenBankLine, type OpenTransfer } from './pairingItems.ts'
import { type Context, compareGroupings, idOf, maxGroupingsOfItem, type PairingEvidence } from './pairings.ts'

/** Points by which people may sort what is not certain; they never make anything certain. */
export const scoreOf = (evidence: PairingEvidence): number =>
  (evidence.exactSum ? 4 : 0) +
  (evidence.referenceFound ? 4 : 0) +
  (evidence.payerNamed ? 2 : 0) +
  (evidence.lagUsual ? 1 : 0) +
  (evidence.consecutive ? 1 : 0)

const isOneToOne = ({ bankLines, transfers }: Grouping): boolean => bankLines.length === 1 && transfers.length === 1

/** Chooses among exact groupings that touch no certain one, or says for which items too many fit. */
export const chooseLikely = (groupings: readonly Grouping[], exact: ExactGroupings, bindings: Bindings) => {
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

/** What is left, where nothing tells one grouping from another: the best of each item, with the others that fit it. */
export const choosePossible = (
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
