import type { ActivityLine, SettlementHead } from '../activity/activityLine.ts'
import { isPayout } from '../activity/kindTraits.ts'
import type { Zone } from '../activity/zone.ts'
import { sumWide } from '../money/minor.ts'
import { classBook } from '../tax/productClass.ts'
import { type SupplyBook, supplyBook } from '../tax/supply.ts'
import { type FoundEvidence, matchTenders } from '../tieout/matchTenders.ts'
import { tieOutLines } from '../tieout/tieOutLine.ts'
import type { Block } from './blocks.ts'
import { type Composed, composeSettlement } from './composeSettlement.ts'
import { lineKey, weightedLine } from './lineKey.ts'
import { openSalesOf } from './openSales.ts'
import type { PayoutLine, SettlementActivity } from './settlementActivity.ts'
import type { Setup } from './setup.ts'
import { supplyParts } from './supplyParts.ts'

export interface BookedSettlement {
  readonly activity: SettlementActivity
  /** The settlement's id, or `source:day`. */
  readonly name: string
  readonly composed: Composed
  /** The lines behind it, payouts and left-out ones too. */
  readonly lines: readonly ActivityLine[]
}

export interface BookedActivity {
  readonly settlements: readonly BookedSettlement[]
  /** Collections that book nothing, by source and line id. */
  readonly matched: ReadonlySet<string>
  readonly collectionDates: ReadonlyMap<string, string>
  /** What was collected for a tender, by the tender's source and line id: minor units, as the gateway signs it. */
  readonly collected: ReadonlyMap<string, number>
}

/** Composes everything that the given lines come to: by settlement, or by business day where there is none. */
export const bookActivity = (
  input: {
    readonly lines: readonly ActivityLine[]
    /** Settlement heads per source key. */
    readonly heads: ReadonlyMap<string, readonly SettlementHead[]>
    readonly zone: Zone
    readonly cutOffMinutes: number
    /** What tenders and collections may be matched by; absent: order, reference, and amount, day and name. */
    readonly evidence?: readonly FoundEvidence[]
  },
  setup: Setup,
): BookedActivity => {
  const matches = matchTenders(
    tieOutLines(
      input.lines.filter(line => isBooked(line, setup)),
      input.zone,
    ),
    { labels: setup.labels ?? new Map(), ...(input.evidence && { evidence: input.evidence }) },
  ).filter(({ collection }) => setup.sources.get(collection.source)?.clearing[collection.currency] !== undefined)
  const matched = new Set(matches.map(({ collection }) => lineKey(collection)))
  const collectionDates = new Map(matches.map(({ tender, collection }) => [lineKey(tender), collection.localDate]))
  const book = supplyBook(
    // Nothing looks at it in a client without tax rows.
    setup.taxRows
      ? input.lines
          .filter(line => line.status === 'available')
          .map(line => ({ ...line, localDate: input.zone.localDate(line.instant) }))
      : [],
    setup.classes ?? classBook([]),
  )
  const openSales = openSalesOf(
    input.lines
      .filter(line => isBooked(line, setup))
      .map(line => ({ ...line, localDate: input.zone.localDate(line.instant) })),
    setup,
    matched,
  )
  const settlements = [...groupLines(input, setup).values()].map((group): BookedSettlement => {
    const [first] = group as [ActivityLine, ...ActivityLine[]]
    const day = first.settlementId === null ? input.zone.businessDay(first.instant, input.cutOffMinutes) : null
    const head =
      (input.heads.get(first.source) ?? []).find(
        candidate => candidate.settlementId === first.settlementId && candidate.currency === first.currency,
      ) ?? null
    const activity = settlementActivity(group, { day, head, zone: input.zone, matched, book, setup })
    return {
      activity,
      lines: group,
      name: first.settlementId ?? `${first.source}:${day}`,
      composed: withBlock(composeSettlement(activity, setup), openSales(group)),
    }
  })
  const collected = new Map(matches.map(({ tender, collection }) => [lineKey(tender), collection.amount]))
  return { settlements, matched, collectionDates, collected }
}

const withBlock = (composed: Composed, block: Block | null): Composed =>
  block ? { ...composed, entries: [], blocks: [...composed.blocks, block] } : composed

/** True for what is available, and for what is pending at a source that books at once. */
export const isBooked = (line: ActivityLine, setup: Setup): boolean =>
  line.status === 'available' ||
  (line.status === 'pending' && setup.sources.get(line.source)?.options.bookPending === true)

const groupLines = (
  input: {
    readonly lines: readonly ActivityLine[]
    readonly zone: Zone
    readonly cutOffMinutes: number
  },
  setup: Setup,
): Map<string, ActivityLine[]> => {
  const groups = new Map<string, ActivityLine[]>()
  for (const line of input.lines) {
    if (!isBooked(line, setup)) continue
    const day = line.settlementId === null ? input.zone.businessDay(line.instant, input.cutOffMinutes) : null
    const key = JSON.stringify([line.source, line.settlementId, day, line.currency])
    const group = groups.get(key)
    if (group) group.push(line)
    else groups.set(key, [line])
  }
  return groups
}

const settlementActivity = (
  group: readonly ActivityLine[],
  context: {
    day: string | null
    head: SettlementHead | null
    zone: Zone
    matched: ReadonlySet<string>
    book: SupplyBook
    setup: Setup
  },
): SettlementActivity => {
  const [first] = group as [ActivityLine, ...ActivityLine[]]
  const booked = group.filter(line => !isPayout(line.kind) && !context.matched.has(lineKey(line)))
  const moving = group.filter(line => !isPayout(line.kind))
  const last = moving.reduce<number | null>((latest, line) => Math.max(latest ?? line.instant, line.instant), null)
  return {
    source: first.source,
    currency: first.currency,
    settlementId: first.settlementId,
    day: context.day,
    head: context.head,
    lines: booked.flatMap(line => {
      const localDate = context.zone.localDate(line.instant)
      const source = context.setup.sources.get(line.source)
      if (!source) throw new RangeError(`unknown source ${line.source}`)
      return supplyParts({ ...line, localDate }, weightedLine(line, localDate), { ...context, source })
    }),
    payouts: group
      .filter(line => isPayout(line.kind))
      .map(
        (line): PayoutLine => ({
          lineId: line.lineId,
          kind: line.kind as PayoutLine['kind'],
          amount: line.amount,
          localDate: context.zone.localDate(line.instant),
          region: line.region,
        }),
      ),
    sumOfLines: sumWide(group, line => line.amount),
    lastDate: last === null ? null : context.zone.localDate(last),
  }
}
