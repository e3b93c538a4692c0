import { createHmac } from 'node:crypto'
import type { Pool } from 'pg'
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible'
import { Refused } from './refused.ts'
import { isSameText } from './secrets.ts'

/** Where a try comes from. */
export interface TryFrom {
  readonly address: string
  readonly place: string
  /** What the browser keeps of having signed in as this address before. */
  readonly known: string | undefined
}

export interface Tries {
  /** @throws Refused where too many failed */
  check(from: TryFrom): Promise<void>
  /** Counts one that failed; true: it was the last for a while. */
  failed(from: TryFrom): Promise<boolean>
  passed(from: TryFrom): Promise<void>
  /** What a browser keeps after it signed in. */
  knownAs(address: string): string
  isKnown(from: TryFrom): boolean
}

type Limit = readonly [RateLimiterPostgres, string]

const minute = 60
const day = 24 * 60 * minute

/**
 * Counts failed tries in the database, for all processes together: by network place; by address and place; and by address alone, for browsers that never
 * signed in as it. That last count cannot shut the person out: where they signed in before, they still can.
 */
export const countTries = (pool: Pool, secret: string): Tries => {
  const limiter = (keyPrefix: string, points: number, duration: number, blockDuration: number) =>
    new RateLimiterPostgres({
      ...{ storeClient: pool, storeType: 'pool', schemaName: 'auth', tableName: 'tries', tableCreated: true },
      ...{ keyPrefix, points, duration, blockDuration },
    })
  const byPlace = limiter('place', 60, 15 * minute, 15 * minute)
  const byBoth = limiter('both', 8, 15 * minute, 15 * minute)
  // Whoever keeps what a browser got when it signed in as the address has tries of their own, that nobody else can use up.
  const byKnown = limiter('known', 20, 15 * minute, 15 * minute)
  const byAddress = limiter('address', 60, day, 60 * minute)
  // Addresses of people stand in no table of tries.
  const named = (text: string): string => createHmac('sha256', secret).update(text).digest('base64url').slice(0, 32)
  const keysOf = ({ address, place }: TryFrom) => ({
    place: named(place),
    both: named(`${address} ${place}`),
    address: named(address),
    known: named(`tries of ${address}`),
  })
  const knownAs = (address: string): string => named(`known ${address}`)
  const isKnown = ({ address, known }: TryFrom): boolean => known !== undefined && isSameText(known, knownAs(address))
  const limits = (from: TryFrom) => {
    const keys = keysOf(from)
    const strange: Limit[] = [
      [byBoth, keys.both],
      [byPlace, keys.place],
      [byAddress, keys.address],
    ]
    return isKnown(from) ? ([[byKnown, keys.known]] satisfies Limit[]) : strange
  }
  return {
    knownAs,
    isKnown,
    check: async from => {
      for (const [limit, key] of limits(from)) {
        const spent = await limit.get(key)
        if (spent && spent.consumedPoints >= limit.points) throw tooMany(spent)
      }
    },
    failed: async from => {
      let filled = false
      for (const [limit, key] of limits(from)) {
        const left = await limit.consume(key).catch((spent: unknown) => {
          if (!(spent instanceof RateLimiterRes)) throw spent
          return spent
        })
        if (left.consumedPoints === limit.points) filled = true
      }
      return filled
    },
    passed: async from => {
      const keys = keysOf(from)
      await Promise.all([byBoth.delete(keys.both), byKnown.delete(keys.known)])
    },
  }
}

const tooMany = ({ msBeforeNext }: RateLimiterRes): Refused =>
  new Refused('too_many_tries', { minutes: Math.max(1, Math.ceil(msBeforeNext / 60_000)) })
