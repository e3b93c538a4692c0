import { createHash, randomUUID } from 'node:crypto'
import {
  type AskConsentBody,
  type ConsentRow,
  rightsOfRole,
  roles,
  subjectKey,
  type WantedAct,
  wantedAct,
} from '@culvert/contract'
import { compareText } from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { Refused } from '../access/refused.ts'
import { type SettlementKey, subjectOfSettlement } from '../activity/settlementKey.ts'
import type { Facts } from '../acts/actText.ts'
import { recordAct, type Touched } from '../acts/recordAct.ts'
import { type Actor, asClient, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import type { Consentable, Consentables, Looked } from './consentable.ts'

const ofSort = (acts: Consentables, wanted: WantedAct): Consentable => acts[wanted.sort] as Consentable

const digestOf = ({ parts }: Looked): string =>
  createHash('sha256')
    .update(JSON.stringify([...parts].sort(([left], [right]) => compareText(left, right))))
    .digest('hex')

const setupVersion = async (tx: Transaction): Promise<number> =>
  (
    await oneRow(
      tx,
      { version: is.whole },
      sql`SELECT setup_version AS version FROM client WHERE client_id = current_client()`,
    )
  ).version

/** What a wanted act is about. */
const touchedBy = (wanted: WantedAct, after: Facts): Touched[] => {
  const ofSettlement = (key: SettlementKey): Touched => ({
    subject: 'settlement',
    key: subjectOfSettlement(key),
    after,
  })
  switch (wanted.sort) {
    case 'post':
    case 'take_back':
      return wanted.keys.map(ofSettlement)
    case 'correct':
      return [ofSettlement(wanted.key)]
    case 'decide_payments':
      return wanted.decisions.map(({ of }) => ({ subject: 'payment', key: subjectKey(of.source, of.lineId), after }))
    case 'lock':
      return [{ subject: 'month', key: wanted.month, after }]
  }
}

/** Asks for consent to an act: what it would do now is bound to it. @throws Refused where it cannot be done as it stands */
export const askConsent = (
  database: Database,
  acts: Consentables,
  actor: Actor,
  { wanted, note = '' }: AskConsentBody & { readonly wanted: WantedAct },
): Promise<{ consentId: string; count: number; amount: number }> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const version = await setupVersion(tx)
      const looked = await ofSort(acts, wanted).look(tx, wanted)
      const consentId = randomUUID()
      // Of the same asked for twice the later stands.
      await tx.execute(sql`UPDATE consent SET outcome = 'withdrawn', decided_by = ${actor.userId}, decided_at = clock_now()
        WHERE client_id = current_client() AND outcome IS NULL AND asked_by = ${actor.userId} AND asked = ${JSON.stringify(wanted)}::jsonb`)
      await tx.execute(sql`INSERT INTO consent (client_id, consent_id, sort, asked_by, asked_at, note, asked, digest, setup_version, count, amount)
        VALUES (current_client(), ${consentId}, ${wanted.sort}, ${actor.userId}, clock_now(), ${note}, ${JSON.stringify(wanted)}::jsonb, ${digestOf(looked)},
          ${version}, ${looked.count}, ${looked.amount})`)
      await recordAct(tx, actor, {
        sort: 'ask_consent',
        note,
        touched: [
          {
            subject: 'consent',
            key: consentId,
            after: { sort: wanted.sort, count: looked.count, amount: looked.amount },
          },
          ...touchedBy(wanted, { consent: 'asked for' }),
        ],
      })
      return { consentId, count: looked.count, amount: looked.amount }
    }),
  )

interface Open {
  readonly wanted: WantedAct
  readonly askedBy: number
  readonly name: string
  readonly digest: string
  readonly version: number
}

/** A consent that nobody has decided; with `hold`, kept so until the transaction ends. @throws Refused */
const loadOpen = async (tx: Transaction, consentId: string, hold: boolean): Promise<Open> => {
  const [row] = await rowsOf(
    tx,
    {
      wanted: is.by(wantedAct),
      askedBy: is.whole,
      name: is.text,
      digest: is.text,
      version: is.whole,
      outcome: is.maybe(is.text),
    },
    sql`SELECT c.asked AS wanted, c.asked_by AS "askedBy", u.name, c.digest, c.setup_version AS version, c.outcome
      FROM consent c JOIN app_user u ON u.user_id = c.asked_by WHERE c.client_id = current_client() AND c.consent_id = ${consentId}
      ${hold ? sql`FOR UPDATE OF c` : sql``}`,
  )
  if (!row) throw new Refused('not_found', { what: 'request' })
  if (row.outcome !== null) throw new Refused('consent_decided')
  return row
}

const decide = async (
  tx: Transaction,
  actor: Actor,
  of: {
    readonly consentId: string
    readonly outcome: 'given' | 'refused' | 'withdrawn' | 'moved'
    readonly reason?: string
  },
): Promise<void> => {
  await tx.execute(sql`UPDATE consent SET outcome = ${of.outcome}, decided_by = ${actor.userId}, decided_at = clock_now(), reason = ${of.reason ?? ''}
    WHERE client_id = current_client() AND consent_id = ${of.consentId}`)
}

/**
 * Consents to what another asked for, and does it as whoever consents: only if it is still exactly what was asked for, under the setup of then. What has moved
 * is not done, and said to be so. @throws Refused
 */
export const giveConsent = async (
  database: Database,
  acts: Consentables,
  actor: Actor,
  consentId: string,
): Promise<{ done: number }> => {
  const { open, parts } = await asClient(database, actor, async tx => {
    const found = await loadOpen(tx, consentId, false)
    if (found.askedBy === actor.userId) throw new Refused('own_consent')
    const consentable = ofSort(acts, found.wanted)
    await refuseUnlessMay(tx, consentable)
    if (found.version !== (await setupVersion(tx))) return { open: found, parts: null }
    const looked = await consentable.look(tx, found.wanted).catch((error: unknown) => {
      if (error instanceof Refused) return null
      throw error
    })
    return { open: found, parts: looked && digestOf(looked) === found.digest ? looked.parts : null }
  })
  if (parts === null) return refuseMoved(database, actor, consentId)
  try {
    const done = await ofSort(acts, open.wanted).act({
      ...{ database, actor, wanted: open.wanted, parts },
      mark: async tx => {
        // Of many batches the first says it; one that is run again says it again.
        if (await isGivenBy(tx, actor, consentId)) return
        await loadOpen(tx, consentId, true)
        await decide(tx, actor, { consentId, outcome: 'given' })
        await recordAct(tx, actor, {
          sort: 'give_consent',
          note: open.name,
          touched: [
            { subject: 'consent', key: consentId, after: { outcome: 'given' } },
            ...touchedBy(open.wanted, { consent: 'given', askedBy: open.name }),
          ],
        })
      },
    })
    return { done }
  } catch (error) {
    if (error instanceof Refused && error.code === 'consent_moved') return refuseMoved(database, actor, consentId)
    throw error
  }
}

/** Whether somebody gave this consent already: an earlier batch of the same act. */
const isGivenBy = async (tx: Transaction, actor: Actor, consentId: string): Promise<boolean> =>
  (
    await rowsOf(
      tx,
      {},
      sql`SELECT FROM consent WHERE client_id = current_client() AND consent_id = ${consentId} AND outcome = 'given' AND decided_by = ${actor.userId}`,
    )
  ).length > 0

/** @throws Refused where whoever consents may not do it themselves */
const refuseUnlessMay = async (tx: Transaction, { right }: Consentable): Promise<void> => {
  const { role } = await oneRow(
    tx,
    { role: is.oneOf(...roles) },
    sql`SELECT role FROM membership WHERE client_id = current_client() AND user_id = current_person()`,
  )
  if (!rightsOfRole[role].has(right)) throw new Refused('may_not', { right, role })
}

const refuseMoved = async (database: Database, actor: Actor, consentId: string): Promise<never> => {
  await retrying(() =>
    asClient(database, actor, async tx => {
      await loadOpen(tx, consentId, true)
      await decide(tx, actor, { consentId, outcome: 'moved' })
    }),
  ).catch((error: unknown) => {
    if (!(error instanceof Refused)) throw error
  })
  throw new Refused('consent_moved')
}

/** Does not consent, with the reason. @throws Refused */
export const refuseConsent = (
  database: Database,
  actor: Actor,
  { consentId, reason }: { readonly consentId: string; readonly reason: string },
): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const open = await loadOpen(tx, consentId, true)
      if (open.askedBy === actor.userId) throw new Refused('own_consent')
      await decide(tx, actor, { consentId, outcome: 'refused', reason })
      await recordAct(tx, actor, {
        sort: 'refuse_consent',
        note: reason,
        touched: [
          { subject: 'consent', key: consentId, after: { outcome: 'refused', reason } },
          ...touchedBy(open.wanted, { consent: 'refused', reason }),
        ],
      })
    }),
  )

/** Takes back what one asked for oneself. @throws Refused */
export const withdrawConsent = (database: Database, actor: Actor, consentId: string): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const open = await loadOpen(tx, consentId, true)
      if (open.askedBy !== actor.userId) throw new Refused('not_found', { what: 'request' })
      await decide(tx, actor, { consentId, outcome: 'withdrawn' })
    }),
  )

/** Consents `c`, the latest first. */
const loadConsents = async (tx: Transaction, acts: Consentables, which: SQL): Promise<ConsentRow[]> => {
  const version = await setupVersion(tx)
  const rows = await rowsOf(
    tx,
    {
      consentId: is.text,
      wanted: is.by(wantedAct),
      askedBy: is.record({ id: is.whole, name: is.text }),
      askedAt: is.text,
      note: is.text,
      count: is.whole,
      amount: is.minor,
      outcome: is.maybe(is.oneOf('given', 'refused', 'withdrawn', 'moved')),
      decidedBy: is.maybe(is.text),
      decidedAt: is.maybe(is.text),
      reason: is.text,
      version: is.whole,
    },
    sql`SELECT c.consent_id AS "consentId", c.asked AS wanted, json_build_object('id', c.asked_by, 'name', u.name) AS "askedBy", c.asked_at::text AS "askedAt",
      c.note, c.count, c.amount, c.outcome, d.name AS "decidedBy", c.decided_at::text AS "decidedAt", c.reason, c.setup_version AS version
    FROM consent c JOIN app_user u ON u.user_id = c.asked_by LEFT JOIN app_user d ON d.user_id = c.decided_by
    WHERE c.client_id = current_client() AND ${which} ORDER BY c.asked_at DESC LIMIT 100`,
  )
  const consents: ConsentRow[] = []
  for (const { version: under, ...row } of rows)
    consents.push({
      ...row,
      askedAt: new Date(row.askedAt).toISOString(),
      decidedAt: row.decidedAt && new Date(row.decidedAt).toISOString(),
      stands:
        row.outcome === null ? under === version && (await ofSort(acts, row.wanted).stands(tx, row.wanted)) : null,
    })
  return consents
}

/** Consents that wait for somebody, and what they asked for themselves lately. */
export const loadAskedConsents = async (
  tx: Transaction,
  acts: Consentables,
  userId: number,
): Promise<{ consents: ConsentRow[]; wanted: ConsentRow[] }> => {
  const { may } = await oneRow(tx, { may: is.yes }, sql`SELECT member_may('post') AS may`)
  return {
    consents: may ? await loadConsents(tx, acts, sql`c.outcome IS NULL AND c.asked_by <> ${userId}`) : [],
    wanted: await loadConsents(
      tx,
      acts,
      sql`c.asked_by = ${userId} AND (c.outcome IS NULL OR c.decided_at > clock_now() - interval '14 days')`,
    ),
  }
}

/** How many consents wait for somebody: an expression for the course. */
export const consentsWaitingFor = (userId: number): SQL =>
  sql`(SELECT CASE WHEN (SELECT member_may('post')) THEN (SELECT count(*)::int FROM consent c WHERE c.client_id = current_client()
    AND c.outcome IS NULL AND c.asked_by <> ${userId}) ELSE 0 END)`
