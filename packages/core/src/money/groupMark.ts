const known = new Map<string, string>()

/** The mark that people of a locale (BCP 47) write between thousands; a space of some width in many. */
export const groupMark = (locale: string): string => {
  const before = known.get(locale)
  if (before !== undefined) return before
  const mark = new Intl.NumberFormat(locale).formatToParts(1_234_567).find(part => part.type === 'group')?.value ?? ''
  known.set(locale, mark)
  return mark
}
