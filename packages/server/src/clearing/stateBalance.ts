import { subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, asClient, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { balanceAccounts } from './balanceAccounts.ts'

/** Keeps what somebody outside says that an account holds at the end of a day; null takes it away again. @throws Refused */
export const stateBalance = (
  database: Database,
  actor: Actor,
  stated: { account: string; currency: string; date: string; amount: number | null },
): Promise<void> =>
  asClient(database, actor, async tx => {
    const known = await balanceAccounts(tx)
    if (!known.some(one => one.account === stated.account && one.currency === stated.currency))
      throw new Refused('no_balance_to_state')
    const [before] = await rowsOf(
      tx,
      { amount: is.minor },
      sql`SELECT amount FROM stated_balance WHERE client_id = current_client() AND account = ${stated.account}
        AND currency = ${stated.currency} AND date = ${stated.date}`,
    )
    if (stated.amount === null)
      await tx.execute(sql`DELETE FROM stated_balance WHERE client_id = current_client() AND account = ${stated.account}
        AND currency = ${stated.currency} AND date = ${stated.date}`)
    else
      await tx.execute(sql`INSERT INTO stated_balance (client_id, account, currency, date, amount)
        VALUES (current_client(), ${stated.account}, ${stated.currency}, ${stated.date}, ${stated.amount})
        ON CONFLICT (client_id, account, currency, date) DO UPDATE SET amount = excluded.amount`)
    await recordAct(tx, actor, {
      sort: 'state_balance',
      note: `${stated.account} ${stated.currency} ${stated.date}`,
      touched: [
        {
          subject: 'account',
          key: subjectKey(stated.account),
          before: before ? { date: stated.date, currency: stated.currency, amount: before.amount } : null,
          after: { date: stated.date, currency: stated.currency, amount: stated.amount },
        },
      ],
    })
  })
