import { convertMinor, rateOn } from '@culvert/core'
import type { Transaction } from '../database/connect.ts'
import { loadRatesOfClient } from './keptRates.ts'

/** What amounts of several currencies are added up in, where people are told how much waits: never what is booked. */
export interface InBase {
  readonly base: string
  /** Minor units of base at the newest rate; 0 where no rate is known, since an amount of another currency is none of base. */
  convert(minor: number, currency: string): number
}

/** A client's newest rates, ready for adding up. */
export const loadInBase = async (tx: Transaction): Promise<InBase> => {
  const { base, rates } = await loadRatesOfClient(tx)
  const known = new Map<string, ReturnType<typeof rateOn>>()
  return {
    base,
    convert: (minor, currency) => {
      if (currency === base) return minor
      if (!known.has(currency)) known.set(currency, rateOn(rates, { currency, base, date: '9999-12-31' }))
      const rate = known.get(currency)
      return rate ? convertMinor(minor, rate, { currency, base }) : 0
    },
  }
}
