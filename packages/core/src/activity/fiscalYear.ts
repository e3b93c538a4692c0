/**
 * The fiscal year of a local date, named after the calendar year in which it ends. `startMonth` 1 to 12: with 1 it is
 * the calendar year, with 4 2026-04-01 is the first day of 2027.
 */
export const fiscalYearOf = (date: string, startMonth: number): number => {
  const year = Number(date.slice(0, 4))
  return startMonth > 1 && Number(date.slice(5, 7)) >= startMonth ? year + 1 : year
}
