const groupMarks = new Map<string, string>()

/** The mark between thousands in a locale. */
const groupMarkOf = (locale: string): string => {
  const known = groupMarks.get(locale)
  if (known !== undefined) return known
  const mark = new Intl.NumberFormat(locale).formatToParts(1_234_567).find(part => part.type === 'group')?.value ?? ''
  groupMarks.set(locale, mark)
  return mark
}

/** As it is compared: small letters, minus as it is typed, no narrow spaces. */
const plain = (text: string): string => text.toLowerCase().replaceAll('−', '-').replaceAll(/\s/g, ' ')

const isAmount = (text: string): boolean => /^[-\d.,' ]*\d[-\d.,' ]*$/.test(text)

/** Whether a text holds what was typed. Amounts are found with the locale's thousands marks and without them. */
export const holds = (text: string, typed: string, locale: string): boolean => {
  const [written, wanted] = [plain(text), plain(typed.trim())]
  if (written.includes(wanted)) return true
  const mark = plain(groupMarkOf(locale))
  if (mark === '' || !isAmount(wanted) || !isAmount(written)) return false
  return written.replaceAll(mark, '').includes(wanted.replaceAll(mark, ''))
}
