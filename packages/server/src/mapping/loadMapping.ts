import type { AccountRow, MappingPage, RouteBody, SeenRow } from '@culvert/contract'
import {
  foldSeen,
  isSupply,
  isUnmapped,
  kindNames,
  proposeAccount,
  proposeTaxCode,
  type Route,
  type SeenRow as Seen,
  sumMinor,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { loadWeeks, waysOf } from '../activity/seenRows.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { takesPayments } from '../ledger/takesPayments.ts'
import { loadInBase } from '../setup/inBase.ts'
import { loadItems, loadRoutes, loadTaxBy, loadTaxCodes } from '../setup/loadMap.ts'
import { loadSetup } from '../setup/loadSetup.ts'

export const loadAccounts = (tx: Transaction): Promise<AccountRow[]> =>
  rowsOf(
    tx,
    {
      ...{ code: is.text, name: is.text, type: is.text, currency: is.text, archived: is.yes, takesPayments: is.yes },
      bankNumber: is.maybe(is.text),
    },
    sql`SELECT code, name, type, currency, archived OR NOT takes_postings AS archived, ${takesPayments} AS "takesPayments", bank_number AS "bankNumber"
    FROM account a WHERE client_id = current_client() ORDER BY code`,
  )

const bodyOf = ({ id, ...route }: Route & { reason: string }): RouteBody => ({
  routeId: id,
  kind: route.kind,
  source: route.source ?? null,
  category: route.category ?? null,
  sku: route.sku ?? null,
  location: route.location ?? null,
  gateway: route.gateway ?? null,
  method: route.method ?? null,
  region: route.region ?? null,
  taxLabel: route.taxLabel ?? null,
  from: route.from,
  account: route.account,
  item: route.item ?? null,
  elsewhere: route.elsewhere ?? false,
  taxCode: route.taxCode,
  segments: route.segments,
  block: route.block,
  reason: route.reason,
})

/** Rows of the mapping page: what a source reported in the last 13 weeks, heaviest first, with the route of each. */
export const loadMapping = async (tx: Transaction, source: string): Promise<MappingPage | null> => {
  const client = await loadSetup(tx)
  const sourceName = client.sourceNames.get(source)
  if (sourceName === undefined) return null
  const { latest, from, weeks } = await loadWeeks(tx, source)
  const routes = await loadRoutes(tx)
  const byRows = (await loadTaxBy(tx)) === 'rows'
  const accounts = await loadAccounts(tx)
  const seen = foldSeen(weeks, waysOf(client, routes, { source, date: latest ?? '9999-12-31' }))
  const kindsElsewhere = await otherSourcesByKind(tx, source)
  const open = accounts
    .filter(account => !account.archived)
    .map(account => ({ code: account.code, name: account.name, type: account.type as never }))
  const samples = await loadSamples(tx, source, from)
  const rows: SeenRow[] = seen.map(row => ({
    kind: row.kind,
    category: row.category,
    region: row.region,
    gateway: row.gateway,
    method: row.method,
    amount: row.amount,
    lines: row.lines,
    narrow: row.narrow,
    unmapped: isUnmapped(row),
    byItself: row.byItself && {
      to: row.byItself.to,
      name: client.sourceNames.get(row.byItself.source) ?? row.byItself.source,
    },
    sharedWith: row.route && !row.route.source ? (kindsElsewhere.get(row.kind) ?? []) : [],
    route: row.route && bodyOf(row.route),
    sample: samples.get(`${row.kind} ${row.category ?? ''}`) ?? samples.get(`${row.kind} `) ?? null,
    proposal: isUnmapped(row) ? proposalFor(row, open, routes, byRows) : null,
  }))
  const blocked = await rowsOf(
    tx,
    { currency: is.text, settlements: is.whole, amount: is.minor },
    sql`
    SELECT currency, count(*)::int AS settlements, coalesce(sum(abs(gross)), 0)::bigint AS amount FROM settlement
    WHERE client_id = current_client() AND source = ${source} AND state = 'blocked' GROUP BY 1`,
  )
  const { convert } = await loadInBase(tx)
  const waiting = {
    settlements: blocked.reduce((sum, row) => sum + row.settlements, 0),
    amount: sumMinor(blocked, row => convert(row.amount, row.currency)),
  }
  const reported = new Set(seen.map(row => row.kind))
  return {
    source,
    sourceName,
    currency: client.base,
    from,
    to: latest,
    version: client.mapVersion,
    rows,
    unseen: kindNames.filter(name => !reported.has(name)),
    accounts,
    taxCodes: (await loadTaxCodes(tx)) as MappingPage['taxCodes'],
    items: (await loadItems(tx)).map(({ code, name, account, taxCode }) => ({ code, name, account, taxCode })),
    routes: routes.map(bodyOf),
    waiting,
    taxByRows: byRows,
  }
}

/** Names of the other sources that report each kind: a route of no source serves them too. */
const otherSourcesByKind = async (tx: Transaction, source: string): Promise<ReadonlyMap<string, string[]>> => {
  const rows = await rowsOf(
    tx,
    { kind: is.text, names: is.list(is.text) },
    sql`SELECT w.kind, array_agg(DISTINCT s.name ORDER BY s.name) AS names FROM activity_week w
      JOIN source s ON s.client_id = w.client_id AND s.source = w.source
      WHERE w.client_id = current_client() AND w.source <> ${source} AND w.lines > 0 GROUP BY w.kind`,
  )
  return new Map(rows.map(row => [row.kind, row.names]))
}

const proposalFor = (
  row: Seen,
  open: Parameters<typeof proposeAccount>[1],
  routes: readonly Route[],
  byRows: boolean,
): SeenRow['proposal'] => {
  const proposal = proposeAccount(row, open)
  if (!proposal) return null
  const taxCode = byRows && isSupply(row.kind) ? null : proposeTaxCode(row, proposal.account, routes).taxCode
  return { account: proposal.account, words: [...proposal.words], taxCode }
}

const loadSamples = async (tx: Transaction, source: string, from: string | null) => {
  const rows = await rowsOf(
    tx,
    { kind: is.text, category: is.text, lineId: is.text, description: is.text, amount: is.minor },
    sql`
    SELECT w.kind, w.category, l.line_id AS "lineId", coalesce(l.description, '') AS description, l.amount
    FROM (SELECT kind, category, max(week) AS week FROM activity_week WHERE client_id = current_client()
      AND source = ${source} AND week >= date_trunc('week', ${from}::date)::date AND lines > 0 GROUP BY 1, 2) w
    CROSS JOIN LATERAL (SELECT line_id, description, amount FROM line_as_of l
      WHERE l.client_id = current_client() AND l.source = ${source}
        AND l.local_date BETWEEN w.week AND w.week + 6 AND l.kind = w.kind
        AND coalesce(l.category, '') = w.category LIMIT 1) l`,
  )
  const samples = new Map<string, { lineId: string; description: string; amount: number }>()
  for (const { kind, category, ...sample } of rows) {
    samples.set(`${kind} ${category}`, sample)
    if (!samples.has(`${kind} `)) samples.set(`${kind} `, sample)
  }
  return samples
}
