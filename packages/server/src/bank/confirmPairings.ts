import { randomUUID } from 'node:crypto'
import type { ConfirmOutcome } from '@culvert/contract'
import { daysBetween, sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { recordAct } from '../books/recordAct.ts'
import { refreshSummary } from '../clients/refreshSummary.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { certainGroups } from './loadBank.ts'
import { parseTransferId, transferId } from './transferId.ts'

export interface Group {
  readonly transfers: readonly string[]
  readonly bankLines: readonly string[]
}

interface LockedTransfer {
  readonly source: string
  readonly payout_line: string
  readonly generation: number
  readonly amount: number
  readonly date: string
  readonly currency: string
}

/** Ties bank lines to the transfers that they are the money of. Each side once; sums must agree to the cent. */
export const confirmPairings = (
  database: Database,
  actor: Actor,
  wanted: { account: string; groups: readonly Group[] },
): Promise<ConfirmOutcome> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const certain = await certainGroups(tx, wanted.account)
      return tie(tx, actor, { ...wanted, certain })
    }),
  )

/** Confirms every pairing that is certain now. */
export const confirmCertain = (database: Database, actor: Actor, account: string): Promise<ConfirmOutcome> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const certain = await certainGroups(tx, account)
      return tie(tx, actor, { account, groups: certain, certain })
    }),
  )

const tie = async (
  tx: Transaction,
  actor: Actor,
  wanted: { account: string; groups: readonly Group[]; certain: readonly Group[] },
): Promise<ConfirmOutcome> => {
  const { transfers, lines } = await lockMembers(tx, wanted)
  const certainKeys = new Set(wanted.certain.map(keyOf))
  const used = new Set<string>()
  const refused: ConfirmOutcome['refused'] = []
  const accepted = wanted.groups.flatMap(group => {
    const members = {
      transfers: group.transfers.map(id => transfers.get(id)),
      lines: group.bankLines.map(id => lines.get(id)),
    }
    const reason = refusal(group, members, used)
    if (reason) {
      refused.push({ reason, bankLine: group.bankLines[0] ?? '' })
      return []
    }
    for (const id of [...group.transfers.map(one => `t${one}`), ...group.bankLines.map(one => `b${one}`)]) used.add(id)
    return [
      {
        group,
        pairingId: randomUUID(),
        sureness: certainKeys.has(keyOf(group)) ? 'certain' : 'likely',
        lag: lagOf(members),
      },
    ]
  })
  if (accepted.length > 0) await store(tx, actor, wanted.account, accepted)
  return { confirmed: accepted.length, refused }
}

const keyOf = (group: Group): string => JSON.stringify([[...group.transfers].sort(), [...group.bankLines].sort()])

const lockMembers = async (tx: Transaction, wanted: { account: string; groups: readonly Group[] }) => {
  const ids = wanted.groups
    .flatMap(group => group.transfers)
    .map(parseTransferId)
    .filter(id => id !== null)
  const transfers = await rowsOf<LockedTransfer>(
    tx,
    sql`
    SELECT t.source, t.payout_line, t.generation, t.amount, t.date::text, t.currency
    FROM unnest(${sql.param(ids.map(id => id.source))}::text[], ${sql.param(ids.map(id => id.payoutLine))}::text[],
      ${sql.param(ids.map(id => id.generation))}::int[]) AS k(source, payout_line, generation)
    JOIN transfer t USING (source, payout_line, generation)
    WHERE t.client_id = current_client() AND t.bank_account = ${wanted.account} AND NOT t.paired AND NOT t.reversed
    ORDER BY t.source, t.payout_line, t.generation FOR UPDATE OF t`,
  )
  const lines = await rowsOf<{ line_id: string; amount: number; date: string }>(
    tx,
    sql`
    SELECT line_id, amount, date::text FROM open_bank_line
    WHERE client_id = current_client() AND bank_account = ${wanted.account}
      AND line_id = ANY(${sql.param(wanted.groups.flatMap(group => group.bankLines))}::text[])
    ORDER BY line_id FOR UPDATE`,
  )
  return {
    transfers: new Map(transfers.map(transfer => [transferId(transfer), transfer])),
    lines: new Map(lines.map(line => [line.line_id, line])),
  }
}

interface Members {
  readonly transfers: readonly (LockedTransfer | undefined)[]
  readonly lines: readonly ({ amount: number; date: string } | undefined)[]
}

const refusal = (group: Group, members: Members, used: ReadonlySet<string>): string | null => {
  if (members.transfers.includes(undefined)) return 'a transfer of it is not open any more'
  if (members.lines.includes(undefined)) return 'a bank line of it is not open any more'
  const ids = [...group.transfers.map(id => `t${id}`), ...group.bankLines.map(id => `b${id}`)]
  if (ids.some(id => used.has(id)) || new Set(ids).size < ids.length) return 'something of it is in another group'
  const difference =
    sumMinor(members.lines, line => line?.amount ?? 0) - sumMinor(members.transfers, transfer => transfer?.amount ?? 0)
  return difference === 0 ? null : 'its two sides do not agree'
}

const lagOf = (members: Members): number => {
  const last = (dates: (string | undefined)[]) =>
    dates
      .filter(date => date !== undefined)
      .sort()
      .at(-1) ?? ''
  return daysBetween(
    last(members.transfers.map(transfer => transfer?.date)),
    last(members.lines.map(line => line?.date)),
  )
}

const store = async (
  tx: Transaction,
  actor: Actor,
  account: string,
  accepted: readonly { group: Group; pairingId: string; sureness: string; lag: number }[],
): Promise<void> => {
  const actId = await recordAct(tx, actor, { sort: 'confirm_pairings', note: `${accepted.length} deposits` })
  const pairings = accepted.map(({ pairingId, sureness, lag }) => ({
    pairing_id: pairingId,
    sureness,
    evidence: {
      exactSum: true,
      payerNamed: sureness === 'certain',
      referenceFound: false,
      lagDays: lag,
      lagUsual: null,
      consecutive: null,
    },
  }))
  await tx.execute(sql`INSERT INTO pairing (client_id, pairing_id, bank_account, sureness, evidence, act_id)
    SELECT current_client(), p.pairing_id, ${account}, p.sureness, p.evidence, ${actId}
    FROM jsonb_to_recordset(${JSON.stringify(pairings)}::jsonb) AS p(pairing_id text, sureness text, evidence jsonb)`)
  const transfers = accepted.flatMap(({ group, pairingId }) =>
    group.transfers.map(id => ({ pairingId, ...parseTransferId(id) })),
  )
  await tx.execute(sql`INSERT INTO paired_transfer (client_id, pairing_id, source, payout_line, generation)
    SELECT current_client(), m."pairingId", m.source, m."payoutLine", m.generation
    FROM jsonb_to_recordset(${JSON.stringify(transfers)}::jsonb) AS m("pairingId" text, source text, "payoutLine" text, generation int)`)
  const lines = accepted.flatMap(({ group, pairingId }) => group.bankLines.map(id => ({ pairingId, id })))
  await tx.execute(sql`INSERT INTO paired_bank_line (client_id, pairing_id, bank_account, line_id)
    SELECT current_client(), m."pairingId", ${account}, m.id
    FROM jsonb_to_recordset(${JSON.stringify(lines)}::jsonb) AS m("pairingId" text, id text)`)
  await tx.execute(sql`UPDATE transfer t SET paired = true FROM paired_transfer m
    WHERE t.client_id = current_client() AND m.client_id = t.client_id AND m.source = t.source AND m.payout_line = t.payout_line
      AND m.generation = t.generation AND m.pairing_id = ANY(${sql.param(accepted.map(one => one.pairingId))}::text[])`)
  await tx.execute(sql`DELETE FROM open_bank_line WHERE client_id = current_client() AND bank_account = ${account}
    AND line_id = ANY(${sql.param(lines.map(line => line.id))}::text[])`)
  await refreshSummary(tx, ['bank', 'clearing'])
}

/** Takes confirmed pairings apart: their members are open again. Returns how many. */
export const undoPairings = (database: Database, actor: Actor, pairingIds: readonly string[]): Promise<number> =>
  asClient(database, actor, async tx => {
    const actId = await recordAct(tx, actor, { sort: 'undo_pairing', note: `${pairingIds.length}` })
    const undone = await rowsOf<{ pairing_id: string }>(
      tx,
      sql`
      UPDATE pairing SET undone_by = ${actId} WHERE client_id = current_client() AND undone_by IS NULL
        AND pairing_id = ANY(${sql.param([...pairingIds])}::text[]) RETURNING pairing_id`,
    )
    const ids = sql.param(undone.map(row => row.pairing_id))
    await tx.execute(sql`UPDATE transfer t SET paired = false FROM paired_transfer m
      WHERE t.client_id = current_client() AND m.client_id = t.client_id AND m.source = t.source AND m.payout_line = t.payout_line
        AND m.generation = t.generation AND m.active AND m.pairing_id = ANY(${ids}::text[])`)
    await tx.execute(sql`INSERT INTO open_bank_line (client_id, bank_account, line_id, date, amount)
      SELECT b.client_id, b.bank_account, b.line_id, b.date, b.amount FROM paired_bank_line m
      JOIN bank_line b USING (client_id, bank_account, line_id)
      WHERE m.client_id = current_client() AND m.active AND m.pairing_id = ANY(${ids}::text[]) ORDER BY b.line_id`)
    await tx.execute(
      sql`UPDATE paired_transfer SET active = false WHERE client_id = current_client() AND pairing_id = ANY(${ids}::text[])`,
    )
    await tx.execute(
      sql`UPDATE paired_bank_line SET active = false WHERE client_id = current_client() AND pairing_id = ANY(${ids}::text[])`,
    )
    await refreshSummary(tx, ['bank', 'clearing'])
    return undone.length
  })
