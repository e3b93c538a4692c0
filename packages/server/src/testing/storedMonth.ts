import { classBody, newSource, type RouteBody, routeBody, taxCodeRow, taxRowBody } from '@culvert/contract'
import {
  type ActivityLine,
  bookActivity,
  formatAmount,
  type Route,
  type SettlementHead,
  type Setup,
  type Zone,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { ensurePerson } from '../access/practice.ts'
import { settlementName } from '../activity/settlementKey.ts'
import { saveRates } from '../books/saveRates.ts'
import { createClient } from '../clients/createClient.ts'
import { type Actor, asClient, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { saveItems } from '../mapping/saveItems.ts'
import { saveRoutes } from '../mapping/saveRoutes.ts'
import { saveRules } from '../mapping/saveRules.ts'
import { saveTaxCodes } from '../mapping/saveTaxCodes.ts'
import { saveTaxRows } from '../mapping/saveTaxRows.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'
import { createSource } from '../sources/createSource.ts'
import { csvOf, type Row, upload } from './madeClient.ts'

/** A month of made lines with all that decides how they are booked. */
export interface MadeMonth {
  readonly setup: Setup
  readonly lines: readonly ActivityLine[]
  readonly heads: ReadonlyMap<string, readonly SettlementHead[]>
  readonly timeZone: string
  readonly cutOff: string
}

const routeOf = ({ id: _, ...route }: Route): RouteBody =>
  routeBody.parse({
    routeId: null,
    ...Object.fromEntries(Object.entries(route).filter(([, value]) => value !== undefined)),
  })

/** Makes a client of a setup, through what the application uses itself. */
export const storeSetup = async (database: Database, name: string, made: MadeMonth): Promise<Actor> => {
  const { setup } = made
  const userId = await ensurePerson(database, { email: 'orla.quill@ternandtally.example', name: 'Orla Quill' })
  const clientId = await createClient(
    database,
    userId,
    {
      name,
      base: setup.base,
      timeZone: made.timeZone,
      cutOff: made.cutOff,
      locale: 'en-IE',
      exchangeRounding: setup.exchangeRounding,
      exchangeDifference: null,
    },
    'routes',
  )
  const actor = { userId, clientId }
  await asClient(database, actor, tx =>
    tx.execute(sql`INSERT INTO account (client_id, code, name, type, currency)
      SELECT current_client(), a.code, a.name, a.type, a.currency
      FROM jsonb_to_recordset(${JSON.stringify([...setup.accounts.values()])}::jsonb) AS a(code text, name text, type text, currency char(3))`),
  )
  if (setup.taxCodes.size > 0)
    await saveTaxCodes(
      database,
      actor,
      [...setup.taxCodes.values()].map(code => taxCodeRow.parse(code)),
    )
  for (const source of setup.sources.values())
    await createSource(
      database,
      actor,
      newSource.parse({
        source: source.key,
        name: source.key,
        shape: source.shape,
        clearing: Object.entries(source.clearing).map(([currency, account]) => ({ currency, account })),
        banks: [
          ...source.paysInto.map(row => ({ ...row, region: row.region ?? '', direction: 'into' as const })),
          ...source.drawnFrom.map(row => ({ ...row, region: row.region ?? '', direction: 'from' as const })),
        ],
        bankTexts: [...source.bankTexts],
        options: { ...source.options, detail: [...source.options.detail] },
      }),
    )
  if (setup.rates.length > 0) await saveRates(database, actor, setup.rates)
  if (setup.items && setup.items.size > 0)
    await saveItems(
      database,
      actor,
      [...setup.items.values()].map(item => ({ ...item, otherNames: [...item.otherNames], costs: [...item.costs] })),
    )
  // An example may show what a route to nothing holds up: such a one could not be saved.
  const routes = setup.routes.routes.filter(
    route =>
      (route.account === null || setup.accounts.has(route.account)) &&
      (route.taxCode === null || setup.taxCodes.has(route.taxCode)),
  )
  if (routes.length > 0) await saveRoutes(database, actor, { changed: routes.map(routeOf), removed: [], meant: true })
  if (setup.taxRows)
    await saveTaxRows(database, actor, {
      rows: setup.taxRows.rows.map(row => taxRowBody.parse(row)),
      classes: (setup.classes?.entries ?? []).map(entry => classBody.parse(entry)),
      byRows: true,
    })
  if (setup.rules && setup.rules.length > 0) await saveRules(database, actor, setup.rules)
  return actor
}

const rowOf = (line: ActivityLine): Row => ({
  line_id: line.lineId,
  settlement_id: line.settlementId ?? '',
  occurred_at: line.occurredAt,
  kind: line.kind,
  order_id: line.orderId ?? '',
  gateway: line.gateway ?? '',
  method: line.method ?? '',
  category: line.category ?? '',
  sku: line.sku ?? '',
  description: line.description ?? '',
  quantity: line.quantity ?? '',
  location: line.location ?? '',
  region: line.region ?? '',
  customer: line.customer ?? '',
  currency: line.currency,
  amount: formatAmount(line.amount, line.currency),
  tax_amount: line.taxAmount === null ? '' : formatAmount(line.taxAmount, line.currency),
  tax_label: line.taxLabel ?? '',
  related_id: line.relatedId ?? '',
  status: line.status,
  paid_at: line.extra.paid_at ?? '',
  sent_at: line.extra.sent_at ?? '',
})

const headRow = (head: SettlementHead): Row => {
  const money = (minor: number | null) => (minor === null ? '' : formatAmount(minor, head.currency))
  return {
    settlement_id: head.settlementId,
    period_start: head.periodStart ?? '',
    period_end: head.periodEnd ?? '',
    currency: head.currency,
    opening_balance: money(head.openingBalance),
    closing_balance: money(head.closingBalance),
    payout_date: head.payoutDate ?? '',
    payout_reference: head.payoutReference ?? '',
  }
}

/** Brings a month's heads and lines into a client, as files. */
export const storeLines = async (database: Database, actor: Actor, made: MadeMonth): Promise<void> => {
  for (const source of made.setup.sources.keys()) {
    const heads = made.heads.get(source) ?? []
    if (heads.length > 0) await upload(database, actor, csvOf(heads.map(headRow)), 'settlements.csv', source)
    const lines = made.lines.filter(line => line.source === source)
    if (lines.length > 0) await upload(database, actor, csvOf(lines.map(rowOf)), 'activity.csv', source)
  }
}

/** The same month booked by the core alone, in the states that the database has: what is not posted there counts as blocked. */
export const bookedAsStored = async (database: Database, actor: Actor, made: MadeMonth & { zone: Zone }) => {
  const { client, posted } = await asClient(database, actor, async tx => ({
    client: await loadSetup(tx),
    posted: await rowsOf(
      tx,
      { source: is.text, key: is.text, currency: is.text },
      sql`SELECT source, key, currency FROM settlement WHERE client_id = current_client() AND state = 'posted'`,
    ),
  }))
  const setup: ClientSetup['setup'] = client.setup
  const booked = bookActivity(
    { lines: made.lines, heads: made.heads, zone: made.zone, cutOffMinutes: client.cutOff },
    setup,
  )
  const standing = new Set(posted.map(row => JSON.stringify([row.source, settlementName(row), row.currency])))
  const settlements = booked.settlements.map(one => {
    const name = JSON.stringify([one.activity.source, one.name, one.activity.currency])
    if (standing.has(name)) return one
    const block = { reason: 'rule', amount: 0, concerned: [] } as const
    return { ...one, composed: { ...one.composed, blocks: [block], entries: [] } }
  })
  return {
    setup,
    zone: made.zone,
    lines: made.lines,
    heads: made.heads,
    booked: { ...booked, settlements },
    pairings: null,
  }
}
