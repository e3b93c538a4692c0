import type { Named } from './findNamed.ts'

/** What is sold, as the ledger knows it. `code` is its SKU there. */
export interface Item extends Named {
  readonly account: string
  readonly taxCode: string | null
  /** Cost of one, minor units of the client's base currency, in versions by first local date; none: no cost is booked. */
  readonly costs: readonly { readonly from: string; readonly cost: number }[]
}

/** Cost of one on a local date, minor units of base; null before the first version. */
export const costOn = (item: Item, date: string): number | null => {
  let latest: Item['costs'][number] | null = null
  for (const version of item.costs)
    if (version.from <= date && (latest === null || version.from > latest.from)) latest = version
  return latest?.cost ?? null
}
