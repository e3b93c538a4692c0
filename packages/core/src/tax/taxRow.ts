import type { Kind } from '../activity/kinds.ts'
import { isSupply } from '../activity/kindTraits.ts'

/** One row of the tax grid: supplies that meet its every condition bear `code`. An absent or empty condition is none. */
export interface TaxRow {
  /** Names it where it is kept; absent in a setup file. */
  readonly id?: number | null
  readonly source?: string | null
  readonly kind?: Kind | null
  /** The line's tax label. */
  readonly label?: string | null
  /** Country, or part of one; a country's row serves its parts. `-`: only where no region is told. */
  readonly region?: string | null
  readonly class?: string | null
  /** First tax date that it serves, a local date; null: always. */
  readonly from?: string | null
  /** Null: no tax on purpose. */
  readonly code: string | null
}

/** What decides a supply's tax. */
export interface TaxedAs {
  readonly source: string
  readonly kind: Kind
  readonly label: string | null
  readonly region: string | null
  /** Empty: none. */
  readonly class: string
  /** Tax date, a local date. */
  readonly date: string
}

/** Conditions of a row, the most decisive first. */
export const taxConditions = ['label', 'region', 'class', 'kind', 'source'] as const
export type TaxCondition = (typeof taxConditions)[number]

/** The row that serves, and every other one that would, each with what put it behind. */
export interface TaxChoice {
  readonly row: TaxRow
  readonly over: readonly { readonly row: TaxRow; readonly by: TaxCondition | 'from' }[]
}

/** Tax rows made ready for asking. */
export interface TaxBook {
  readonly rows: readonly TaxRow[]
  /** The row that decides a supply's code; null: none does, and the code is missing. */
  serve(at: TaxedAs): TaxRow | null
  explain(at: TaxedAs): TaxChoice | null
}

/** A row's region that serves only supplies of which no region is told. */
export const noRegion = '-'

const rankOf = (row: TaxRow, name: TaxCondition): number => {
  const value = row[name]
  if (!value) return 0
  return name === 'region' && value.includes('-') ? 2 : 1
}

const meets = (row: TaxRow, name: TaxCondition, at: TaxedAs): boolean => {
  const wanted = row[name]
  if (!wanted) return true
  const value = at[name]
  if (name === 'region' && wanted === noRegion) return !value
  return value === wanted || (name === 'region' && !wanted.includes('-') && (value ?? '').startsWith(`${wanted}-`))
}

const decidedBy = (winner: TaxRow, other: TaxRow): TaxCondition | 'from' =>
  taxConditions.find(name => rankOf(winner, name) !== rankOf(other, name)) ?? 'from'

/** Rows in the order in which they are asked: narrower first, in the order label, region (part before country), class, kind, source; then the later. */
export const taxBook = (rows: readonly TaxRow[]): TaxBook => {
  const ordered = [...rows].sort((left, right) => {
    for (const name of taxConditions) {
      const difference = rankOf(right, name) - rankOf(left, name)
      if (difference !== 0) return difference
    }
    return (left.from ?? '') < (right.from ?? '') ? 1 : -1
  })
  const serves = (row: TaxRow, at: TaxedAs): boolean =>
    (row.from ?? '') <= at.date && taxConditions.every(name => meets(row, name, at))
  return {
    rows,
    serve: at => ordered.find(row => serves(row, at)) ?? null,
    explain: at => {
      const [row, ...others] = ordered.filter(candidate => serves(candidate, at))
      return row ? { row, over: others.map(other => ({ row: other, by: decidedBy(row, other) })) } : null
    },
  }
}

export type TaxRowFault =
  /** Alike in every condition and in the date from which they serve: which of the two serves would be a toss-up. */
  | { readonly code: 'alike'; readonly row: number; readonly other: number }
  | { readonly code: 'unknown_tax_code'; readonly row: number; readonly taxCode: string }
  /** Lines of the kind are no supplies: their route decides their code. */
  | { readonly code: 'no_supply'; readonly row: number; readonly kind: Kind }

/** Finds every fault of a set of rows; rows by their place. */
export const checkTaxRows = (rows: readonly TaxRow[], taxCodes: ReadonlySet<string>): TaxRowFault[] => {
  const seen = new Map<string, number>()
  return rows.flatMap((row, place): TaxRowFault[] => {
    const faults: TaxRowFault[] = []
    if (row.code !== null && !taxCodes.has(row.code))
      faults.push({ code: 'unknown_tax_code', row: place, taxCode: row.code })
    if (row.kind && !isSupply(row.kind)) faults.push({ code: 'no_supply', row: place, kind: row.kind })
    const key = JSON.stringify([row.from ?? '', ...taxConditions.map(name => row[name] || null)])
    const other = seen.get(key)
    if (other === undefined) seen.set(key, place)
    else faults.push({ code: 'alike', row: place, other })
    return faults
  })
}
