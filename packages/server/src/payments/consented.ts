import type { WantedAct } from '@culvert/contract'
import { sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import type { Consentable } from '../consents/consentable.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadInBase } from '../setup/inBase.ts'
import { decidePayments, digestDecisions } from './decidePayments.ts'

type Wanted = Extract<WantedAct, { sort: 'decide_payments' }>

/** What payments come to in base, minor units. */
const moneyOf = async (tx: Transaction, { decisions }: Wanted): Promise<number> => {
  const { convert } = await loadInBase(tx)
  const lines = await rowsOf(
    tx,
    { source: is.text, lineId: is.text, currency: is.text },
    sql`SELECT DISTINCT l.source, l.line_id AS "lineId", l.currency FROM activity_line l
      JOIN jsonb_to_recordset(${JSON.stringify(decisions.map(one => one.of))}::jsonb) AS n(source text, "lineId" text)
        ON n.source = l.source AND n."lineId" = l.line_id WHERE l.client_id = current_client()`,
  )
  const currencies = new Map(lines.map(one => [`${one.source} ${one.lineId}`, one.currency]))
  return sumMinor(decisions, ({ of, amount }) => {
    const currency = currencies.get(`${of.source} ${of.lineId}`)
    return currency === undefined ? 0 : convert(Math.abs(amount), currency)
  })
}

/** Deciding one-sided payments with another's consent: to exactly these entries, on the day of the consent. */
export const consentedDecisions: Consentable<Wanted> = {
  right: 'post',
  look: async (tx, wanted) => ({
    parts: await digestDecisions(tx, wanted.decisions),
    count: wanted.decisions.length,
    amount: await moneyOf(tx, wanted),
  }),
  stands: (tx, wanted) =>
    digestDecisions(tx, wanted.decisions).then(
      () => true,
      (error: unknown) => {
        if (error instanceof Refused) return false
        throw error
      },
    ),
  act: async ({ database, actor, wanted, parts, mark }) =>
    (await decidePayments(database, actor, wanted.decisions, { bound: parts, mark })).decided,
}
