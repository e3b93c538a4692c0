import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, oneRow } from '../database/connect.ts'
import { holdSetup } from '../database/locks.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'

/** Says up to how much of one payment may be written off, in minor units of base; null: nothing. What was decided stays. @throws Refused where somebody else changed it */
export const saveWriteOff = (
  database: Database,
  actor: Actor,
  { upTo, from }: { readonly upTo: number | null; readonly from: number | null },
): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      await holdSetup(tx)
      const { limit } = await oneRow(
        tx,
        { limit: is.maybe(is.minor) },
        sql`SELECT write_off_up_to AS limit FROM client WHERE client_id = current_client()`,
      )
      if (limit !== from) throw new Refused('limit_changed')
      await tx.execute(sql`UPDATE client SET write_off_up_to = ${upTo}::bigint WHERE client_id = current_client()`)
      await recordAct(tx, actor, {
        sort: 'save_write_off',
        note: `${from ?? ''} ${upTo ?? ''}`,
        touched: [
          {
            subject: 'client',
            key: String(actor.clientId),
            before: { writeOffUpTo: from },
            after: { writeOffUpTo: upTo },
          },
        ],
      })
      await markStages(tx, ['payments'])
    }),
  )
