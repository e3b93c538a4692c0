import type { StarterRow } from '@culvert/contract'
import { isCollection, isSupply, isUnmapped, type Kind, placeOfWeek, type Route, starterMap } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { loadWeeks, waysOf } from '../activity/seenRows.ts'
import { isMatched, revisionAsOf } from '../activity/storedLines.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import { loadInBase } from '../setup/inBase.ts'
import { loadRoutes, loadTaxBy } from '../setup/loadMap.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { loadAccounts } from './loadMapping.ts'

interface LabelRow {
  readonly kind: Kind
  readonly category: string | null
  readonly gateway: string | null
  readonly method: string | null
  readonly matched: boolean
  readonly taxLabel: string | null
  readonly region: string | null
  readonly currency: string
  readonly amount: number
  readonly lines: number
}

/** What a source reported in its last 13 weeks and no route serves, with its money in base; with the routes there are. */
export const loadOpenLabels = async (tx: Transaction, source: string): Promise<{ open: LabelRow[]; made: Route[] }> => {
  const made = await loadRoutes(tx)
  const { latest, from } = await loadWeeks(tx, source)
  if (latest === null || from === null) return { open: [], made }
  const { convert } = await loadInBase(tx)
  const labels = (await loadLabels(tx, source, from)).map(label => ({
    ...label,
    amount: convert(label.amount, label.currency),
  }))
  const ways = waysOf(await loadSetup(tx), made, { source, date: latest })
  const tendered = await isTenderedTo(tx, source)
  const open = labels.filter(label => {
    const week = {
      ...label,
      category: label.category ?? '',
      region: label.region ?? '',
      gateway: label.gateway ?? '',
      method: label.method ?? '',
    }
    const { route, byItself } = placeOfWeek(week, {
      ...ways,
      serve: line => ways.serve({ ...line, taxLabel: label.taxLabel }),
    })
    // What a channel's orders will book, or nobody knows of, is no sale of the gateway: no route is proposed for it.
    return isUnmapped({ kind: label.kind, route, byItself }) && !(isCollection(label.kind) && tendered)
  })
  return { open, made }
}

/**
 * Proposes routes for all that a source reported in its last 13 weeks and no route serves: by kind, category, means of
 * payment, tax label and region, heaviest first.
 */
export const loadStarter = async (tx: Transaction, source: string): Promise<StarterRow[]> => {
  const { open, made } = await loadOpenLabels(tx, source)
  if (open.length === 0) return []
  const byRows = (await loadTaxBy(tx)) === 'rows'
  const accounts = (await loadAccounts(tx)).filter(account => !account.archived)
  return starterMap(
    open,
    accounts.map(({ code, name, type }) => ({ code, name, type: type as never })),
    routesSayingTax(made, byRows),
  ).map(({ kind, category, gateway, taxLabel, region, amount, lines, proposal, tax, make }) => ({
    kind,
    category: category ?? null,
    gateway: gateway ?? null,
    taxLabel: taxLabel ?? null,
    region: region ?? null,
    amount,
    lines: lines ?? 0,
    proposal: proposal && {
      account: proposal.account,
      sure: proposal.sure,
      named: [...proposal.reason.named],
      called: [...proposal.reason.called],
      onlyOfType: proposal.reason.onlyOfType,
    },
    ...(byRows && isSupply(kind)
      ? { taxCode: null, taxedLike: null, taxOpen: false }
      : {
          taxCode: tax.taxCode,
          taxedLike: made.find(route => route.id === tax.like)?.kind ?? null,
          taxOpen: tax.open,
        }),
    make,
  }))
}

/** Routes that say which tax is borne: where rows decide, those of supplies say none. */
export const routesSayingTax = (routes: readonly Route[], byRows: boolean): readonly Route[] =>
  byRows ? routes.filter(route => !isSupply(route.kind)) : routes

/** Whether a channel says that its orders are paid through a source. */
const isTenderedTo = async (tx: Transaction, source: string): Promise<boolean> => {
  const { labels } = (await loadSetup(tx)).setup
  const rows = await rowsOf(
    tx,
    { label: is.text, channel: is.text },
    sql`SELECT label, channel FROM tender_label WHERE client_id = current_client() AND channel <> ${source}`,
  )
  return rows.some(row => (labels?.get(row.label) ?? row.label) === source)
}

// Only tenders are told apart by their means of payment and only taxes by their label: elsewhere both say nothing of where a line goes.
const loadLabels = (tx: Transaction, source: string, from: string): Promise<LabelRow[]> =>
  rowsOf(
    tx,
    {
      kind: is.kind,
      category: is.maybe(is.text),
      gateway: is.maybe(is.text),
      method: is.maybe(is.text),
      matched: is.yes,
      taxLabel: is.maybe(is.text),
      region: is.maybe(is.text),
      currency: is.text,
      amount: is.minor,
      lines: is.whole,
    },
    sql`
    SELECT l.kind, l.category, l.gateway, l.method, l.matched, l."taxLabel", l.region, l.currency, sum(l.amount)::bigint AS amount, count(*)::int AS lines FROM (
      SELECT kind, category, region, currency, amount, ${isMatched('now')} AS matched,
        CASE WHEN ${kindIs('tender', 'kind')} THEN method END AS method,
        CASE WHEN ${kindIs('tender', 'kind')} THEN gateway END AS gateway,
        CASE WHEN ${kindIs('tax', 'kind')} THEN tax_label END AS "taxLabel"
      FROM line_as_of l WHERE client_id = current_client() AND source = ${source} AND local_date >= ${from}
        AND status = 'available' AND ${revisionAsOf('now')}) l
    GROUP BY 1, 2, 3, 4, 5, 6, 7, 8`,
  )
