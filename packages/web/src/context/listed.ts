import { type To, useLocation } from 'react-router'
import { z } from 'zod'

// Whoever opens a page from a list goes on along that list, as it was sorted and filtered there. The addresses travel with the navigation.
const carried = z.object({ listed: z.array(z.string()) })

/** What a link out of a list carries: the addresses that it shows, in its order. */
export const carriedFrom = (addresses: readonly string[]) => ({ listed: [...addresses] })

/** Where a page stands in the list that it was opened from. */
export interface Listed {
  readonly previous: string | null
  readonly next: string | null
  readonly index: number
  readonly count: number
  /** To be carried on. */
  readonly state: unknown
}

const pathOf = (address: To): string => String(address).split('?')[0] ?? ''

/** Null where a page was opened by its address, or is in no list. */
export const useListed = (): Listed | null => {
  const { state, pathname } = useLocation()
  const read = carried.safeParse(state)
  if (!read.success) return null
  const { listed } = read.data
  const index = listed.findIndex(address => pathOf(address) === pathname)
  return index < 0
    ? null
    : { previous: listed[index - 1] ?? null, next: listed[index + 1] ?? null, index, count: listed.length, state }
}
