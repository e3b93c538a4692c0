import { groupMark } from './groupMark.ts'
import { maxMinor } from './minor.ts'
import { type ParsedAmount, parseAmount } from './parseAmount.ts'

const withoutGroups = (term: string, locale: string): string => {
  // Spaces are left out wherever they stand.
  const mark = groupMark(locale).trim()
  const plain = mark === '’' ? term.replaceAll("'", '’') : term
  if (mark === '' || !plain.includes(mark)) return plain
  const [front = '', ...groups] = plain.split(mark)
  const isGrouped =
    /^\d{1,3}$/.test(front) &&
    groups.every((group, at) => (at === groups.length - 1 ? /^\d{3}(?:[.,]\d+)?$/ : /^\d{3}$/).test(group))
  return isGrouped ? front + groups.join('') : plain
}

/**
 * Reads an amount as people of a locale type it: with its thousands marks or without, point or comma before the cents, and as a sum of several. Never
 * rounds. @example typedAmount('1.200+35,50', 'EUR', 'de-DE') // { ok: true, minor: 123550 }
 */
export const typedAmount = (text: string, currency: string, locale: string): ParsedAmount => {
  const plain = text.replaceAll('−', '-').replaceAll(/\s/g, '')
  if (!/^[-+]?[\d.,'’]+(?:[-+][\d.,'’]+)*$/.test(plain)) return { ok: false, code: 'not_an_amount' }
  let minor = 0
  for (const [, sign, term = ''] of plain.matchAll(/([-+]?)([^-+]+)/g)) {
    const parsed = parseAmount(withoutGroups(term, locale), currency)
    if (!parsed.ok) return parsed
    minor += sign === '-' ? -parsed.minor : parsed.minor
    if (Math.abs(minor) > maxMinor) return { ok: false, code: 'out_of_range' }
  }
  return { ok: true, minor: minor === 0 ? 0 : minor }
}
