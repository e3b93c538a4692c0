import type { SealCheck, SealFault } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { keyNamed } from '../access/keyring.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { actsPurpose, type SealedAct, sealOf } from './actText.ts'
import { actColumns, actShape } from './sealActs.ts'

/** A seal as it is kept, with the act it is of; null: the act is not there any more. */
export interface KeptSeal {
  readonly seq: number
  readonly keyId: string
  readonly seal: string
  readonly act: SealedAct | null
}

/** A seal that somebody wrote down: the chain must still go through it. */
export interface KnownSeal {
  readonly seq: number
  readonly seal: string
}

/** Faults named of one chain at most: a chain that is broken at its beginning is broken throughout. */
const mostFaults = 200

/**
 * Works out a chain of seals anew, in batches as they come. Each seal is judged with the one that is kept before it, so that one that was changed is named
 * and those after it are not. Pure but for `next`.
 */
export const checkChain = async (
  of: { readonly head: KnownSeal | null; readonly known?: readonly KnownSeal[] },
  next: (after: number) => Promise<readonly KeptSeal[]>,
): Promise<SealCheck> => {
  const faults: SealFault[] = []
  const known = new Map((of.known ?? []).map(one => [one.seq, one.seal]))
  let last: KnownSeal = { seq: 0, seal: '' }
  let acts = 0
  for (;;) {
    const batch = await next(last.seq)
    if (batch.length === 0) break
    for (const kept of batch) {
      for (let seq = last.seq + 1; seq < kept.seq; seq++) faults.push({ seq, actId: null, what: 'missing' })
      const what = faultOf(kept, last, known)
      if (what) faults.push({ seq: kept.seq, actId: kept.act?.actId ?? null, what })
      last = kept
      acts++
      if (faults.length >= mostFaults) return { acts, last: named(last), faults }
    }
  }
  const end = Math.max(of.head?.seq ?? 0, ...known.keys())
  // Also where nothing was sealed and something stands: the head goes with the first seal.
  if (end > last.seq || (of.head === null && last.seq > 0) || (of.head && of.head.seq < last.seq))
    faults.push({ seq: Math.max(end, last.seq), actId: null, what: 'cut_off' })
  else if (of.head && last.seq > 0 && of.head.seal !== last.seal)
    faults.push({ seq: last.seq, actId: null, what: 'changed' })
  return { acts, last: named(last), faults }
}

const named = ({ seq, seal }: KnownSeal): SealCheck['last'] => (seq === 0 ? null : { seq, seal })

const faultOf = (kept: KeptSeal, before: KnownSeal, known: ReadonlyMap<number, string>): SealFault['what'] | null => {
  const secret = keyNamed(kept.keyId, actsPurpose)
  if (kept.act === null) return 'missing'
  if (secret === null) return 'unknown_key'
  const expected = known.get(kept.seq)
  const isWhole = sealOf(kept.act, before.seal, secret) === kept.seal && (expected ?? kept.seal) === kept.seal
  return isWhole ? null : 'changed'
}

const batchSize = 2000

/** Checks a client's acts: every seal, and that none is missing, none without a seal, and nothing cut off. */
export const checkSeals = async (
  tx: Transaction,
  clientId: number,
  known: readonly KnownSeal[] = [],
): Promise<SealCheck> => {
  const [head] = await rowsOf(
    tx,
    { seq: is.whole, seal: is.text },
    sql`SELECT seq, seal FROM act_head WHERE client_id = ${clientId}`,
  )
  const next = async (after: number): Promise<KeptSeal[]> => {
    const rows = await rowsOf(
      tx,
      { seq: is.whole, keyId: is.text, seal: is.text, ...actShape },
      sql`SELECT s.seq, s.key_id AS "keyId", s.seal, ${actColumns} FROM act_seal s JOIN act a USING (client_id, act_id)
        WHERE s.client_id = ${clientId} AND s.seq > ${after} ORDER BY s.seq LIMIT ${batchSize}`,
    )
    return rows.map(({ seq, keyId, seal, ...act }) => ({
      ...{ seq, keyId, seal },
      act: { ...act, of: String(clientId), seq },
    }))
  }
  const check = await checkChain({ head: head ?? null, known }, next)
  const unsealed = await rowsOf(
    tx,
    { actId: is.text },
    sql`SELECT a.act_id AS "actId" FROM act a WHERE a.client_id = ${clientId}
      AND NOT EXISTS (SELECT FROM act_seal s WHERE s.client_id = a.client_id AND s.act_id = a.act_id) ORDER BY a.at LIMIT ${mostFaults}`,
  )
  // Where nothing was ever sealed, what stands is of before seals, and is sealed with the next act.
  const bare = head || check.last ? unsealed : []
  return {
    ...check,
    faults: [...check.faults, ...bare.map(one => ({ seq: 0, actId: one.actId, what: 'unsealed' as const }))],
  }
}
