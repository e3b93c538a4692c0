import { percentOf } from './proposeCode.ts'
import type { TaxCode } from './taxCode.ts'
import type { GridLine } from './taxGrid.ts'

/** Supplies that were charged another rate than the code that serves them has. */
export interface UnlikeRate {
  readonly region: string | null
  readonly class: string
  readonly code: string
  /** Percent: the lowest and the highest that the code had in the days looked at. */
  readonly mapped: readonly [lowest: number, highest: number]
  /** Percent that the lines state. */
  readonly seen: number
  /** Minor units. */
  readonly amount: number
  readonly lines: number
}

/** What prices of whole cents can hide, percent. */
const likeEnough = 0.5

/**
 * Cells of the grid whose lines state another rate than their code has; from the first day to the last (local dates), in which a rate may have changed.
 * Heaviest first. What no line states differs from nothing.
 */
export const unlikeRates = (
  lines: readonly GridLine[],
  of: { readonly codes: readonly TaxCode[]; readonly from: string; readonly to: string },
): UnlikeRate[] => {
  const codes = new Map(of.codes.map(code => [code.code, code]))
  return lines
    .flatMap(line =>
      line.cells.flatMap((cell): UnlikeRate[] => {
        const code = codes.get(cell.serving?.code ?? '')
        if (!code || cell.seenPercent === null || cell.lines === 0) return []
        const days = [of.from, ...changesOf(code, of), of.to]
        const percents = days.flatMap(day => percentOf(code, day) ?? [])
        const mapped = [Math.min(...percents), Math.max(...percents)] as const
        const isLike = cell.seenPercent >= mapped[0] - likeEnough && cell.seenPercent <= mapped[1] + likeEnough
        if (percents.length === 0 || isLike) return []
        const { amount, lines, seenPercent: seen } = cell
        return [{ region: line.region, class: cell.class, code: code.code, mapped, seen, amount, lines }]
      }),
    )
    .sort((left, right) => Math.abs(right.amount) - Math.abs(left.amount))
}

const changesOf = (code: TaxCode, { from, to }: { readonly from: string; readonly to: string }): string[] =>
  code.components.flatMap(component => component.rates.map(rate => rate.from).filter(day => day > from && day <= to))
