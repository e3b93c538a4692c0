import type { ProofSettlement } from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { ClearingAccount } from '../activity/clearingAccounts.ts'
import { settlementState } from '../activity/settlementKey.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { lateSources, settlementRef } from './proofRows.ts'
import {
  type Corrected,
  openSettlements,
  unbookedLines,
  waitingPayouts,
  wholeSettlements,
} from './standingSettlements.ts'
import { type TenderSide, tenderedSettlements } from './tenderedHere.ts'

interface SettlementsAt {
  readonly date: string
  /** Sums only, of what is past in all its dates. */
  readonly brief: boolean
  readonly corrected: Corrected
  readonly side: TenderSide | null
}

/**
 * Settlements that explain anything of a clearing account at a date: the sources' own that are past and not posted, what in these is booked
 * elsewhere or not at all, those that stand across the date, and those of channels that tender to it.
 */
export const loadSettlements = async (
  tx: Transaction,
  clearing: ClearingAccount,
  at: SettlementsAt,
): Promise<ProofSettlement[]> => {
  const parts = [
    wholeSettlements(clearing, at),
    unbookedLines(clearing, at.date),
    ...(lateSources(clearing).length > 0 ? [waitingPayouts(clearing, at.date)] : []),
    ...(at.corrected.across ? [openSettlements(clearing, at)] : []),
    ...(at.side ? [tenderedSettlements(clearing, { ...at, side: at.side })] : []),
  ].map((part, order) => sql`SELECT ${order}::int AS part, p.* FROM (${part}) p`)
  const rows = await rowsOf(
    tx,
    {
      source: is.text,
      key: is.text,
      state: settlementState,
      movements: is.maybe(
        is.list(
          is.record({
            bookedOn: is.maybe(is.text),
            wantedOn: is.optional(is.maybe(is.text)),
            tendered: is.optional(is.yes),
            date: is.date,
            amount: is.minor,
          }),
        ),
      ),
      payouts: is.maybe(
        is.list(
          is.record({
            lineId: is.text,
            date: is.date,
            amount: is.minor,
            transferDate: is.maybe(is.date),
            wantedOn: is.optional(is.maybe(is.text)),
            arrivedOn: is.maybe(is.text),
          }),
        ),
      ),
    },
    sql`SELECT source, key, state, movements, payouts FROM (${sql.join(parts, sql` UNION ALL `)}) parts ORDER BY part, place, key`,
  )
  return rows.map(row => ({
    ...settlementRef(row),
    state: row.state,
    movements: row.movements ?? [],
    payouts: (row.payouts ?? []).map(payout => ({ ...payout, leaves: leavesOf(row.source, clearing) })),
  }))
}

const leavesOf = (source: string, { sources }: ClearingAccount): 'sent' | 'arrived' =>
  sources.find(one => one.source === source)?.payoutsLeaveBalance ?? 'sent'
