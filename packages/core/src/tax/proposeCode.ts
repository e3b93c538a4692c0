import { ratesInForce, type TaxCode } from './taxCode.ts'
import type { GridCell, GridPlace } from './taxGrid.ts'
import { noRegion } from './taxRow.ts'

/** Rates seen and called for are one, where prices of whole cents can tell no more. Percent. */
const likeEnough = 0.5

/** Percent that a code calls for on a day; null where it has no rate by then. */
export const percentOf = (code: TaxCode, date: string): number | null => {
  const rates = ratesInForce(code, date)
  return rates ? Number(rates.total.numerator) / Number(rates.total.denominator) : null
}

/**
 * The code to propose for a cell without one, never taken by itself: of the codes of sales of the region's country (or, where none is told, of the
 * client's own) the one whose rate the source charged; where it charged none, the only one, or for goods without a class of their own the highest.
 */
export const proposeCode = (
  place: GridPlace,
  cell: Pick<GridCell, 'class' | 'seenPercent'>,
  of: { readonly codes: readonly TaxCode[]; readonly home: string | null; readonly date: string },
): { readonly code: string; readonly why: 'rate_seen' | 'only_one' | 'standard' } | null => {
  const country = place.region === noRegion ? of.home : (place.region?.slice(0, 2) ?? of.home)
  const candidates = of.codes.flatMap(code => {
    const percent = code.use === 'sales' && code.country === country ? percentOf(code, of.date) : null
    return percent === null ? [] : [{ code: code.code, percent }]
  })
  const { seenPercent } = cell
  if (seenPercent !== null) {
    const [near, other] = candidates.filter(one => Math.abs(one.percent - seenPercent) <= likeEnough)
    return near && !other ? { code: near.code, why: 'rate_seen' } : null
  }
  const [only, second] = candidates
  if (only && !second) return { code: only.code, why: 'only_one' }
  if (cell.class !== '') return null
  const highest = Math.max(...candidates.map(one => one.percent))
  const top = candidates.filter(one => one.percent === highest)
  return top.length === 1 && top[0] ? { code: top[0].code, why: 'standard' } : null
}
