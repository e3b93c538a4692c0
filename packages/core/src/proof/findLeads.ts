import { compareText } from '../mapping/compareText.ts'

/** Something that moved an account, or that its processor says did. Minor units, debit positive. */
export interface Movement {
  readonly name: string
  /** Local date. */
  readonly date: string
  readonly amount: number
  /** Who says so: what the books and a source both tell is no double. Absent: one and the same. */
  readonly by?: string
  /** What it is about, an order: movements about different ones are no doubles of each other. */
  readonly about?: string | null
}

/** What an unexplained amount may come from. */
export type Lead =
  /** A posted entry whose amount on the account is not that of its lines; the movement's amount is by how much. */
  | { readonly sort: 'wrong_entry'; readonly movements: readonly [Movement] }
  /** A settlement that does not foot by exactly the amount: something of it is missing, or twice. */
  | { readonly sort: 'does_not_foot'; readonly movements: readonly [Movement] }
  /** One movement of exactly the amount: missing on one side, or there too often. */
  | { readonly sort: 'single'; readonly movements: readonly [Movement] }
  /** Booked with the wrong sign: the amount is twice the movement's. */
  | { readonly sort: 'sign'; readonly movements: readonly [Movement] }
  /** Two movements alike, of exactly the amount each: one may be the other's double. */
  | { readonly sort: 'double'; readonly movements: readonly [Movement, Movement] }
  /** Two neighbouring digits changed over: the movement would have been `meant`. */
  | { readonly sort: 'swapped_digits'; readonly movements: readonly [Movement]; readonly meant: number }
  /** Two movements that come to the amount together. */
  | { readonly sort: 'pair'; readonly movements: readonly [Movement, Movement] }

const ranks: Record<Lead['sort'], number> = {
  wrong_entry: 0,
  does_not_foot: 1,
  double: 2,
  single: 3,
  sign: 4,
  swapped_digits: 5,
  pair: 6,
}
/** Days within which two movements of one amount are alike. */
const doubleWithinDays = 31
const dayMs = 86_400_000
const daysApart = (one: Movement, other: Movement): number =>
  Math.abs(Date.parse(one.date) - Date.parse(other.date)) / dayMs

/**
 * Leads for an unexplained difference of `amount` (minor units, not zero), the most telling first, then the latest: at most
 * `most` of them. `unfooted`: settlements that do not foot, with the difference. `wrongEntries`: entry less lines, told first and whatever
 * the amount, also where they cancel. Movements that cancel each other explain nothing and give none.
 */
export const findLeads = (
  amount: number,
  movements: readonly Movement[],
  {
    most = 6,
    unfooted = [],
    wrongEntries = [],
  }: {
    readonly most?: number
    readonly unfooted?: readonly Movement[]
    readonly wrongEntries?: readonly Movement[]
  } = {},
): Lead[] => {
  const wrong = wrongEntries.map((entry): Lead => ({ sort: 'wrong_entry', movements: [entry] }))
  if (amount === 0) return wrong.sort(compareLeads).slice(0, most)
  const size = Math.abs(amount)
  const leads: Lead[] = [
    ...wrong,
    ...unfooted
      .filter(settlement => Math.abs(settlement.amount) === size)
      .map((settlement): Lead => ({ sort: 'does_not_foot', movements: [settlement] })),
    ...doubles(size, movements),
    ...movements.flatMap(movement => leadsOfOne(size, movement)),
    ...pairs(amount, movements),
  ]
  return leads.sort(compareLeads).slice(0, most)
}

const compareLeads = (left: Lead, right: Lead): number =>
  ranks[left.sort] - ranks[right.sort] ||
  compareText(right.movements[0].date, left.movements[0].date) ||
  compareText(left.movements[0].name, right.movements[0].name)

const leadsOfOne = (size: number, movement: Movement): Lead[] => {
  const own = Math.abs(movement.amount)
  if (own === 0) return []
  const leads: Lead[] = []
  if (own === size) leads.push({ sort: 'single', movements: [movement] })
  if (2 * own === size) leads.push({ sort: 'sign', movements: [movement] })
  // Changing two digits over always makes a difference of a multiple of nine.
  if (size % 9 === 0)
    for (const meant of withDigitsSwapped(own))
      if (Math.abs(own - meant) === size)
        leads.push({ sort: 'swapped_digits', movements: [movement], meant: movement.amount < 0 ? -meant : meant })
  return leads
}

const withDigitsSwapped = (amount: number): number[] => {
  const digits = [...String(amount)]
  return digits.slice(1).flatMap((digit, place) => {
    const before = digits[place] as string
    return digit === before
      ? []
      : [
          Number(
            digits
              .with(place, digit)
              .with(place + 1, before)
              .join(''),
          ),
        ]
  })
}

const doubles = (size: number, movements: readonly Movement[]): Lead[] => {
  const alike = movements.filter(movement => Math.abs(movement.amount) === size)
  return alike.flatMap((one, index) =>
    alike
      .slice(index + 1)
      .filter(
        other =>
          other.amount === one.amount &&
          other.by === one.by &&
          other.about === one.about &&
          daysApart(one, other) <= doubleWithinDays,
      )
      .map((other): Lead => ({ sort: 'double', movements: one.date >= other.date ? [one, other] : [other, one] })),
  )
}

const pairs = (amount: number, movements: readonly Movement[]): Lead[] => {
  const byAmount = new Map<number, Movement[]>()
  for (const movement of movements) {
    const list = byAmount.get(movement.amount)
    if (list) list.push(movement)
    else byAmount.set(movement.amount, [movement])
  }
  const place = new Map(movements.map((movement, index) => [movement, index]))
  return [amount, -amount].flatMap(wanted =>
    movements.flatMap(one =>
      (byAmount.get(wanted - one.amount) ?? [])
        .filter(
          other =>
            (place.get(other) as number) > (place.get(one) as number) &&
            other.by === one.by &&
            one.amount !== 0 &&
            other.amount !== 0,
        )
        .map((other): Lead => ({ sort: 'pair', movements: [one, other] })),
    ),
  )
}
