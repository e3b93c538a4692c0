import type { DisputeRow, DisputesPage } from '@culvert/contract'
import { type ActivityLine, sumMinor, wonBack } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { resolveStored, type StoredLine } from '../activity/activityLines.ts'
import { loadSupplies } from '../activity/supplies.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'
import { activityLine } from './activityLine.ts'
import { type ChargebackRow, loadChargebacks, loadReversals, type Move } from './chargebacks.ts'
import { loadToday } from './today.ts'

/** A dispute with the line and the setup that it is decided by. */
export interface Dispute {
  readonly row: DisputeRow
  readonly line: ActivityLine
  readonly client: ClientSetup
}

const nameOf = (of: { source: string; currency: string }): string => JSON.stringify([of.source, of.currency])

/** What came back of each chargeback; the earliest of an order first. */
const wonOf = (
  chargebacks: readonly ChargebackRow[],
  reversals: readonly Move[],
): ReadonlyMap<ChargebackRow, number> => {
  const won = new Map<ChargebackRow, number>()
  for (const name of new Set(chargebacks.map(nameOf))) {
    const mine = chargebacks.filter(one => nameOf(one) === name).reverse()
    const back = wonBack(
      mine.map(({ lineId, orderId, amount, texts }) => ({ lineId, orderId, amount, relatedId: texts.relatedId })),
      reversals.filter(one => nameOf(one) === name),
    )
    for (const one of mine) won.set(one, back.get(one.lineId) ?? 0)
  }
  return won
}

/** Payments that buyers' banks took back, the latest first, with what became of each; `only` one of them. */
export const loadDisputes = async (
  tx: Transaction,
  only: { source: string; lineId: string } | null = null,
): Promise<Dispute[]> => {
  const clients = new Map<number | null, ClientSetup>()
  const disputes: Dispute[] = []
  const chargebacks = await loadChargebacks(tx)
  const won = wonOf(chargebacks, await loadReversals(tx))
  for (const line of chargebacks.filter(one => !only || (one.source === only.source && one.lineId === only.lineId))) {
    const version = line.posted ? line.mapVersion : null
    const client = clients.get(version) ?? (await loadSetup(tx, version))
    clients.set(version, client)
    disputes.push({
      row: await disputeOf(tx, line, { client, reversed: won.get(line) ?? 0 }),
      line: activityLine(line),
      client,
    })
  }
  return disputes
}

const disputeOf = async (
  tx: Transaction,
  line: ChargebackRow,
  { client, reversed }: { readonly client: ClientSetup; readonly reversed: number },
): Promise<DisputeRow> => {
  const resolution = resolveStored(line, client, null)[0]?.resolution
  const account = resolution?.ok && !resolution.elsewhere ? (resolution.account ?? null) : null
  const known = account === null ? undefined : client.setup.accounts.get(account)
  // What was decided stands on the account like what came back: if the line, or what came back of it, changes later, something is left.
  const decided = sumMinor(
    (line.entryLines ?? []).filter(one => one.account === account),
    one => -one.amount,
  )
  const left = line.amount + reversed + decided
  const { of, date } = await saleOf(tx, line, client)
  return {
    source: line.source,
    sourceName: client.sourceNames.get(line.source) ?? line.source,
    lineId: line.lineId,
    date: line.localDate,
    order: line.orderId,
    description: line.description,
    settlement: line.settlement,
    currency: line.currency,
    amount: line.amount,
    left,
    state: stateOf(line, left, known?.type === 'current_asset'),
    account,
    accountName: known?.name ?? null,
    sale: of === null ? null : { lineId: of, date },
    decided:
      line.entry === null
        ? null
        : { entry: line.entry, date: line.entryDate ?? '', by: line.by ?? '', note: line.note ?? '' },
  }
}

const stateOf = (line: ChargebackRow, left: number, onDisputed: boolean): DisputeRow['state'] => {
  if (line.decision !== null) return left === 0 && line.posted ? line.decision : 'changed'
  if (left >= 0) return 'won'
  if (!line.posted) return 'waits'
  return onDisputed ? 'open' : 'elsewhere'
}

/** The supply that a credit of it would go back to. */
const saleOf = async (tx: Transaction, line: StoredLine, client: ClientSetup) => {
  const { book } = await loadSupplies(tx, client, [], 'now', {
    source: line.source,
    lineId: line.texts.relatedId,
    orderId: line.orderId,
  })
  return book.factsOf({ ...activityLine(line), kind: 'refund', localDate: line.localDate })
}

export const loadDisputesPage = async (tx: Transaction): Promise<DisputesPage> => {
  const today = await loadToday(tx)
  return {
    today,
    disputes: (await loadDisputes(tx)).map(one => one.row),
    costs: await rowsOf(
      tx,
      { code: is.text, name: is.text },
      sql`SELECT code, name FROM account WHERE client_id = current_client() AND NOT archived AND type IN ('expense', 'cost_of_sales') ORDER BY code`,
    ),
  }
}
