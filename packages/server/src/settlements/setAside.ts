import { sql } from 'drizzle-orm'
import { holdSettlements, keyRows, type SettlementKey, subjectOfSettlement } from '../activity/settlementKey.ts'
import type { Facts } from '../acts/actText.ts'
import { type ActSort, recordAct } from '../acts/recordAct.ts'
import { recompose } from '../composing/recompose.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'

interface StateChange {
  readonly act: ActSort
  readonly note?: string
  /** States of those that are changed; others of the keys are left as they are. */
  readonly of: readonly string[]
  /** What they are then. */
  readonly after: Facts
  readonly change: (tx: Transaction, keys: readonly SettlementKey[]) => Promise<void>
}

/** Changes settlements that are in one of some states, held while it does. Returns how many they were; none leaves no act. */
const changeState = (
  database: Database,
  actor: Actor,
  keys: readonly SettlementKey[],
  { act, note, of, after, change }: StateChange,
): Promise<number> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const held = await holdSettlements(tx, keys)
      const changed = held.filter(row => of.includes(row.state))
      if (changed.length === 0) return 0
      await change(tx, changed)
      await recordAct(tx, actor, {
        sort: act,
        ...(note !== undefined && { note }),
        touched: changed.map(row => ({
          subject: 'settlement',
          key: subjectOfSettlement(row),
          before: { state: row.state },
          after,
        })),
      })
      await markStages(tx, ['settlements', 'mapping', 'clearing'])
      return changed.length
    }),
  )

/** Settlements `s` of the given keys. */
const ofKeys = (keys: readonly SettlementKey[]) => sql`FROM ${keyRows(keys)}
  WHERE s.client_id = current_client() AND s.source = k.source AND s.key = k.key AND s.currency = k.currency`

/** Leaves settlements that are not posted out on purpose, with a reason. Returns how many there were. */
export const setAside = (
  database: Database,
  actor: Actor,
  keys: readonly SettlementKey[],
  reason: string,
): Promise<number> =>
  changeState(database, actor, keys, {
    act: 'set_aside',
    note: reason,
    of: ['blocked', 'proposed'],
    after: { state: 'set_aside', reason },
    change: async (tx, held) => {
      await tx.execute(sql`UPDATE settlement s SET state = 'set_aside', set_aside_reason = ${reason} ${ofKeys(held)}`)
    },
  })

/** Says that settlements are no doubles of what is in the ledger, though they look like it: they may be posted. */
export const sayNoDouble = (database: Database, actor: Actor, keys: readonly SettlementKey[]): Promise<number> =>
  changeState(database, actor, keys, {
    act: 'no_double',
    of: ['blocked', 'proposed'],
    after: { double: false },
    change: async (tx, held) => {
      await tx.execute(sql`UPDATE settlement s SET not_double = true ${ofKeys(held)}`)
      await recompose(tx, held)
    },
  })

/** Takes settlements that were set aside up again: they are proposed or blocked as their lines say. */
export const takeUp = (database: Database, actor: Actor, keys: readonly SettlementKey[]): Promise<number> =>
  changeState(database, actor, keys, {
    act: 'take_up',
    of: ['set_aside'],
    after: { state: 'taken up' },
    change: async (tx, held) => {
      await tx.execute(sql`UPDATE settlement s SET state = 'blocked', set_aside_reason = NULL ${ofKeys(held)}`)
      await recompose(tx, held)
    },
  })
