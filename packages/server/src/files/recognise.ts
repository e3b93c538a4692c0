import { activityColumns, balanceColumns, bankColumns, settlementColumns } from '@culvert/core'

/** Formats that a file's first bytes tell apart. */
export type FileFormat = 'csv' | 'xlsx' | 'camt' | 'ofx' | 'mt940' | 'other'

/** What a file is, by its first bytes and never by its name. */
export const formatOf = (start: string, isZip: boolean): FileFormat => {
  if (isZip) return 'xlsx'
  const text = start.replace(/^\uFEFF/, '').trimStart()
  if (/^(OFXHEADER|<OFX|<\?OFX)/i.test(text) || /^<\?xml[^>]*\?>\s*<\?OFX/i.test(text)) return 'ofx'
  if (text.startsWith('<')) return 'camt'
  if (
    /^(\{1:|:20:|\{4:)/.test(text) ||
    /^[A-Z0-9]{0,20}\r?\n?(940|:20:)/.test(text) ||
    /\n:20:/.test(text.slice(0, 2000))
  )
    return /:6[01][FM]?:/.test(text) || /:25:/.test(text) ? 'mt940' : 'csv'
  return [...text.slice(0, 4000)].some(isControl) ? 'other' : 'csv'
}

// What no text has but for tabs and ends of lines.
const isControl = (sign: string): boolean => sign < ' ' && !'\t\n\r\f'.includes(sign)

export type OwnSort = 'activity' | 'settlements' | 'balances' | 'bank'

/** Which of our own files a header is of; null: columns of another's shape. */
export const ownSortOf = (header: readonly string[]): OwnSort | null => {
  const names = new Set(header.map(name => name.trim()))
  const hasAll = (required: readonly string[]) => required.every(name => names.has(name))
  if (names.has('available') && names.has('at') && hasAll(balanceColumns.required)) return 'balances'
  if ((names.has('period_start') || names.has('closing_balance')) && hasAll(settlementColumns.required))
    return 'settlements'
  if (hasAll(bankColumns.required)) return 'bank'
  return hasAll(activityColumns.required) ? 'activity' : null
}

/** Whether a header has more of our required columns than it lacks. */
export const isMostlyOurs = (header: readonly string[], required: readonly string[]): boolean => {
  const names = new Set(header.map(name => name.trim()))
  return required.filter(name => names.has(name)).length * 2 > required.length
}
