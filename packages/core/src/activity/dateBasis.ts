import type { Status } from './activityLine.ts'

/** Which of a line's instants decides its day, month and rates: when it was ordered, paid, sent, or the first of the last two. */
export const dateBases = ['order', 'payment', 'dispatch', 'first'] as const
export type DateBasis = (typeof dateBases)[number]

/** An instant as the source wrote it (ISO 8601 with offset), and as milliseconds since 1970. */
export interface ToldInstant {
  readonly text: string
  readonly instant: number
}

/** The instant that decides by payment or dispatch; null while what it hangs on has not happened: then the line is pending. */
export const decidingInstant = (
  basis: Exclude<DateBasis, 'order'>,
  { paid, sent }: { readonly paid: ToldInstant | null; readonly sent: ToldInstant | null },
): ToldInstant | null => {
  if (basis === 'payment') return paid
  if (basis === 'dispatch') return sent
  if (paid === null || sent === null) return paid ?? sent
  return sent.instant < paid.instant ? sent : paid
}

/** What a line says of its moments and of its status, whatever counts. */
export interface ToldTimes {
  readonly occurred: ToldInstant
  readonly paid: ToldInstant | null
  readonly sent: ToldInstant | null
  readonly status: Status
}

/** Which instant counts by a basis, and the status that comes of it. `held`: it is available, and waits only for what the basis asks for. */
export const countedBy = (
  basis: DateBasis,
  told: ToldTimes,
): { readonly counts: ToldInstant; readonly status: Status; readonly held: boolean } => {
  if (basis === 'order') return { counts: told.occurred, status: told.status, held: false }
  const counts = decidingInstant(basis, told)
  if (counts !== null || told.status !== 'available')
    return { counts: counts ?? told.occurred, status: told.status, held: false }
  return { counts: told.occurred, status: 'pending', held: true }
}
