import {
  isPayout as isPayoutKind,
  type PayoutLine,
  type StatementFigures,
  statementFigures,
  type Zone,
} from '@culvert/core'
import type { GroupRow } from './groupLines.ts'

/** What a settlement’s lines come to. */
export const figuresOf = (groups: readonly GroupRow[]): LineFigures => {
  const first = groups.map(group => group.local_date).sort()[0]
  const last = groups
    .map(group => group.last_date)
    .sort()
    .at(-1)
  return {
    ...statementFigures(groups),
    lines: groups.reduce((count, group) => count + group.count, 0),
    firstDate: first ?? null,
    lastDate: last ?? null,
  }
}

const hashRange = 1n << 64n

// A sum, so that the order of the lines does not matter; with their number, so that lines of nothing are seen.
export const inputHashOf = (groups: readonly GroupRow[]): string => {
  const sum = groups.reduce((total, group) => total + BigInt(group.hash), 0n)
  const matched = groups.reduce((count, group) => count + (group.matched ? group.count : 0), 0)
  const count = groups.reduce((total, group) => total + group.count, 0)
  return `${sum % hashRange}-${count}${matched > 0 ? `-${matched}` : ''}`
}

/** Whether lines of a group are payouts. */
export const isPayout = ({ kind }: GroupRow): boolean => isPayoutKind(kind)

/** Local date of the latest line that is no payout. */
export const lastDateOf = (groups: readonly GroupRow[], zone: Zone): string | null => {
  let latest: number | null = null
  for (const group of groups) if (!isPayout(group) && (latest === null || group.latest > latest)) latest = group.latest
  return latest === null ? null : zone.localDate(Math.floor(latest / 1000))
}

/** The payouts among groups of lines. */
export const payoutsOf = (groups: readonly GroupRow[]): PayoutLine[] =>
  groups
    .flatMap(({ kind, alone: lineId, named, amount, local_date: localDate }) =>
      lineId !== null && isPayoutKind(kind) ? [{ lineId, kind, amount, localDate, region: named.region ?? null }] : [],
    )
    .sort((left, right) => (left.lineId < right.lineId ? -1 : 1))

/** What all its lines come to, payouts among them. Local dates, null without lines. */
export interface LineFigures extends StatementFigures {
  readonly lines: number
  readonly firstDate: string | null
  readonly lastDate: string | null
}
