import { isDeepStrictEqual } from 'node:util'
import type { ActivityList, GridLinesBody, TaxGridPage } from '@culvert/contract'
import { addDays, type ClassEntry, classBook, fewerRows, gridPeriods, rowsOfRoutes, type TaxRow } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { isGoingAlong } from '../activity/supplies.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { type InBase, loadInBase } from '../setup/inBase.ts'
import {
  currentVersion,
  loadClasses,
  loadItems,
  loadRoutes,
  loadTaxBy,
  loadTaxCodes,
  loadTaxRows,
} from '../setup/loadMap.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { loadAccounts } from './loadMapping.ts'
import { addedUp, daysBack, inBase, listSeenLines, loadSeen, type Seen, type SeenOf } from './seenSupplies.ts'
import { type Doubt, doubtAt, doubtsOf } from './taxDoubts.ts'

/** A client's rows and classes as they stand or are proposed, and how what was sold in the last weeks is told apart for them. */
const loadGrid = async (tx: Transaction) => {
  const [byRows, routes, items] = [(await loadTaxBy(tx)) === 'rows', await loadRoutes(tx), await loadItems(tx)]
  const itemsByCode = new Map(items.map(item => [item.code, item]))
  const [storedRows, storedClasses] = [await loadTaxRows(tx), await loadClasses(tx)]
  const proposed = byRows || storedRows.length > 0 ? null : rowsOfRoutes(routes, itemsByCode)
  const rows = (proposed ? fewerRows(proposed.rows) : storedRows).map(bodyOf)
  const classes = (proposed?.classes ?? storedClasses).map(entry => ({
    sku: entry.sku ?? null,
    category: entry.category ?? null,
    class: entry.class,
  }))
  const { latest } = await oneRow(
    tx,
    { latest: is.maybe(is.text) },
    sql`SELECT max(latest)::text AS latest FROM source s CROSS JOIN LATERAL (SELECT max(local_date) AS latest
      FROM line_as_of l WHERE l.client_id = s.client_id AND l.source = s.source) m WHERE s.client_id = current_client()`,
  )
  const named = new Set([
    ...(classes.some(entry => entry.sku) ? ['sku'] : []),
    ...(byRows
      ? []
      : routes.flatMap(route => (['sku', 'location', 'method', 'gateway'] as const).filter(name => route[name]))),
  ])
  const { setup } = await loadSetup(tx)
  const of: SeenOf | null =
    latest === null
      ? null
      : {
          from: addDays(latest, -daysBack),
          periods: gridPeriods(rows),
          named,
          along: byRows ? isGoingAlong(setup) : null,
          places: Object.fromEntries(
            [...setup.sources.values()].flatMap(({ key, options: { place } }) => (place ? [[key, place]] : [])),
          ),
        }
  return { byRows, routes, items: itemsByCode, rows, classes, latest, of, raw: of ? await loadSeen(tx, of) : [] }
}

/** The grid of a client whose rows decide; of one whose routes still do, the rows that say the same, and what they cannot say. */
export const loadTaxGrid = async (tx: Transaction): Promise<TaxGridPage> => {
  const { byRows, routes, items, rows, classes, latest, of, raw } = await loadGrid(tx)
  const money = await loadInBase(tx)
  const seen = inBase(raw, money)
  return {
    currency: money.base,
    version: await currentVersion(tx),
    from: of?.from ?? null,
    to: latest,
    byRows,
    rows,
    classes,
    seen: seenSupplies(seen, classes),
    goods: goodsOf(seen, classes),
    ...(byRows ? { doubts: [], allCompared: true } : doubtsOf({ routes, items, rows, classes, seen, latest })),
    taxCodes: (await loadTaxCodes(tx)) as TaxGridPage['taxCodes'],
    accounts: await loadAccounts(tx),
    sources: await rowsOf(
      tx,
      { source: is.text, name: is.text },
      sql`SELECT source, name FROM source WHERE client_id = current_client() ORDER BY name`,
    ),
    waiting: await loadWaiting(tx, money),
  }
}

/** The lines behind goods, supplies or a doubt of the grid; null where nothing of the kind was seen. */
export const listGridLines = async (tx: Transaction, asked: GridLinesBody): Promise<ActivityList | null> => {
  const { routes, items, rows, classes, latest, of, raw } = await loadGrid(tx)
  const seen = raw.filter(meant(asked, { classes, doubtAt: doubtAt({ routes, items, rows, classes, latest }) }))
  if (of === null || seen.length === 0) return null
  return listSeenLines(tx, of, { seen, convert: (await loadInBase(tx)).convert })
}

/** Tells of what was seen whether it is asked for. */
const meant = (
  asked: GridLinesBody,
  { classes, doubtAt }: { readonly classes: readonly ClassEntry[]; readonly doubtAt: (one: Seen) => Doubt | null },
): ((one: Seen) => boolean) => {
  switch (asked.of) {
    case 'goods': {
      const goods = goodsAt(classes)
      return one => isSame(goods(one), asked.goods)
    }
    case 'doubt':
      return one => isSame(doubtAt(one), asked.doubt)
    case 'supplies': {
      const supply = supplyAt(classes)
      return one => asked.supplies.some(wanted => isSame(supply(one), wanted))
    }
  }
}

const isSame = <Facts extends object>(one: Facts | null, wanted: Facts): boolean =>
  one !== null && isDeepStrictEqual(one, wanted)

const bodyOf = (row: TaxRow & { readonly reason?: string }): TaxGridPage['rows'][number] => ({
  id: row.id ?? null,
  source: row.source ?? null,
  kind: row.kind ?? null,
  label: row.label ?? null,
  region: row.region ?? null,
  class: row.class ?? null,
  from: row.from ?? null,
  code: row.code,
  reason: row.reason ?? '',
})

/** What a tax row may ask of what was seen. */
const supplyAt = (classes: readonly ClassEntry[]) => {
  const book = classBook(classes)
  return (one: Seen) => ({
    ...{ source: one.source, kind: one.kind, label: one.taxLabel, region: one.region },
    ...{ class: book.classOf(one), since: one.since },
  })
}

const seenSupplies = (seen: readonly Seen[], classes: readonly ClassEntry[]): TaxGridPage['seen'] => {
  const supply = supplyAt(classes)
  return addedUp(
    seen.map(one => {
      const { amount, stating, stated, lines } = one
      const named = supply(one)
      return { ...named, amount, stating, stated, lines, name: JSON.stringify(named) }
    }),
    (sum, row) => ({
      ...sum,
      amount: sum.amount + row.amount,
      stating: sum.stating + row.stating,
      stated: sum.stated + row.stated,
      lines: sum.lines + row.lines,
    }),
  )
}

const mostGoods = 500

/** Which goods were seen, as classes tell them apart; null: nothing that a class can be said of. */
const goodsAt = (classes: readonly ClassEntry[]) => {
  const book = classBook(classes)
  const skus = new Set(classes.flatMap(entry => entry.sku ?? []))
  return (one: Seen) => {
    const sku = one.sku !== null && skus.has(one.sku) ? one.sku : null
    return one.category === null && sku === null ? null : { category: one.category, sku, class: book.classOf(one) }
  }
}

const goodsOf = (seen: readonly Seen[], classes: readonly ClassEntry[]): TaxGridPage['goods'] => {
  const goodsIn = goodsAt(classes)
  return addedUp(
    seen.flatMap(one => {
      const goods = goodsIn(one)
      return goods ? [{ ...goods, amount: one.amount, lines: one.lines, name: JSON.stringify(goods) }] : []
    }),
    (sum, row) => ({ ...sum, amount: sum.amount + row.amount, lines: sum.lines + row.lines }),
  ).slice(0, mostGoods)
}

const loadWaiting = async (tx: Transaction, { convert }: InBase): Promise<TaxGridPage['waiting']> => {
  const rows = await rowsOf(
    tx,
    { currency: is.text, settlements: is.whole, amount: is.minor },
    sql`SELECT currency, count(*)::int AS settlements, coalesce(sum(abs(gross)), 0)::bigint AS amount FROM settlement
    WHERE client_id = current_client() AND state = 'blocked' AND blocks @> '[{"reason": "tax_code_missing"}]' GROUP BY 1`,
  )
  return {
    settlements: rows.reduce((sum, row) => sum + row.settlements, 0),
    amount: rows.reduce((sum, row) => sum + convert(row.amount, row.currency), 0),
  }
}
