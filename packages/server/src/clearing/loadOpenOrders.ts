import type { ProofPage } from '@culvert/contract'
import type { ClearingAccount } from '../activity/clearingAccounts.ts'
import { documentOf } from '../activity/elsewhereLines.ts'
import type { Transaction } from '../database/connect.ts'
import { ordersOpenAt } from './proofFacts.ts'

/** Orders shown of those that a channel's account leaves open. */
const mostOrders = 200

/** Orders of an account's channels on which something is open at a date: sales not tendered for, tenders without a sale. */
export const loadOpenOrders = async (
  tx: Transaction,
  clearing: ClearingAccount,
  date: string,
): Promise<ProofPage['openOrders']> => {
  const rows = await ordersOpenAt(tx, clearing, { date, most: mostOrders })
  return {
    total: rows[0]?.total ?? 0,
    orders: rows.map(row => ({
      date: row.date,
      amount: row.amount,
      ...documentOf({ source: row.source, lineId: row.line, orderId: row.order }),
    })),
  }
}
