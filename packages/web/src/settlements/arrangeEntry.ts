import type { DraftEntryBody, SettlementPage, StatementRow } from '@culvert/contract'
import { kinds, type StatementPart } from '@culvert/core'

/** A line of an entry with its place: `entry` and `line` name it for the trace, `place` for the statement's links. */
export interface PlacedLine {
  readonly place: number
  readonly entry: number
  readonly line: number
  readonly document: string
  readonly date: string
  readonly number: string | null
  readonly body: DraftEntryBody['lines'][number]
}

export type StatementItem =
  | { readonly type: 'row'; readonly row: StatementRow }
  | {
      readonly type: 'sum'
      readonly label: string
      readonly part: 'gross' | 'fees'
      readonly amount: number
      readonly lines: number
    }

const partOrder: readonly StatementPart[] = ['gross', 'tax', 'tenders', 'fees', 'held', 'payout']
const kindOrder = Object.keys(kinds)

/** The statement from gross to net: rows by part and kind, heaviest categories first, with a sum under gross and fees. */
export const arrangeStatement = (rows: readonly StatementRow[]): StatementItem[] => {
  const partOf = (row: StatementRow) => partOrder.indexOf(kinds[row.kind].part)
  const sorted = [...rows].sort(
    (left, right) =>
      partOf(left) - partOf(right) ||
      kindOrder.indexOf(left.kind) - kindOrder.indexOf(right.kind) ||
      Math.abs(right.amount) - Math.abs(left.amount),
  )
  const items: StatementItem[] = []
  sorted.forEach((row, index) => {
    items.push({ type: 'row', row })
    const part = kinds[row.kind].part
    const next = sorted[index + 1]
    if ((part === 'gross' || part === 'fees') && (!next || kinds[next.kind].part !== part)) {
      const mine = sorted.filter(one => kinds[one.kind].part === part)
      if (mine.length > 1 || part === 'gross')
        items.push({
          type: 'sum',
          part,
          label: part === 'gross' ? 'Gross' : 'Fees',
          amount: mine.reduce((sum, one) => sum + one.amount, 0),
          lines: mine.reduce((sum, one) => sum + one.lines, 0),
        })
    }
  })
  return items
}

/** A row of either sheet with the height, in rows, that it takes to stand beside what it belongs to. */
export interface Beside {
  /** Index into the statement's items; null for an empty stretch at the left. */
  readonly left: readonly { readonly item: number | null; readonly top: number; readonly rows: number }[]
  readonly right: readonly EntryRowItem[]
}

export type EntryRowItem =
  | { readonly type: 'line'; readonly line: PlacedLine }
  | { readonly type: 'head'; readonly entry: number }
  | { readonly type: 'gap' }

/**
 * Lays statement and entry row beside row: each figure beside the entry lines that it fills first, the rest of the entry
 * (tax, clearing) after, the payout beside its transfer, corrections below. Where a settlement has an entry per month they
 * stand one below the other instead.
 */
export const layBeside = (page: Pick<SettlementPage, 'entries'>, items: readonly StatementItem[]): Beside => {
  let place = 0
  const lines = page.entries.flatMap((entry, entryIndex) =>
    entry.lines.map(
      (body, lineIndex): PlacedLine => ({
        place: place++,
        entry: entryIndex,
        line: lineIndex + 1,
        document: entry.document,
        date: entry.date,
        number: entry.number,
        body,
      }),
    ),
  )
  const journals = page.entries.filter(entry => entry.document === 'journal').length
  if (journals !== 1) return oneBelowOther(lines, items)
  const corrections = inOrder(
    lines.filter(line => line.document === 'correction'),
    items,
  )
  const beside = inBands(
    lines.filter(line => line.document !== 'correction'),
    items,
  )
  // What came later stands below what it corrects, in the same order.
  const below = withHeads(corrections)
  return below.length === 0
    ? beside
    : {
        left: [...beside.left, { item: null, top: beside.right.length, rows: below.length }],
        right: [...beside.right, ...below],
      }
}

const inOrder = (lines: readonly PlacedLine[], items: readonly StatementItem[]): PlacedLine[] =>
  [...lines].sort(
    (one, other) => one.entry - other.entry || ownerOf(one, items) - ownerOf(other, items) || one.place - other.place,
  )

const ownerOf = (line: PlacedLine, items: readonly StatementItem[]): number =>
  items.findIndex(
    item =>
      item.type === 'row' &&
      item.row.to.includes(line.place) &&
      (line.document === 'transfer' || item.row.route === line.body.account),
  )

const withHeads = (lines: readonly PlacedLine[]): EntryRowItem[] =>
  lines.flatMap((line, index): EntryRowItem[] => {
    const begins = line.entry > 0 && line.entry !== lines[index - 1]?.entry
    return [...(begins ? [{ type: 'head', entry: line.entry } as const] : []), { type: 'line', line }]
  })

const inBands = (lines: readonly PlacedLine[], items: readonly StatementItem[]): Beside => {
  const owned = new Map<number, PlacedLine[]>()
  for (const line of lines) {
    const owner = ownerOf(line, items)
    owned.set(owner, [...(owned.get(owner) ?? []), line])
  }
  const left: { item: number | null; top: number; rows: number }[] = []
  const right: EntryRowItem[] = []
  const isPayout = (item: StatementItem) => item.type === 'row' && kinds[item.row.kind].part === 'payout'
  const band = (index: number): void => {
    const mine = withHeads(owned.get(index) ?? [])
    left.push({ item: index, top: right.length, rows: Math.max(1, mine.length) })
    right.push(...(mine.length > 0 ? mine : [{ type: 'gap' } as const]))
  }
  items.forEach((item, index) => {
    if (!isPayout(item)) band(index)
  })
  const rest = withHeads(owned.get(-1) ?? [])
  if (rest.length > 0) left.push({ item: null, top: right.length, rows: rest.length })
  right.push(...rest)
  items.forEach((item, index) => {
    if (isPayout(item)) band(index)
  })
  return { left, right }
}

const oneBelowOther = (lines: readonly PlacedLine[], items: readonly StatementItem[]): Beside => ({
  left: items.map((_, item) => ({ item, top: item, rows: 1 })),
  right: withHeads(inOrder(lines, items)),
})
