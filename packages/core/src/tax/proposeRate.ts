import type { TaxCode } from './taxCode.ts'

/** Percent of a rate that states write in whole halves; prices of whole cents tell no more. */
const step = 0.5
const near = 0.12

/** The rate that a source charged, as an office would write it: `23` of 22.97 seen; null where it is near none. Percent. */
export const proposeRate = (seenPercent: number | null): number | null => {
  if (seenPercent === null || seenPercent < 0) return null
  const rate = Math.round(seenPercent / step) * step
  return Math.abs(rate - seenPercent) <= near ? rate : null
}

/** A code for a tax code that is made of a country and a rate, free among those there are: `IE23`, `IE13-5`. */
export const freeTaxCode = (country: string, rate: number | null, codes: readonly Pick<TaxCode, 'code'>[]): string => {
  const first = `${country}${rate === null ? '' : String(rate).replace('.', '-')}`
  const isFree = (code: string) => !codes.some(one => one.code === code)
  if (isFree(first)) return first
  for (let count = 2; ; count++) if (isFree(`${first}_${count}`)) return `${first}_${count}`
}
