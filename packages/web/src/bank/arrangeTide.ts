import type { BankItem, BankPage, DecidedRow, PairingRow, ProposalList, TransferItem } from '@culvert/contract'
import { addDays, daysBetween } from '@culvert/core'

export type TideTone = 'confirmed' | 'certain' | 'likely' | 'possible' | 'alone' | 'coded' | 'set_aside'

/** What a mark of the tide table stands for: something decided, a proposal, or an item that is alone. */
export interface TideGroup {
  readonly id: string
  readonly tone: TideTone
  readonly decided: DecidedRow | null
  readonly proposal: PairingRow | null
  readonly transfers: readonly TransferItem[]
  readonly bankLines: readonly BankItem[]
}

export interface TideMark<Item = TransferItem | BankItem> {
  /** Names it among both sides. */
  readonly key: string
  readonly item: Item
  readonly group: TideGroup
  /** Centre, pixels below the top of the table. */
  readonly y: number
}

/** Pairs of one day and side that nothing is odd about, as a count. */
export interface TideFold {
  readonly key: string
  readonly tone: TideTone
  readonly side: 'left' | 'right'
  readonly count: number
  readonly sum: number
  readonly y: number
}

export interface TideSlope {
  readonly key: string
  readonly from: number
  readonly to: number
  readonly tone: TideTone
  readonly groups: readonly string[]
}

export interface Tide {
  /** Days, or runs of days on which everything is decided, to their last day. */
  readonly days: readonly {
    readonly date: string
    readonly to: string
    readonly top: number
    readonly height: number
  }[]
  readonly left: readonly TideMark<TransferItem>[]
  readonly right: readonly TideMark<BankItem>[]
  readonly folds: readonly TideFold[]
  readonly slopes: readonly TideSlope[]
  /** Marks of both sides as the eye goes: down, the left side first. */
  readonly marks: readonly TideMark[]
  readonly groups: readonly TideGroup[]
  readonly height: number
}

const lineHeight = 28
/** From so many pairs of one day and side on, certain and confirmed ones fold into a count. */
const foldFrom = 3
/** From so many decided groups on, days that hold nothing else fold into one row. */
const foldRunFrom = 8

export const keyOfTransfer = (id: string): string => `t${id}`
export const keyOfLine = (id: string): string => `b${id}`

const decidedTone = ({ sort }: DecidedRow): TideTone => (sort === 'paired' ? 'confirmed' : sort)

/** Everything that the page shows between its two dates, each item in exactly one group. */
export const groupsOf = (page: BankPage, { proposals }: Pick<ProposalList, 'proposals'>): TideGroup[] => {
  // What the engine said of the data before holds until it has answered again, but for what is open no more.
  const openTransfers = new Set(page.transfers.map(one => one.id))
  const openLines = new Set(page.lines.map(one => one.id))
  const standing = proposals.filter(
    row => row.transfers.every(one => openTransfers.has(one.id)) && row.bankLines.every(one => openLines.has(one.id)),
  )
  const within = (item: { date: string }) => item.date >= page.from && item.date <= page.to
  const inProposal = new Set(
    standing.flatMap(row => [
      ...row.transfers.map(one => keyOfTransfer(one.id)),
      ...row.bankLines.map(one => keyOfLine(one.id)),
    ]),
  )
  return [
    ...page.decided.map(
      (row): TideGroup => ({
        id: row.pairingId,
        tone: decidedTone(row),
        decided: row,
        proposal: null,
        transfers: row.transfers,
        bankLines: row.bankLines,
      }),
    ),
    ...standing
      .filter(row => row.transfers.some(within) || row.bankLines.some(within))
      .map(
        (row): TideGroup => ({
          id: `${row.transfers[0]?.id} ${row.bankLines[0]?.id}`,
          tone: row.sureness,
          decided: null,
          proposal: row,
          transfers: row.transfers,
          bankLines: row.bankLines,
        }),
      ),
    ...page.transfers
      .filter(one => within(one) && !inProposal.has(keyOfTransfer(one.id)))
      .map((one): TideGroup => ({ ...aloneGroup, id: keyOfTransfer(one.id), transfers: [one] })),
    ...page.lines
      .filter(one => within(one) && !inProposal.has(keyOfLine(one.id)))
      .map((one): TideGroup => ({ ...aloneGroup, id: keyOfLine(one.id), bankLines: [one] })),
  ]
}

const aloneGroup = { tone: 'alone', decided: null, proposal: null, transfers: [], bankLines: [] } as const

interface Unplaced<Item> {
  readonly item: Item
  readonly group: TideGroup
}

const folds = (group: TideGroup): boolean => group.tone === 'certain' || group.tone === 'confirmed'

/**
 * Places payouts at the left and deposits at the right on one axis of days, to scale. Certain and confirmed pairs of a day fold into a
 * count, unless the day's fold is among `unfolded`, so that what is odd stands out.
 */
export const arrangeTide = (
  page: BankPage,
  list: Pick<ProposalList, 'proposals'>,
  unfolded: ReadonlySet<string> = new Set(),
): Tide => {
  const groups = groupsOf(page, list)
  const dates = groups.flatMap(group => [...group.transfers, ...group.bankLines].map(item => item.date))
  const from = dates.reduce((first, date) => (date < first ? date : first), page.from)
  const to = dates.reduce((last, date) => (date > last ? date : last), page.to)
  const leftByDay = byDay(groups.flatMap(group => group.transfers.map(item => ({ item, group }))))
  const rightByDay = byDay(groups.flatMap(group => group.bankLines.map(item => ({ item, group }))))
  const days: { date: string; to: string; top: number; height: number }[] = []
  const left: TideMark<TransferItem>[] = []
  const right: TideMark<BankItem>[] = []
  const folded: TideFold[] = []
  const places = new Map<string, number>()
  let top = 0
  const quiet = quietRuns({ from, to }, { leftByDay, rightByDay, unfolded })
  for (let date = from; date <= to; ) {
    const run = quiet.get(date)
    if (run !== undefined) {
      const y = top + lineHeight / 2
      for (const [side, items] of [
        ['left', run.left],
        ['right', run.right],
      ] as const)
        if (items.length > 0) folded.push({ ...foldOf(items), key: run.key, tone: 'confirmed', side, y })
      for (const { item } of run.left) places.set(keyOfTransfer(item.id), y)
      for (const { item } of run.right) places.set(keyOfLine(item.id), y)
      days.push({ date, to: run.to, top, height: lineHeight })
      top += lineHeight
      date = addDays(run.to, 1)
      continue
    }
    const put = { date, top, unfolded, folded, places }
    const rows = Math.max(
      placeSide(leftByDay.get(date) ?? [], { ...put, side: 'left', marks: left, keyOf: keyOfTransfer }),
      placeSide(rightByDay.get(date) ?? [], { ...put, side: 'right', marks: right, keyOf: keyOfLine }),
    )
    const height = lineHeight * Math.max(1, rows)
    days.push({ date, to: date, top, height })
    top += height
    date = addDays(date, 1)
  }
  const firstDate = (group: TideGroup): string =>
    [...group.transfers, ...group.bankLines].map(item => item.date).sort()[0] ?? ''
  return {
    days,
    left,
    right,
    folds: folded,
    slopes: slopesOf(groups, places),
    marks: [...left, ...right].sort((one, other) => one.y - other.y || (one.key < other.key ? 1 : -1)),
    height: top,
    groups: [...groups].sort((one, other) => (firstDate(one) < firstDate(other) ? -1 : 1)),
  }
}

const foldOf = (items: readonly Unplaced<{ readonly amount: number }>[]) => ({
  count: items.length,
  sum: items.reduce((sum, { item }) => sum + item.amount, 0),
})

interface QuietRun {
  readonly key: string
  readonly to: string
  readonly left: readonly Unplaced<TransferItem>[]
  readonly right: readonly Unplaced<BankItem>[]
}

/** Runs of days on which everything is decided, by their first day: long ones only, and none that somebody opened. */
const quietRuns = (
  range: { readonly from: string; readonly to: string },
  by: {
    readonly leftByDay: ReadonlyMap<string, readonly Unplaced<TransferItem>[]>
    readonly rightByDay: ReadonlyMap<string, readonly Unplaced<BankItem>[]>
    readonly unfolded: ReadonlySet<string>
  },
): Map<string, QuietRun> => {
  const runs = new Map<string, QuietRun>()
  let start: string | null = null
  const close = (end: string): void => {
    if (start === null) return
    const days = Array.from({ length: daysBetween(start, end) + 1 }, (_, day) => addDays(start as string, day))
    const left = days.flatMap(date => by.leftByDay.get(date) ?? [])
    const right = days.flatMap(date => by.rightByDay.get(date) ?? [])
    const decided = new Set([...left, ...right].map(({ group }) => group.id))
    const key = `${start} run`
    if (decided.size >= foldRunFrom && !by.unfolded.has(key)) runs.set(start, { key, to: end, left, right })
    start = null
  }
  for (let date = range.from; date <= range.to; date = addDays(date, 1)) {
    const marks = [...(by.leftByDay.get(date) ?? []), ...(by.rightByDay.get(date) ?? [])]
    if (marks.some(({ group }) => group.decided === null)) close(addDays(date, -1))
    else start ??= date
  }
  close(range.to)
  return runs
}

/** Places one side of a day and returns how many rows it takes. */
const placeSide = <Item extends { id: string; amount: number }>(
  items: readonly Unplaced<Item>[],
  day: {
    date: string
    side: 'left' | 'right'
    top: number
    unfolded: ReadonlySet<string>
    marks: TideMark<Item>[]
    folded: TideFold[]
    places: Map<string, number>
    keyOf: (id: string) => string
  },
): number => {
  let row = 0
  const nextY = () => day.top + lineHeight * (row++ + 0.5)
  for (const tone of ['certain', 'confirmed'] as const) {
    const alike = items.filter(({ group }) => group.tone === tone)
    const key = `${day.date} ${day.side} ${tone}`
    if (alike.length < foldFrom || day.unfolded.has(key)) continue
    const y = nextY()
    day.folded.push({ ...foldOf(alike), key, tone, side: day.side, y })
    for (const { item } of alike) day.places.set(day.keyOf(item.id), y)
  }
  for (const { item, group } of items) {
    const key = day.keyOf(item.id)
    if (folds(group) && day.places.has(key)) continue
    const y = nextY()
    day.places.set(key, y)
    day.marks.push({ key, item, group, y })
  }
  return row
}

// From each payout to each deposit of its group; between two folds one line stands for all of them.
const slopesOf = (groups: readonly TideGroup[], places: ReadonlyMap<string, number>): TideSlope[] => {
  const slopes = new Map<string, { from: number; to: number; tone: TideTone; groups: string[] }>()
  for (const group of groups)
    for (const transfer of group.transfers)
      for (const line of group.bankLines) {
        const from = places.get(keyOfTransfer(transfer.id))
        const to = places.get(keyOfLine(line.id))
        if (from === undefined || to === undefined) continue
        const key = `${from} ${to} ${group.tone}`
        const known = slopes.get(key)
        if (known) known.groups.push(group.id)
        else slopes.set(key, { from, to, tone: group.tone, groups: [group.id] })
      }
  return [...slopes].map(([key, slope]) => ({ key, ...slope }))
}

const byDay = <Item extends { date: string }>(items: readonly Unplaced<Item>[]) => {
  const days = new Map<string, Unplaced<Item>[]>()
  for (const one of items) {
    const list = days.get(one.item.date)
    if (list) list.push(one)
    else days.set(one.item.date, [one])
  }
  return days
}
