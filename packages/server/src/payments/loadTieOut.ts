import type { OneSidedRow, TieOutPage } from '@culvert/contract'
import {
  type CandidateFinder,
  candidateFinder,
  decidedLine,
  decisionsOn,
  gatewayOf,
  type OneSidedItem,
  proposeDecision,
  sumMinor,
  type TieOutLine,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { StoredTieLine } from '../activity/tieLines.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'
import { gatewaysOf } from './compareSides.ts'
import { decisionAccountTypes } from './composePayment.ts'
import { type Held, loadHeld } from './heldMoney.ts'
import { type Decided, loadOneSided, type OneSidedPayments } from './oneSidedPayments.ts'
import { textOfPayment } from './paymentDecisions.ts'

const sumByCurrency = (rows: readonly { currency: string; amount: number }[]): TieOutPage['elsewhere'] =>
  [...new Set(rows.map(row => row.currency))].sort().map(currency => {
    const mine = rows.filter(row => row.currency === currency)
    return { currency, count: mine.length, amount: sumMinor(mine, row => row.amount) }
  })

type Tell = (line: TieOutLine) => OneSidedRow['line']

const teller =
  (nameOf: (source: string) => string): Tell =>
  line => ({
    source: line.source,
    sourceName: nameOf(line.source),
    lineId: line.lineId,
    date: line.localDate,
    order: line.orderId,
    customer: line.customer,
    amount: line.amount,
    currency: line.currency,
    settlement: (line as StoredTieLine).settlementKey,
  })

const rowOf = (
  item: OneSidedItem,
  view: OneSidedPayments,
  at: {
    readonly tell: Tell
    readonly nameOf: (source: string) => string
    readonly held: Held | undefined
    readonly find: CandidateFinder
  },
): OneSidedRow => {
  const { tell, held } = at
  const of = ({ source, lineId }: TieOutLine) => ({ source, lineId })
  const proposal = proposeDecision(item, at.find, view.mayWriteOff)
  return {
    sort: item.sort,
    gateway: item.gateway,
    gatewayName: at.nameOf(item.gateway),
    line: tell(item.line),
    other: item.other && tell(item.other),
    amount: item.amount,
    decide: of(decidedLine(item)),
    acts: decisionsOn(item, view.mayWriteOff),
    held: held?.account ?? null,
    hindered: held?.hindered ?? null,
    candidates: at.find(item).map(({ line, evidence, lag, difference }) => ({
      ...tell(line),
      evidence: [...evidence],
      lag,
      difference,
    })),
    proposed:
      proposal?.as === 'attached'
        ? { as: 'attached', to: of(proposal.to) }
        : proposal && held?.hindered === null
          ? { as: 'price_reduction' }
          : null,
  }
}

const decidedRow = (
  { standing, holds }: Decided,
  nameOf: (source: string) => string,
): TieOutPage['decided'][number] => ({
  line: {
    source: standing.source,
    sourceName: nameOf(standing.source),
    lineId: standing.lineId,
    date: standing.line.date,
    order: standing.line.order,
    customer: standing.line.customer,
    amount: standing.line.amount,
    currency: standing.line.currency,
    settlement: standing.line.settlement,
  },
  decision: standing.decision,
  amount: standing.amount,
  attachedTo:
    standing.otherSource !== null && standing.otherLine !== null
      ? { source: standing.otherSource, lineId: standing.otherLine, order: standing.otherOrder }
      : null,
  until: standing.until,
  account: standing.account,
  entry:
    standing.fiscalYear !== null && standing.number !== null && standing.entryDate !== null
      ? { fiscalYear: standing.fiscalYear, number: standing.number, date: standing.entryDate }
      : null,
  by: standing.by,
  at: standing.at,
  note: standing.note,
  holds,
})

const labelRows = async (
  tx: Transaction,
  client: ClientSetup,
  labels: OneSidedPayments['labels'],
): Promise<TieOutPage['labels']> => {
  const seen = await rowsOf(
    tx,
    { channel: is.text, label: is.text },
    sql`SELECT channel, label FROM tender_label WHERE client_id = current_client() ORDER BY label, channel`,
  )
  const stands = (label: string): string | null => {
    const gateway = gatewayOf({ gateway: label }, client.setup.labels ?? new Map())
    return gateway !== null && client.setup.sources.has(gateway) ? gateway : null
  }
  return [...new Set(seen.map(row => row.label))].map(label => ({
    label,
    channels: seen.filter(row => row.label === label).map(row => client.sourceNames.get(row.channel) ?? row.channel),
    source: stands(label),
    without: labels
      .filter(one => one.label === label)
      .map(({ currency, count, amount }) => ({ currency, count, amount })),
  }))
}

/** The tie-out page: what is on one side only and what can be done about it, what was decided, the labels seen and which source each stands for. */
export const loadTieOut = async (tx: Transaction): Promise<TieOutPage> => {
  const client = await loadSetup(tx)
  const view = await loadOneSided(tx, client)
  const held = await loadHeld(tx, client, view.items)
  const { matched } = await oneRow(
    tx,
    { matched: is.whole },
    sql`SELECT count(*)::int AS matched FROM tender_match WHERE client_id = current_client() AND to_pull IS NULL`,
  )
  const nameOf = (key: string) => client.sourceNames.get(key) ?? key
  const tell = teller(nameOf)
  const find = candidateFinder(view.items)
  return {
    version: client.mapVersion,
    matched,
    elsewhere: sumByCurrency(view.elsewhere),
    items: view.items.map(item =>
      rowOf(item, view, { tell, nameOf, find, held: held.get(textOfPayment(decidedLine(item))) }),
    ),
    decided: view.decided.map(one => decidedRow(one, nameOf)),
    base: client.base,
    today: view.today,
    writeOffUpTo: view.writeOffUpTo,
    accounts: await rowsOf(
      tx,
      { code: is.text, name: is.text, type: is.text },
      sql`SELECT code, name, type FROM account WHERE client_id = current_client() AND NOT archived
        AND type = ANY(${sql.param([...decisionAccountTypes])}::text[]) ORDER BY code`,
    ),
    taxCodes: [...client.setup.taxCodes.values()].map(({ code, name }) => ({ code, name })),
    labels: await labelRows(tx, client, view.labels),
    gateways: [...gatewaysOf(client)].map(key => ({ source: key, name: nameOf(key) })),
  }
}
