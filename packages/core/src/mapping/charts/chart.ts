import type { Kind } from '../../activity/kinds.ts'
import type { StarterAccount } from '../starterMap.ts'

/** A label set seen at a source with its money, and the account that a bookkeeper of that chart would choose. */
export interface SeenWithAnswer {
  readonly kind: Kind
  readonly category?: string
  readonly gateway?: string
  readonly method?: string
  readonly region?: string
  readonly taxLabel?: string
  /** Sum of 13 weeks, minor units. */
  readonly amount: number
  /** Codes that are right; empty: none fits, an account is to be made. */
  readonly right: readonly string[]
}

/** A made-up chart of accounts with what its source reports, written down before the starter map was. */
export interface MeasuredChart {
  readonly name: string
  readonly accounts: readonly StarterAccount[]
  readonly seen: readonly SeenWithAnswer[]
}

/** "code name|type" rows as accounts. */
export const accountsOf = (rows: string): StarterAccount[] =>
  rows
    .trim()
    .split('\n')
    .map(row => {
      const [, code = '', name = '', type = ''] = /^\s*(\S+)\s+(.+)\|(\w+)\s*$/.exec(row) ?? []
      return { code, name, type: type as StarterAccount['type'] }
    })
