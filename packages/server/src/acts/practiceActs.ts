import type { PracticeActRow, SealCheck } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { keyNow } from '../access/keyring.ts'
import { asPerson, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import type { practiceActSorts } from '../database/schema/acts/practiceActSorts.ts'
import { actsPurpose, type Facts, type SealedAct, sealOf } from './actText.ts'
import { checkChain, type KeptSeal } from './checkSeals.ts'
import { factsReader } from './factsReader.ts'

interface NewPracticeAct {
  readonly sort: (typeof practiceActSorts)[number]
  /** Null: somebody who is not known. */
  readonly by: number | null
  readonly note?: string
  readonly subject?: 'person' | 'client'
  readonly key?: string
  readonly before?: Facts | null
  readonly after?: Facts | null
}

/**
 * Writes down what was done beside all clients, sealed like their acts. Holds the practice's row from here on: call it last in its transaction. Without a
 * practice there is nothing to write to.
 */
export const recordPracticeAct = async (tx: Transaction, act: NewPracticeAct): Promise<void> => {
  const [practice] = await rowsOf(
    tx,
    { id: is.whole },
    sql`SELECT practice_id AS id FROM practice ORDER BY practice_id LIMIT 1 FOR NO KEY UPDATE`,
  )
  if (!practice) return
  const { seq, seal } = await oneRow(
    tx,
    { seq: is.whole, seal: is.text },
    sql`SELECT coalesce(max(seq), 0)::int AS seq, coalesce((SELECT seal FROM practice_act WHERE practice_id = ${practice.id}
      ORDER BY seq DESC LIMIT 1), '') AS seal FROM practice_act WHERE practice_id = ${practice.id}`,
  )
  const { at } = await oneRow(
    tx,
    { at: is.text },
    sql`SELECT to_char(clock_now() AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US') AS at`,
  )
  const { id, secret } = keyNow(actsPurpose)
  const { by, note = '', subject = null, key = null, before = null, after = null, sort } = act
  const sealed = sealedAct({ practiceId: practice.id, seq: seq + 1, at, sort, by, note, subject, key, before, after })
  await tx.execute(sql`INSERT INTO practice_act (practice_id, seq, sort, at, "by", note, subject, key, before, after, key_id, seal)
    VALUES (${practice.id}, ${seq + 1}, ${sort}, ${at}::timestamp AT TIME ZONE 'UTC', ${by}, ${note}, ${subject}, ${key},
      ${before && JSON.stringify(before)}::jsonb, ${after && JSON.stringify(after)}::jsonb, ${id}, ${sealOf(sealed, seal, secret)})`)
}

const sealedAct = (of: {
  practiceId: number
  seq: number
  sort: string
  at: string
  by: number | null
  note: string
  subject: string | null
  key: string | null
  before: Facts | null
  after: Facts | null
}): SealedAct => ({
  of: `practice ${of.practiceId}`,
  seq: of.seq,
  actId: '',
  sort: of.sort,
  at: of.at,
  by: of.by ?? 0,
  note: of.note,
  objects: [{ subject: of.subject ?? '', key: of.key ?? '', before: of.before, after: of.after }],
})

/** As `recordPracticeAct`, in a transaction of its own, of what was done elsewhere. */
export const notePracticeAct = (database: Database, act: NewPracticeAct): Promise<void> =>
  asPerson(database, act.by ?? 0, tx => recordPracticeAct(tx, act))

/** What was done beside all clients, the latest first. */
export const loadPracticeActs = async (
  tx: Transaction,
  asked: { readonly practiceId: number; readonly offset: number; readonly limit: number },
): Promise<{ acts: PracticeActRow[]; count: number; check: SealCheck }> => {
  const acts = await rowsOf(
    tx,
    {
      seq: is.whole,
      sort: is.text,
      at: is.text,
      by: is.text,
      note: is.text,
      subject: is.maybe(is.text),
      before: is.maybe(factsReader),
      after: is.maybe(factsReader),
    },
    sql`SELECT a.seq, a.sort, a.at::text, coalesce(u.name, '') AS by, a.note, a.subject, a.before, a.after FROM practice_act a
      LEFT JOIN app_user u ON u.user_id = a."by" WHERE a.practice_id = ${asked.practiceId}
      ORDER BY a.seq DESC LIMIT ${asked.limit} OFFSET ${asked.offset}`,
  )
  const { count } = await oneRow(
    tx,
    { count: is.whole },
    sql`SELECT count(*)::int AS count FROM practice_act WHERE practice_id = ${asked.practiceId}`,
  )
  return {
    acts: acts.map(one => ({ ...one, at: new Date(one.at).toISOString() })),
    count,
    check: await checkPracticeSeals(tx, asked.practiceId),
  }
}

const keptShape = {
  seq: is.whole,
  keyId: is.text,
  seal: is.text,
  sort: is.text,
  at: is.text,
  by: is.maybe(is.whole),
  note: is.text,
  subject: is.maybe(is.text),
  key: is.maybe(is.text),
  before: is.maybe(factsReader),
  after: is.maybe(factsReader),
}

/** Checks the acts of a practice like those of a client. */
export const checkPracticeSeals = (tx: Transaction, practiceId: number): Promise<SealCheck> => {
  const next = async (after: number): Promise<KeptSeal[]> => {
    const rows = await rowsOf(
      tx,
      keptShape,
      sql`SELECT seq, key_id AS "keyId", seal, sort, to_char(at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US') AS at, "by", note, subject, key, before,
        after FROM practice_act WHERE practice_id = ${practiceId} AND seq > ${after} ORDER BY seq LIMIT 2000`,
    )
    return rows.map(({ keyId, seal, ...act }) => ({
      ...{ seq: act.seq, keyId, seal },
      act: sealedAct({ practiceId, ...act }),
    }))
  }
  return checkChainWithoutHead(next)
}

// The seals stand in the rows themselves: the last row is the head.
const checkChainWithoutHead = async (next: (after: number) => Promise<readonly KeptSeal[]>): Promise<SealCheck> => {
  const check = await checkChain({ head: null }, next)
  return { ...check, faults: check.faults.filter(fault => fault.what !== 'cut_off') }
}
