import { groupMark } from './groupMark.ts'

/** As texts are compared: small letters, a minus as it is typed, spaces of any width as one sort. */
export const plainText = (text: string): string => text.toLowerCase().replaceAll('−', '-').replaceAll(/\s/g, ' ')

/** Whether a plain text may be an amount, or a part of one. */
export const isAmountText = (text: string): boolean => /^[-\d.,' ]*\d[-\d.,' ]*$/.test(text)

/** A plain text without the marks that people of a locale (BCP 47) write between thousands. */
export const withoutGroups = (text: string, locale: string): string => {
  const mark = plainText(groupMark(locale))
  return mark === '' ? text : text.replaceAll(mark, '')
}

/** Whether a text holds what was typed. Amounts are found with the locale's thousands marks and without them. */
export const holds = (text: string, typed: string, locale: string): boolean => {
  const [written, wanted] = [plainText(text), plainText(typed.trim())]
  if (written.includes(wanted)) return true
  if (!isAmountText(wanted) || !isAmountText(written)) return false
  return withoutGroups(written, locale).includes(withoutGroups(wanted, locale))
}
