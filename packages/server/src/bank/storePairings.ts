import { randomUUID } from 'node:crypto'
import { type DecidedRow, type MemberRefusal, subjectKey } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import type { Touched } from '../acts/recordAct.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { inTransferOrder } from '../database/locks.ts'
import { Stale } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { dated, holdDays, loadBookingDays } from '../ledger/bookingDay.ts'
import { parseTransferId, transferId } from '../ledger/transferId.ts'
import {
  countByFiscalYear,
  type NewEntry,
  type NumberedEntry,
  numberEntries,
  takeNumbers,
  writeEntries,
} from '../ledger/writeEntries.ts'

/** Members of a pairing, by id. */
export interface Group {
  readonly transfers: readonly string[]
  readonly bankLines: readonly string[]
}

export interface OpenTransferRow {
  readonly source: string
  readonly payout_line: string
  readonly settlement: string
  readonly generation: number
  readonly amount: number
  readonly base_amount: number
  readonly date: string
  readonly currency: string
}
export interface OpenLineRow {
  readonly line_id: string
  readonly amount: number
  readonly date: string
  readonly currency: string
  readonly description: string
}
export interface OpenMembers {
  readonly transfers: ReadonlyMap<string, OpenTransferRow>
  readonly lines: ReadonlyMap<string, OpenLineRow>
}

/** Those of the wanted members that are open on the account; with `hold`, kept so until the transaction's end. */
export const loadMembers = async (
  tx: Transaction,
  wanted: { account: string; groups: readonly Group[] },
  hold: boolean,
): Promise<OpenMembers> => {
  const ids = wanted.groups
    .flatMap(group => group.transfers)
    .map(parseTransferId)
    .filter(id => id !== null)
  const transfers = await rowsOf(
    tx,
    {
      source: is.text,
      payout_line: is.text,
      settlement: is.text,
      generation: is.whole,
      amount: is.minor,
      base_amount: is.minor,
      date: is.date,
      currency: is.text,
    },
    sql`
    SELECT t.source, t.payout_line, t.key AS settlement, t.generation, t.amount, t.date::text, t.currency,
      (SELECT sum(l.base_amount)::bigint FROM entry_line l WHERE l.client_id = t.client_id AND l.fiscal_year = t.fiscal_year
        AND l.number = t.number AND l.account = t.bank_account) AS base_amount
    FROM unnest(${sql.param(ids.map(id => id.source))}::text[], ${sql.param(ids.map(id => id.payoutLine))}::text[],
      ${sql.param(ids.map(id => id.generation))}::int[]) AS k(source, payout_line, generation)
    JOIN transfer t USING (source, payout_line, generation)
    WHERE t.client_id = current_client() AND t.bank_account = ${wanted.account} AND NOT t.paired AND NOT t.reversed
    ORDER BY ${inTransferOrder} ${hold ? sql`FOR NO KEY UPDATE OF t` : sql``}`,
  )
  const lines = await rowsOf(
    tx,
    { line_id: is.text, amount: is.minor, date: is.date, currency: is.text, description: is.text },
    sql`
    SELECT o.line_id, o.amount, o.date::text, b.currency, b.description
    FROM open_bank_line o JOIN bank_line b USING (client_id, bank_account, line_id)
    WHERE o.client_id = current_client() AND o.bank_account = ${wanted.account}
      AND o.line_id = ANY(${sql.param(wanted.groups.flatMap(group => group.bankLines))}::text[])
    ORDER BY o.line_id COLLATE "C" ${hold ? sql`FOR UPDATE OF o` : sql``}`,
  )
  return {
    transfers: new Map(transfers.map(transfer => [transferId(transfer), transfer])),
    lines: new Map(lines.map(line => [line.line_id, line])),
  }
}

/** Members that are not both sides of one thing, or not open. Null: nothing is wrong with them. */
export const refusedMembers = (group: Group, members: OpenMembers, used: ReadonlySet<string>): MemberRefusal | null => {
  if (group.transfers.some(id => !members.transfers.has(id))) return 'transfer_not_open'
  if (group.bankLines.some(id => !members.lines.has(id))) return 'line_not_open'
  const ids = memberKeys(group)
  return ids.some(id => used.has(id)) || new Set(ids).size < ids.length ? 'in_another_group' : null
}

/** Names each member among both sides. */
export const memberKeys = (group: Group): string[] => [
  ...group.transfers.map(id => `t${id}`),
  ...group.bankLines.map(id => `b${id}`),
]

/** Something decided about open members, with the entry that it posts, if it posts one. */
export interface Decision {
  readonly group: Group
  readonly sort: DecidedRow['sort']
  readonly sureness: DecidedRow['sureness']
  readonly evidence: DecidedRow['evidence']
  readonly difference: number
  readonly note: string
  readonly entry: Pick<NewEntry, 'date' | 'currency' | 'memo' | 'lines'> | null
}

/**
 * Stores decisions made on members that were seen open: takes numbers, holds the months, then the members, and writes entries,
 * pairings and marks. `record` writes the act down. Hands over the ids of the pairings. @throws Stale where a member was taken, or a month locked, meanwhile
 */
export const storeDecisions = async (
  tx: Transaction,
  wanted: { account: string; decisions: readonly Decision[]; fiscalStart: number },
  record: (touched: readonly Touched[]) => Promise<string>,
): Promise<string[]> => {
  const { account, decisions } = wanted
  const entries: NewEntry[] = []
  const days = await loadBookingDays(tx)
  for (const { entry } of decisions) if (entry) entries.push(dated(days, { ...bankEntry, ...entry }))
  const firsts = await takeNumbers(tx, countByFiscalYear(entries, wanted.fiscalStart))
  await holdDays(tx, entries)
  const held = await loadMembers(tx, { account, groups: decisions.map(decision => decision.group) }, true)
  for (const { group } of decisions)
    if (refusedMembers(group, held, new Set())) throw new Stale('somebody else was quicker')
  const ids = decisions.map(() => randomUUID())
  const actId = await record(touchedBy(account, decisions, { ids, held }))
  const numbered = numberEntries(entries, firsts, wanted.fiscalStart)
  await writeEntries(tx, numbered, actId)
  return insertPairings(tx, { account, decisions, ids, actId, numbered })
}

// A pairing is found by its bank lines, and by the settlements whose payouts it tells of.
const touchedBy = (
  account: string,
  decisions: readonly Decision[],
  { ids, held }: { readonly ids: readonly string[]; readonly held: OpenMembers },
): Touched[] =>
  decisions.flatMap(({ group, sort, sureness, difference, note }, place) => [
    {
      subject: 'pairing' as const,
      key: ids[place] as string,
      after: {
        ...{ sort, sureness, difference },
        ...(note ? { note } : {}),
        lines: group.bankLines.length,
        payouts: group.transfers.length,
      },
    },
    ...group.bankLines.map(line => ({
      subject: 'bank_line' as const,
      key: subjectKey(account, line),
      after: { decided: sort, ...(note ? { note } : {}) },
    })),
    ...group.transfers.flatMap(id => {
      const transfer = held.transfers.get(id)
      return transfer
        ? [
            {
              subject: 'settlement' as const,
              key: subjectKey(transfer.source, transfer.settlement, transfer.currency),
              after: { payout: sort },
            },
          ]
        : []
    }),
  ])

/** What pairings touch, to be told when they are taken apart. */
export const touchedByPairings = async (tx: Transaction, ids: readonly string[]): Promise<Touched[]> => {
  const rows = await rowsOf(
    tx,
    { subject: is.oneOf('bank_line', 'settlement'), first: is.text, second: is.text, third: is.maybe(is.text) },
    sql`SELECT 'bank_line' AS subject, bank_account AS first, line_id AS second, NULL AS third FROM paired_bank_line
        WHERE client_id = current_client() AND pairing_id = ANY(${sql.param([...ids])}::text[])
      UNION ALL
      SELECT 'settlement', t.source, t.key, t.currency::text FROM paired_transfer m JOIN transfer t USING (client_id, source, payout_line, generation)
        WHERE m.client_id = current_client() AND m.pairing_id = ANY(${sql.param([...ids])}::text[])`,
  )
  return [
    ...ids.map(key => ({ subject: 'pairing' as const, key, after: { undone: true } })),
    ...rows.map(({ subject, first, second, third }) => ({
      subject,
      key: third === null ? subjectKey(first, second) : subjectKey(first, second, third),
      after: { [subject === 'settlement' ? 'payout' : 'decided']: null },
    })),
  ]
}

const bankEntry = {
  document: 'bank',
  source: null,
  key: null,
  generation: null,
  payoutLine: null,
  reverses: null,
} as const

const insertPairings = async (
  tx: Transaction,
  stored: {
    account: string
    decisions: readonly Decision[]
    ids: readonly string[]
    actId: string
    numbered: readonly NumberedEntry[]
  },
): Promise<string[]> => {
  const { account, actId } = stored
  let next = 0
  const pairings = stored.decisions.map((decision, place) => {
    const entry = decision.entry ? stored.numbered[next++] : undefined
    return {
      ...decision,
      id: stored.ids[place] as string,
      evidence: decision.evidence ?? {},
      fiscal_year: entry?.fiscalYear ?? null,
      number: entry?.number ?? null,
    }
  })
  await tx.execute(sql`INSERT INTO pairing (client_id, pairing_id, bank_account, sort, sureness, evidence, difference, note,
      fiscal_year, number, act_id)
    SELECT current_client(), p.id, ${account}, p.sort, p.sureness, p.evidence, p.difference, p.note, p.fiscal_year, p.number, ${actId}
    FROM jsonb_to_recordset(${JSON.stringify(pairings.map(({ group: _, entry: __, ...row }) => row))}::jsonb) AS p(id text, sort text,
      sureness text, evidence jsonb, difference bigint, note text, fiscal_year int, number int)`)
  const transfers = pairings.flatMap(({ group, id }) =>
    group.transfers.map(one => ({ pairingId: id, ...parseTransferId(one) })),
  )
  await tx.execute(sql`INSERT INTO paired_transfer (client_id, pairing_id, source, payout_line, generation)
    SELECT current_client(), m."pairingId", m.source, m."payoutLine", m.generation
    FROM jsonb_to_recordset(${JSON.stringify(transfers)}::jsonb) AS m("pairingId" text, source text, "payoutLine" text, generation int)`)
  const lines = pairings.flatMap(({ group, id }) => group.bankLines.map(line => ({ pairingId: id, line })))
  await tx.execute(sql`INSERT INTO paired_bank_line (client_id, pairing_id, bank_account, line_id)
    SELECT current_client(), m."pairingId", ${account}, m.line
    FROM jsonb_to_recordset(${JSON.stringify(lines)}::jsonb) AS m("pairingId" text, line text)`)
  await tx.execute(sql`UPDATE transfer t SET paired = true FROM paired_transfer m
    WHERE t.client_id = current_client() AND m.client_id = t.client_id AND m.source = t.source AND m.payout_line = t.payout_line
      AND m.generation = t.generation AND m.pairing_id = ANY(${sql.param(pairings.map(one => one.id))}::text[])`)
  await tx.execute(sql`DELETE FROM open_bank_line WHERE client_id = current_client() AND bank_account = ${account}
    AND line_id = ANY(${sql.param(lines.map(line => line.line))}::text[])`)
  return pairings.map(one => one.id)
}
