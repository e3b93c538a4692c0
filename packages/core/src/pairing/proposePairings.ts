import { addDays, daysBetween } from '../activity/localDate.ts'
import { assignEqual } from './assignEqual.ts'
import { containsWords, isTellingReference } from './bankWording.ts'
import { bestDisjoint, components, weigh } from './bestDisjoint.ts'
import { exactGroupings } from './exactGroupings.ts'
import {
  byDateAndId,
  type Grouping,
  type OpenBankLine,
  type OpenTransfer,
  type PairingOptions,
} from './pairingItems.ts'

export type Sureness = 'certain' | 'likely' | 'possible'

export interface Pairing extends Grouping {
  readonly sureness: Sureness
  /** Deposited less paid out, minor units: zero but for a possible pairing. */
  readonly difference: number
  readonly evidence: {
    readonly exactSum: boolean
    readonly payerNamed: boolean
    readonly referenceFound: boolean
    readonly lagDays: number
  }
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

const maxGroupingsOfItem = 50
const maxComponent = 200

/** Proposes which bank lines and transfers are the same money, and how sure that is. */
export const proposePairings = (
  transfers: readonly OpenTransfer[],
  bankLines: readonly OpenBankLine[],
  options: PairingOptions,
): PairingProposal => {
  const exact = exactGroupings(transfers, bankLines, options)
  const groupings = [...exact.groupings].sort(compareGroupings)
  const byItem = indexByItem(groupings)
  const certain = groupings.flatMap(grouping => {
    const others = overlapping(grouping, byItem)
    const judged = judge(grouping, others, { options, groupsNotSearched: exact.groupsNotSearched })
    return judged.certain ? [pairing(grouping, 'certain', { options, others, waitsFor: null })] : []
  })
  const taken = new Set(certain.flatMap(idsOf))
  const free = groupings.filter(grouping => !idsOf(grouping).some(id => taken.has(id)))
  const { chosen, tooManyFit } = chooseLikely(free)
  const likely = chosen.map(grouping => {
    const others = overlapping(grouping, byItem)
    const { waitsFor } = judge(grouping, others, { options, groupsNotSearched: exact.groupsNotSearched })
    return pairing(grouping, 'likely', { options, others, waitsFor })
  })
  for (const id of likely.flatMap(idsOf)) taken.add(id)
  const possible = choosePossible(
    transfers.filter(transfer => !taken.has(`t${transfer.id}`)),
    bankLines.filter(line => !taken.has(`b${line.id}`)),
    options,
  )
  return {
    pairings: [...certain, ...likely, ...possible].sort(compareGroupings),
    groupsNotSearched: [...exact.groupsNotSearched].sort(),
    tooManyFit,
  }
}

const idsOf = (grouping: Grouping): string[] => [
  ...grouping.bankLines.map(line => `b${line.id}`),
  ...grouping.transfers.map(transfer => `t${transfer.id}`),
]

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
    for (const id of idsOf(grouping)) {
      const list = byItem.get(id)
      if (list) list.push(grouping)
      else byItem.set(id, [grouping])
    }
  return byItem
}

const overlapping = (grouping: Grouping, byItem: ReadonlyMap<string, readonly Grouping[]>): Grouping[] =>
  [...new Set(idsOf(grouping).flatMap(id => byItem.get(id) ?? []))].filter(other => other !== grouping)

const textOf = (line: OpenBankLine): string => `${line.reference} \n ${line.description}`

const namesPayer = (line: OpenBankLine, source: string, options: PairingOptions): boolean =>
  [source, ...(options.bankTexts.get(source) ?? [])].some(wording => containsWords(textOf(line), wording))

const payerNamed = ({ bankLines, transfers }: Grouping, options: PairingOptions): boolean =>
  bankLines.every(line => transfers.every(transfer => namesPayer(line, transfer.source, options)))

const referenceFound = ({ bankLines, transfers }: Grouping): boolean =>
  bankLines.every(line =>
    transfers.every(
      transfer => isTellingReference(transfer.reference) && containsWords(textOf(line), transfer.reference),
    ),
  )

/** Last date on which something could still arrive that fits a member of the grouping. */
const windowEnd = (grouping: Grouping, options: PairingOptions): string => {
  const last = grouping.transfers.reduce((latest, transfer) => (transfer.date > latest ? transfer.date : latest), '')
  return addDays(last, options.windowDays)
}

const judge = (
  grouping: Grouping,
  others: readonly Grouping[],
  context: { options: PairingOptions; groupsNotSearched: ReadonlySet<string> },
): { certain: boolean; waitsFor: string | null } => {
  if (referenceFound(grouping) && !others.some(referenceFound)) return { certain: true, waitsFor: null }
  const { options } = context
  const searched = [...grouping.bankLines, ...grouping.transfers].every(item => !context.groupsNotSearched.has(item.id))
  if (others.length > 0 || !searched || !payerNamed(grouping, options)) return { certain: false, waitsFor: null }
  const end = windowEnd(grouping, options)
  return options.completeTo === null || options.completeTo >= end
    ? { certain: true, waitsFor: null }
    : { certain: false, waitsFor: end }
}

const pairing = (
  grouping: Grouping,
  sureness: Sureness,
  context: { options: PairingOptions; others: readonly Grouping[]; waitsFor: string | null },
): Pairing => {
  const deposited = grouping.bankLines.reduce((sum, line) => sum + line.amount, 0)
  const paid = grouping.transfers.reduce((sum, transfer) => sum + transfer.amount, 0)
  return {
    ...grouping,
    sureness,
    difference: deposited - paid,
    others: context.others,
    waitsFor: context.waitsFor,
    evidence: {
      exactSum: deposited === paid,
      payerNamed: payerNamed(grouping, context.options),
      referenceFound: referenceFound(grouping),
      lagDays: daysBetween(grouping.transfers.at(-1)?.date ?? '', grouping.bankLines.at(-1)?.date ?? ''),
    },
  }
}

const isOneToOne = ({ bankLines, transfers }: Grouping): boolean => bankLines.length === 1 && transfers.length === 1

const chooseLikely = (groupings: readonly Grouping[]) => {
  const chosen: Grouping[] = []
  const tooManyFit: { id: string; count: number }[] = []
  for (const component of components(groupings.map(grouping => weigh(grouping, idsOf(grouping).length)))) {
    const members = component.map(one => one.grouping)
    if (members.every(isOneToOne)) {
      chosen.push(...assignEqual(members))
      continue
    }
    const crowded = [...indexByItem(members)].some(([, list]) => list.length > maxGroupingsOfItem)
    const best = crowded || component.length > maxComponent ? null : bestDisjoint(component)
    if (best) chosen.push(...best.map(one => one.grouping))
    else for (const [key, list] of indexByItem(members)) tooManyFit.push({ id: key.slice(1), count: list.length })
  }
  return { chosen, tooManyFit }
}

const choosePossible = (
  transfers: readonly OpenTransfer[],
  bankLines: readonly OpenBankLine[],
  options: PairingOptions,
): Pairing[] => {
  const { bankFeeUpTo } = options
  if (bankFeeUpTo === null) return []
  const candidates = bankLines.flatMap(line =>
    transfers
      .filter(transfer => {
        const short = transfer.amount - line.amount
        const lag = daysBetween(transfer.date, line.date)
        return (
          transfer.bankAccount === line.bankAccount &&
          transfer.currency === line.currency &&
          line.amount > 0 &&
          short > 0 &&
          short <= bankFeeUpTo &&
          lag >= 0 &&
          lag <= options.windowDays
        )
      })
      .map(transfer => weigh({ bankLines: [line], transfers: [transfer] }, transfer.amount - line.amount)),
  )
  candidates.sort((left, right) => compareGroupings(left.grouping, right.grouping))
  return components(candidates).flatMap(component =>
    (bestDisjoint(component) ?? []).map(one =>
      pairing(one.grouping, 'possible', { options, others: [], waitsFor: null }),
    ),
  )
}
