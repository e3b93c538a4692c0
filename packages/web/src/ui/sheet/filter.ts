import { groupMark } from '@culvert/core'

/** As it is compared: small letters, minus as it is typed, no narrow spaces. */
const plain = (text: string): string => text.toLowerCase().replaceAll('−', '-').replaceAll(/\s/g, ' ')

const isAmount = (text: string): boolean => /^[-\d.,' ]*\d[-\d.,' ]*$/.test(text)

/** Whether a text holds what was typed. Amounts are found with the locale's thousands marks and without them. */
export const holds = (text: string, typed: string, locale: string): boolean => {
  const [written, wanted] = [plain(text), plain(typed.trim())]
  if (written.includes(wanted)) return true
  const mark = plain(groupMark(locale))
  if (mark === '' || !isAmount(wanted) || !isAmount(written)) return false
  return written.replaceAll(mark, '').includes(wanted.replaceAll(mark, ''))
}
