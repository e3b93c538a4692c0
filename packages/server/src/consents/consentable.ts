import type { Right, WantedAct } from '@culvert/contract'
import type { Actor, Database, Transaction } from '../database/connect.ts'

/** What an act would do now. */
export interface Looked {
  /** By the key of each part of it, a digest of what would be done. */
  readonly parts: ReadonlyMap<string, string>
  readonly count: number
  /** In minor units of base. */
  readonly amount: number
}

/** What can be done with another's consent; each stage says so of its own acts. */
export interface Consentable<Wanted extends WantedAct = WantedAct> {
  /** What whoever consents must be allowed to do themselves. */
  readonly right: Right
  /** @throws Refused where it cannot be done as it stands */
  look(tx: Transaction, wanted: Wanted): Promise<Looked>
  /** A quick look whether it can still be done; whether it is still exactly the same is looked at when it is done. */
  stands(tx: Transaction, wanted: Wanted): Promise<boolean>
  /** Does it, and calls `mark` in the transaction that does. @throws Refused where it would do something else than `parts` says */
  act(of: {
    readonly database: Database
    readonly actor: Actor
    readonly wanted: Wanted
    readonly parts: ReadonlyMap<string, string>
    readonly mark: (tx: Transaction) => Promise<void>
  }): Promise<number>
}

/** What can be done with another's consent, by its sort. */
export type Consentables = { readonly [Sort in WantedAct['sort']]: Consentable<Extract<WantedAct, { sort: Sort }>> }
