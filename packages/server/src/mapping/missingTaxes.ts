import type { MissingPage, MissingTax } from '@culvert/contract'
import {
  type ClassEntry,
  freeTaxCode,
  noRegion,
  proposeCode,
  proposeRate,
  sumMinor,
  type TaxCode,
  taxGrid,
  unlikeRates,
} from '@culvert/core'
import type { loadTaxGrid } from './loadTaxGrid.ts'

// Where no line of a country states its tax, and no row tells its regions apart, one answer is for all of them.
const byCountry = ({ seen, rows }: Awaited<ReturnType<typeof loadTaxGrid>>): MissingSeen => {
  const apart = new Set([
    ...seen.filter(one => one.stating !== 0).map(one => one.region?.slice(0, 2)),
    ...rows.filter(row => (row.region ?? '').length > 2).map(row => row.region?.slice(0, 2)),
  ])
  return seen.map(one =>
    one.region === null || apart.has(one.region.slice(0, 2)) ? one : { ...one, region: one.region.slice(0, 2) },
  )
}
type MissingSeen = Awaited<ReturnType<typeof loadTaxGrid>>['seen']

type Grid = Awaited<ReturnType<typeof loadTaxGrid>>

/** The grid of the latest period, as those who look at it see it. */
const linesOfGrid = (grid: Grid, seen: MissingSeen) =>
  taxGrid(grid.rows, seen, {
    since: [...new Set(grid.seen.flatMap(one => one.since ?? []))].sort().at(-1) ?? null,
    classes: (grid.classes as readonly ClassEntry[]).map(one => one.class),
  }).lines

/** Supplies that state another rate than their code has. */
export const unlikeIn = (grid: Grid): MissingPage['unlikeRates'] =>
  grid.from === null || grid.to === null
    ? []
    : unlikeRates(linesOfGrid(grid, grid.seen), {
        ...{ codes: grid.taxCodes as readonly TaxCode[], from: grid.from, to: grid.to },
      }).map(one => ({ ...one, mapped: [...one.mapped] }))

const countryNames = new Intl.DisplayNames(['en'], { type: 'region' })

/** Sales to places that no tax row serves, with the code that would. */
export const missingTaxes = (grid: Grid, home: string | null): MissingTax[] => {
  if (grid.to === null) return []
  const lines = linesOfGrid(grid, byCountry(grid))
  const codes = grid.taxCodes as readonly TaxCode[]
  const rows: MissingTax[] = []
  const made: { code: string }[] = [...codes]
  // Classes of one country that bear one rate share its code.
  const byRate = new Map<string, string>()
  for (const line of lines)
    for (const cell of line.cells) {
      if (cell.open === 0 || line.kind !== null || line.label !== null || line.source !== null) continue
      const use = proposeCode(line, cell, { codes, home, date: grid.to })
      const country = line.region === noRegion ? home : (line.region?.slice(0, 2) ?? home)
      const percent = proposeRate(cell.seenPercent)
      const code =
        country === null ? null : (byRate.get(`${country} ${percent}`) ?? freeTaxCode(country, percent, made))
      if (code !== null && !use) {
        made.push({ code })
        if (percent !== null) byRate.set(`${country} ${percent}`, code)
      }
      rows.push({
        key: JSON.stringify([line.region, cell.class]),
        ...{ region: line.region, class: cell.class, lines: cell.lines, seenPercent: cell.seenPercent },
        sources: [...new Set(cell.supplies.map(one => one.source))],
        amount: sumMinor(cell.supplies, one => one.amount),
        use,
        make:
          country === null || code === null
            ? null
            : {
                code,
                country,
                percent,
                name: `${countryNames.of(country) ?? country}${percent === null ? '' : `, ${percent} %`}`,
              },
      })
    }
  return rows
}
