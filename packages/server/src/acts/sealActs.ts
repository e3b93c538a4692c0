import { sql } from 'drizzle-orm'
import { keyNow } from '../access/keyring.ts'
import { beforeCommit, rowsOf, rowsOfPrepared, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { actsPurpose, type SealedAct, sealOf } from './actText.ts'
import { factsReader } from './factsReader.ts'

type Unsealed = Omit<SealedAct, 'of' | 'seq'>

const waiting = new WeakMap<Transaction['$client'], Unsealed[]>()

/** Has an act sealed at the end of its transaction, with the others of it, in their order. */
export const sealLater = (tx: Transaction, clientId: number, act: Unsealed): void => {
  const step = async (): Promise<void> => {
    const acts = waiting.get(tx.$client) ?? []
    waiting.delete(tx.$client)
    await sealActs(tx, clientId, acts)
  }
  // One that was left by a transaction that broke off is not of this one.
  if (beforeCommit(tx, 'seal acts', step)) waiting.set(tx.$client, [])
  waiting.get(tx.$client)?.push(act)
}

interface Head {
  readonly seq: number
  readonly seal: string
}

/** Holds the last seal of a client, so that one act follows another. Null: none was ever sealed. */
const holdHead = async (tx: Transaction): Promise<Head | null> => {
  const [head] = await rowsOfPrepared(
    tx,
    { seq: is.whole, seal: is.text },
    sql`SELECT seq, seal FROM act_head WHERE client_id = current_client() FOR UPDATE`,
  )
  return head ?? null
}

const sealActs = async (tx: Transaction, clientId: number, acts: readonly Unsealed[]): Promise<void> => {
  let head = await holdHead(tx)
  let unsealed = acts
  if (head === null) {
    await tx.execute(
      sql`INSERT INTO act_head (client_id, seq, seal) VALUES (current_client(), 0, '') ON CONFLICT DO NOTHING`,
    )
    head = (await holdHead(tx)) ?? { seq: 0, seal: '' }
    // What was done before acts were sealed comes first.
    if (head.seq === 0) unsealed = await loadUnsealed(tx)
  }
  const { id, secret } = keyNow(actsPurpose)
  const rows = []
  for (const act of unsealed) {
    const seq: number = head.seq + 1
    head = { seq, seal: sealOf({ ...act, of: String(clientId), seq }, head.seal, secret) }
    rows.push({ seq, act_id: act.actId, seal: head.seal })
  }
  await rowsOfPrepared(
    tx,
    {},
    sql`WITH sealed AS (
      INSERT INTO act_seal (client_id, seq, act_id, key_id, seal, sealed_at)
      SELECT current_client(), s.seq, s.act_id, ${id}, s.seal, clock_now()
      FROM jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) AS s(seq int, act_id text, seal text)
    )
    UPDATE act_head SET seq = ${head.seq}::int, seal = ${head.seal} WHERE client_id = current_client()`,
  )
}

/** The columns of acts `a`, as their seals cover them. */
export const actColumns = sql`a.act_id AS "actId", a.sort, to_char(a.at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US') AS at, a."by", a.note,
  (SELECT coalesce(json_agg(json_build_object('subject', o.subject, 'key', o.key, 'before', o.before, 'after', o.after) ORDER BY o.no), '[]')
    FROM act_object o WHERE o.client_id = a.client_id AND o.act_id = a.act_id) AS objects`

/** How they are read. */
export const actShape = {
  actId: is.text,
  sort: is.text,
  at: is.text,
  by: is.whole,
  note: is.text,
  objects: is.list(
    is.record({ subject: is.text, key: is.text, before: is.maybe(factsReader), after: is.maybe(factsReader) }),
  ),
}

const loadUnsealed = (tx: Transaction) =>
  rowsOf(
    tx,
    actShape,
    sql`SELECT ${actColumns} FROM act a WHERE a.client_id = current_client()
      AND NOT EXISTS (SELECT FROM act_seal s WHERE s.client_id = a.client_id AND s.act_id = a.act_id) ORDER BY a.at, a.act_id`,
  )
