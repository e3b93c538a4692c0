import type { Kind } from '../activity/kinds.ts'
import { compareText } from '../mapping/compareText.ts'
import type { TaxCode } from './taxCode.ts'
import { noRegion, type TaxRow, taxBook } from './taxRow.ts'

/** Supplies seen of one sort, added up; amounts in minor units of one currency. */
export interface SeenSupply {
  readonly source: string
  readonly kind: Kind
  readonly label: string | null
  readonly region: string | null
  /** Empty: none. */
  readonly class: string
  /** First day of the period that they are of, a local date; null: before the first row that begins at a date. */
  readonly since: string | null
  readonly amount: number
  /** Of lines that state their tax: their amount, and that tax. */
  readonly stating: number
  readonly stated: number
  readonly lines: number
}

/** What stands at the head of a line of the grid: a region (`-`: none is told, null: any), and what narrows it. */
export interface GridPlace {
  readonly region: string | null
  readonly label: string | null
  readonly kind: Kind | null
  readonly source: string | null
}

export interface GridCell {
  readonly class: string
  /** The row of just this place, class and day; null: a wider one serves, or none. */
  readonly own: TaxRow | null
  /** The row that serves here; null: none, and the code is missing. */
  readonly serving: TaxRow | null
  readonly amount: number
  readonly lines: number
  /** Percent that the sources charged, of lines that state their tax; null: none does. */
  readonly seenPercent: number | null
  /** Money without a row. */
  readonly open: number
  /** What was seen that its money is made of. */
  readonly supplies: readonly SeenSupply[]
}

export interface GridLine extends GridPlace {
  readonly amount: number
  readonly open: number
  readonly cells: readonly GridCell[]
  /** Nothing of it was seen. */
  readonly unseen: boolean
}

export interface TaxGrid {
  /** Classes across: the empty one, of goods without a class, first. */
  readonly classes: readonly string[]
  /** Regions, the heaviest first, each followed by its narrower lines; what is not seen and any region last. */
  readonly lines: readonly GridLine[]
}

const placeOf = (of: Partial<GridPlace> | TaxRow): GridPlace => ({
  region: of.region || null,
  label: of.label || null,
  kind: of.kind || null,
  source: of.source || null,
})
const keyOf = (place: GridPlace): string => JSON.stringify([place.region, place.label, place.kind, place.source])
const isNarrow = (place: GridPlace): boolean => Boolean(place.label || place.kind || place.source)

/** Days from which rows serve, in order: each begins a period of the grid. */
export const gridPeriods = (rows: readonly TaxRow[]): readonly string[] =>
  [...new Set(rows.flatMap(row => row.from ?? []))].sort()

/**
 * Lays tax rows and what was seen out as a grid: regions down, classes across, as it stands from `since` on (a local date; null: before the first
 * row that begins at a date). Money stands where the row that serves it stands: in a narrower line where that row names a label, kind or source.
 */
export const taxGrid = (
  rows: readonly TaxRow[],
  seen: readonly SeenSupply[],
  at: { readonly since: string | null; readonly classes: readonly string[] },
): TaxGrid => {
  const book = taxBook(rows)
  const date = at.since ?? '0001-01-01'
  const named = rows.flatMap(row => row.class || [])
  const classes = ['', ...new Set([...at.classes, ...named].filter(name => name !== '').sort(compareText))]
  const places = new Map<string, GridPlace>()
  // A row for all places is never offered, only shown where there is one: it would tax what comes from elsewhere later.
  for (const place of rows.map(placeOf)) places.set(keyOf(place), place)
  const money = new Map<
    string,
    Map<
      string,
      { amount: number; lines: number; stating: number; stated: number; open: number; supplies: readonly SeenSupply[] }
    >
  >()
  for (const supply of seen) {
    if (supply.since !== at.since) continue
    const row = book.serve({ ...supply, date })
    const narrow = row && isNarrow(placeOf(row))
    const place = narrow ? placeOf(row) : placeOf({ region: supply.region || noRegion })
    places.set(keyOf(place), place)
    const cells = money.get(keyOf(place)) ?? new Map()
    money.set(keyOf(place), cells)
    const before = cells.get(supply.class) ?? { amount: 0, lines: 0, stating: 0, stated: 0, open: 0, supplies: [] }
    cells.set(supply.class, {
      amount: before.amount + supply.amount,
      lines: before.lines + supply.lines,
      stating: before.stating + supply.stating,
      stated: before.stated + supply.stated,
      open: before.open + (row ? 0 : supply.amount),
      supplies: [...before.supplies, supply],
    })
  }
  const lines = [...places.values()].map((place): GridLine => {
    const of = money.get(keyOf(place))
    const cells = classes.map((name): GridCell => {
      const sums = of?.get(name)
      const net = (sums?.stating ?? 0) - (sums?.stated ?? 0)
      return {
        class: name,
        own: rows.find(row => isOwn(row, { place, class: name, since: at.since })) ?? null,
        serving: book.serve({
          source: place.source ?? '',
          kind: place.kind ?? 'sale',
          label: place.label,
          region: place.region === noRegion ? null : place.region,
          class: name,
          date,
        }),
        amount: sums?.amount ?? 0,
        lines: sums?.lines ?? 0,
        seenPercent: sums && net !== 0 ? (100 * sums.stated) / net : null,
        open: sums?.open ?? 0,
        supplies: sums?.supplies ?? [],
      }
    })
    const total = (amountOf: (cell: GridCell) => number): number => cells.reduce((sum, cell) => sum + amountOf(cell), 0)
    return {
      ...place,
      cells,
      amount: total(cell => cell.amount),
      open: total(cell => cell.open),
      unseen: total(cell => cell.lines) === 0,
    }
  })
  return { classes, lines: lines.sort(heaviestFirst(lines)) }
}

const isOwn = (
  row: TaxRow,
  at: { readonly place: GridPlace; readonly class: string; readonly since: string | null },
): boolean =>
  keyOf(placeOf(row)) === keyOf(at.place) && (row.class ?? '') === at.class && (row.from ?? null) === at.since

/** What is told stands before what is not, and all other places stand last. */
const lastness = ({ region }: GridPlace): number => (region === null ? 2 : region === noRegion ? 1 : 0)

// A region's narrower lines stand under it, whatever they weigh.
const heaviestFirst = (lines: readonly GridLine[]) => {
  const weights = new Map<string | null, number>()
  for (const line of lines)
    weights.set(
      line.region,
      (weights.get(line.region) ?? 0) + line.cells.reduce((sum, cell) => sum + Math.abs(cell.amount), 0),
    )
  return (left: GridLine, right: GridLine): number =>
    lastness(left) - lastness(right) ||
    (weights.get(right.region) ?? 0) - (weights.get(left.region) ?? 0) ||
    compareText(left.region ?? '', right.region ?? '') ||
    Number(isNarrow(left)) - Number(isNarrow(right)) ||
    compareText(keyOf(left), keyOf(right))
}

/** Sets the code of a place and class from a day on (undefined: no row of its own any more, what is wider serves). */
export const setCell = <Row extends TaxRow>(
  rows: readonly Row[],
  at: GridPlace & { readonly class: string; readonly since: string | null },
  to: Omit<Row, keyof GridPlace | 'class' | 'from'> | undefined,
): readonly Row[] => {
  const { class: name, since, ...rest } = at
  const place = placeOf(rest)
  const index = rows.findIndex(row => isOwn(row, { place, class: name, since }))
  if (to === undefined) return rows.filter((_, position) => position !== index)
  const row = { ...(rows[index] ?? {}), ...to, ...place, class: name || null, from: since } as unknown as Row
  return index < 0 ? [...rows, row] : rows.with(index, row)
}

/** Whether a code is of another country than a region's: meant at times (below a threshold, tax of origin), and then said so on its row. */
export const isForeign = (code: Pick<TaxCode, 'country'> | undefined, region: string | null): boolean =>
  Boolean(code?.country && region && region !== noRegion && code.country !== region.slice(0, 2))
