import { type TaxedAs, type TaxRow, taxBook } from './taxRow.ts'

/** Every sort of supply that rows tell apart, of kinds that any of them names, and one that none names. */
const everySort = (rows: readonly TaxRow[]): TaxedAs[] => {
  const kinds = [...new Set(rows.flatMap(row => row.kind ?? []))]
  const valuesOf = (name: 'source' | 'label' | 'region' | 'class') => [
    '',
    ...new Set(rows.flatMap(row => row[name] || [])),
  ]
  const days = ['0001-01-01', ...new Set(rows.flatMap(row => row.from ?? []))]
  const sorts: TaxedAs[] = []
  for (const kind of kinds)
    for (const source of valuesOf('source'))
      for (const label of valuesOf('label'))
        for (const region of valuesOf('region'))
          for (const name of valuesOf('class'))
            for (const date of days)
              sorts.push({ kind, source, label: label || null, region: region || null, class: name, date })
  return sorts
}

const placeOf = (row: TaxRow): string =>
  JSON.stringify([row.source || null, row.label || null, row.region || null, row.class || null, row.from || null])

const alike = (one: readonly TaxRow[], other: readonly TaxRow[], sorts: readonly TaxedAs[]): boolean => {
  const [before, after] = [taxBook(one), taxBook(other)]
  return sorts.every(sort => {
    const [was, is] = [before.serve(sort), after.serve(sort)]
    return was === null ? is === null : is !== null && was.code === is.code
  })
}

/** Rows of one place that differ by kind alone and give one code, as one row without a kind. */
const mergedAt = <Row extends TaxRow>(rows: readonly Row[], place: string): readonly Row[] => {
  const mine = rows.filter(row => row.kind && placeOf(row) === place)
  const [first] = mine
  if (!first || new Set(mine.map(row => row.code)).size > 1 || rows.some(row => !row.kind && placeOf(row) === place))
    return rows
  return [...rows.filter(row => !mine.includes(row)), { ...first, kind: null }]
}

/** Looks that are worth it: a map of thousands of rows stays as it is. */
const mostLooks = 5_000_000
const countSorts = (rows: readonly TaxRow[]): number =>
  (['kind', 'source', 'label', 'region', 'class', 'from'] as const).reduce(
    (product, name) => product * (1 + new Set(rows.flatMap(row => row[name] || [])).size),
    1,
  )

/**
 * The same rows, fewer where those of several kinds say the same: of every kind that a row names, whatever its source, label, region, class and day,
 * the code stays what it is.
 */
export const fewerRows = <Row extends TaxRow>(rows: readonly Row[]): readonly Row[] => {
  if (rows.length ** 2 * countSorts(rows) > mostLooks) return rows
  const sorts = everySort(rows)
  const places = [...new Set(rows.map(placeOf))]
  const all = places.reduce<readonly Row[]>(mergedAt, rows)
  // Mostly all may be merged at once: one that must not would need each to be tried by itself.
  const merged = alike(rows, all, sorts)
    ? all
    : places.reduce<readonly Row[]>((before, place) => {
        const after = mergedAt(before, place)
        return after !== before && alike(rows, after, sorts) ? after : before
      }, rows)
  return withoutIdle(merged, sorts)
}

/** Leaves out rows that change nothing, the narrowest first: what is wider says the same. */
const withoutIdle = <Row extends TaxRow>(rows: readonly Row[], sorts: readonly TaxedAs[]): readonly Row[] => {
  const narrowness = (row: TaxRow): number =>
    [row.source, row.label, row.region, row.class, row.kind, row.from].filter(Boolean).length
  return [...rows]
    .sort((left, right) => narrowness(right) - narrowness(left))
    .reduce<readonly Row[]>((before, row) => {
      const after = before.filter(one => one !== row)
      return row.kind && alike(before, after, sorts) ? after : before
    }, rows)
}
