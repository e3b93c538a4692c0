import type { WantedAct } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import type { Consentable } from '../consents/consentable.ts'
import { oneRow, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { setLocked } from './loadClose.ts'
import { loadMonthState, type MonthChecks } from './loadMonthState.ts'

// What a month holds: every entry in it, counted and added up, and whether it is locked.
const stateOf = (tx: Transaction, month: string) =>
  oneRow(
    tx,
    { entries: is.whole, moved: is.minor, locked: is.yes, text: is.text },
    sql`WITH lines AS (SELECT count(*)::int AS lines, count(DISTINCT (fiscal_year, number))::int AS entries, coalesce(sum(abs(base_amount)), 0)::bigint AS moved
        FROM entry_line WHERE client_id = current_client() AND date BETWEEN (${month} || '-01')::date
          AND ((${month} || '-01')::date + interval '1 month - 1 day')::date),
      month AS (SELECT coalesce((SELECT locked FROM period WHERE client_id = current_client() AND month = ${month}), false) AS locked)
    SELECT entries, moved, locked, concat_ws(' ', lines, entries, moved, locked) AS text FROM lines, month`,
  )

/** Locking and opening a month with another's consent: as the month stands. */
export const consentedLock = (checks: MonthChecks): Consentable<Extract<WantedAct, { sort: 'lock' }>> => ({
  right: 'close',
  look: async (tx, { month, locked, reason }) => {
    const state = await stateOf(tx, month)
    if (state.locked === locked) throw new Refused('not_to_consent', { count: 1 })
    // What it would be refused for is said to who asks, not to who consents.
    if (locked && reason === '' && (await loadMonthState(tx, month, checks)).open)
      throw new Refused('month_open', { month })
    return { parts: new Map([[month, state.text]]), count: 1, amount: Math.round(state.moved / 2) }
  },
  stands: async (tx, { month, locked }) => (await stateOf(tx, month)).locked !== locked,
  act: async ({ database, actor, wanted, parts, mark }) => {
    await setLocked(database, actor, wanted, {
      ...checks,
      held: async tx => {
        if ((await stateOf(tx, wanted.month)).text !== parts.get(wanted.month)) throw new Refused('consent_moved')
        await mark(tx)
      },
    })
    return 1
  },
})
