import type { WantedAct } from '@culvert/contract'
import { sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { type SettlementKey, textOfKey } from '../activity/settlementKey.ts'
import type { Consentable } from '../consents/consentable.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadInBase } from '../setup/inBase.ts'
import { bookCorrection, seeCorrection } from './bookCorrection.ts'
import { postSettlements } from './postSettlements.ts'
import { digestOfReady, prepareBatch } from './preparePosting.ts'
import { prepare } from './prepareReversal.ts'
import { takeBack } from './takeBack.ts'

type Wanted<Sort extends WantedAct['sort']> = Extract<WantedAct, { sort: Sort }>

/** What settlements come to in base, minor units. */
const moneyOf = async (tx: Transaction, keys: readonly SettlementKey[]): Promise<number> => {
  const { convert } = await loadInBase(tx)
  const rows = await rowsOf(
    tx,
    { currency: is.text, gross: is.minor },
    sql`SELECT s.currency, sum(abs(s.gross))::bigint AS gross FROM settlement s
      JOIN jsonb_to_recordset(${JSON.stringify(keys)}::jsonb) AS k(source text, key text, currency text)
        ON k.source = s.source AND k.key = s.key AND k.currency = s.currency
      WHERE s.client_id = current_client() GROUP BY s.currency`,
  )
  return sumMinor(rows, row => convert(row.gross, row.currency))
}

const countIn = async (tx: Transaction, keys: readonly SettlementKey[], states: readonly string[]): Promise<number> =>
  (
    await rowsOf(
      tx,
      {},
      sql`SELECT FROM settlement s JOIN jsonb_to_recordset(${JSON.stringify(keys)}::jsonb) AS k(source text, key text, currency text)
        ON k.source = s.source AND k.key = s.key AND k.currency = s.currency
      WHERE s.client_id = current_client() AND s.state = ANY(${sql.param([...states])}::text[])`,
    )
  ).length

/** Posting settlements with another's consent: to exactly these entries. */
export const consentedPosting: Consentable<Wanted<'post'>> = {
  right: 'post',
  look: async (tx, { keys }) => {
    const { ready, notPosted } = await prepareBatch(tx, keys)
    if (notPosted.length > 0) throw new Refused('not_to_consent', { count: notPosted.length })
    return {
      parts: new Map(ready.map(one => [textOfKey(one.loaded.key), digestOfReady(one)])),
      count: ready.length,
      amount: await moneyOf(tx, keys),
    }
  },
  stands: async (tx, { keys }) => (await countIn(tx, keys, ['proposed'])) === keys.length,
  act: async ({ database, actor, wanted, parts, mark }) => {
    const outcome = await postSettlements(database, actor, wanted.keys, {
      ...{ start: 0, outcome: null, bound: parts },
      note: async (tx, _done, sofar) => {
        if (sofar.notPosted.length > 0) throw new Refused('consent_moved')
        await mark(tx)
      },
    })
    return outcome.posted.length
  },
}

/** Taking settlements back with another's consent: these postings and no later ones. */
export const consentedTakingBack: Consentable<Wanted<'take_back'>> = {
  right: 'post',
  look: async (tx, { keys }) => {
    const { ready, refused } = await prepare(tx, keys)
    if (refused.length > 0) throw new Refused('not_to_consent', { count: refused.length })
    return {
      parts: new Map(ready.map(one => [textOfKey(one), String(one.generation)])),
      count: ready.length,
      amount: await moneyOf(tx, keys),
    }
  },
  stands: async (tx, { keys }) => (await countIn(tx, keys, ['posted'])) === keys.length,
  act: async ({ database, actor, wanted, parts, mark }) => {
    const outcome = await takeBack(database, actor, wanted.keys, {
      ...{ start: 0, outcome: null, bound: parts },
      note: async (tx, _done, sofar) => {
        if (sofar.refused.length > 0) throw new Refused('consent_moved')
        await mark(tx)
      },
    })
    return outcome.takenBack.length
  },
}

/** Booking a correction with another's consent: of these lines and no later ones. */
export const consentedCorrection: Consentable<Wanted<'correct'>> = {
  right: 'post',
  look: async (tx, { key }) => {
    const seen = await seeCorrection(tx, key)
    if (seen === null) throw new Refused('not_to_consent', { count: 1 })
    return { parts: new Map([[textOfKey(key), seen]]), count: 1, amount: await correctionMoney(tx, key) }
  },
  stands: async (tx, { key }) => (await seeCorrection(tx, key)) !== null,
  act: async ({ database, actor, wanted, parts, mark }) => {
    const seen = parts.get(textOfKey(wanted.key)) ?? ''
    const outcome = await bookCorrection(database, actor, wanted.key, { seen, mark })
    if (!outcome.ok) throw new Refused('consent_moved')
    return 1
  },
}

const correctionMoney = async (tx: Transaction, key: SettlementKey): Promise<number> => {
  const { convert } = await loadInBase(tx)
  const [row] = await rowsOf(
    tx,
    { amount: is.minor },
    sql`SELECT correction_amount AS amount FROM settlement WHERE client_id = current_client() AND source = ${key.source} AND key = ${key.key}
      AND currency = ${key.currency}`,
  )
  return convert(Math.abs(row?.amount ?? 0), key.currency)
}
