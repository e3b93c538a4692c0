import type { MissingFeeTax, MissingPage } from '@culvert/contract'
import {
  freeCode,
  isSupply,
  type Kind,
  kinds,
  type MissingRoute,
  type OpenLabel,
  proposeAccount,
  proposeMissing,
  proposeTaxCode,
  type Route,
  type StarterAccount,
  startingChart,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadAccounts } from './loadMapping.ts'
import { loadOpenLabels, routesSayingTax } from './loadStarter.ts'
import { loadTaxGrid } from './loadTaxGrid.ts'
import { missingBanks, missingClearings, missingRounding, unfitAccounts } from './missingOwn.ts'
import { missingTaxes, unlikeIn } from './missingTaxes.ts'
import { loadUnfitRoutes } from './unfitRoutes.ts'

/** What is missing, with the routes that each account would get, and the country and day that tax codes are made for. */
export interface Missing {
  readonly page: MissingPage
  readonly routes: ReadonlyMap<string, readonly MissingRoute[]>
  /** What a person is asked about a route's tax, by its key; null: nothing. */
  readonly askedOf: (route: MissingRoute) => string | null
  /** The tax code that a route takes over from those like it. */
  readonly taxOf: (route: MissingRoute, account: string | null) => string | null
  /** From when on rates of new codes hold: before anything that was reported. */
  readonly ratesFrom: string
}

const sourceShape = { source: is.text, name: is.text }

/** Computes what booking lacks for what the sources reported in their last 13 weeks. */
export const loadMissing = async (tx: Transaction): Promise<Missing> => {
  const client = await oneRow(
    tx,
    { country: is.maybe(is.text), locale: is.text },
    sql`SELECT country, locale FROM client WHERE client_id = current_client()`,
  )
  const sources = await rowsOf(
    tx,
    sourceShape,
    sql`SELECT source, name FROM source WHERE client_id = current_client() ORDER BY name`,
  )
  const names = new Map(sources.map(one => [one.source, one.name]))
  const grid = await loadTaxGrid(tx)
  const chart = await loadAccounts(tx)
  // An archived account keeps its number.
  const numbered = chart.map(
    ({ code, name, type }): StarterAccount => ({ code, name, type: type as StarterAccount['type'] }),
  )
  const archived = new Set(chart.filter(account => account.archived).map(account => account.code))
  const accounts = numbered.filter(account => !archived.has(account.code))
  const starting = startingChart(client.country, client.locale)
  const labels: OpenLabel[] = []
  let made: readonly Route[] = []
  for (const { source } of sources) {
    const { open, made: routes } = await loadOpenLabels(tx, source)
    made = routes
    labels.push(...open.map(label => ({ ...label, source })))
  }
  const missing = proposeMissing(labels, { accounts, starting, numbered })
  const saying = routesSayingTax(made, grid.byRows)
  const tax = taxAsked({ labels, saying, names, byRows: grid.byRows })
  const taken = [...numbered, ...missing.flatMap(one => (one.use ? [] : [one.make]))]
  const clearings = await missingClearings(tx, { chart, taken })
  const banks = await missingBanks(tx, {
    ...{ chart, from: grid.from, starting: starting.accounts },
    taken: [...taken, ...clearings.map(one => one.make)],
  })
  const own = [...banks, ...clearings].map(one => one.make)
  const rounding = await missingRounding(tx, {
    ...{ accounts, starting: starting.accounts },
    taken: [...taken, ...own],
  })
  const taxAccounts = accounts.filter(account => account.type === 'tax')
  return {
    routes: new Map(missing.map(one => [one.key, one.routes])),
    askedOf: tax.askedOf,
    taxOf: (route, account) =>
      grid.byRows && isSupply(route.kind) ? null : proposeTaxCode(route, account, saying).taxCode,
    ratesFrom: (await firstDay(tx)) ?? grid.from ?? '2000-01-01',
    page: {
      version: grid.version,
      base: grid.currency,
      from: grid.from,
      to: grid.to,
      banks,
      clearings,
      rounding,
      accounts: missing.map(({ routes, ...one }) => ({
        ...one,
        kinds: [...one.kinds],
        sources: one.sources.map(({ source, lines, kinds }) => ({
          ...{ source, lines, kinds: [...kinds], name: names.get(source) ?? source },
        })),
        use: one.use && {
          ...one.use,
          reason: { ...one.use.reason, named: [...one.use.reason.named], called: [...one.use.reason.called] },
        },
        asks: [...new Set(routes.flatMap(route => tax.askedOf(route) ?? []))],
      })),
      taxAccount: {
        use:
          proposeAccount({ kind: 'tax' }, taxAccounts)?.account ??
          (taxAccounts.length === 1 ? (taxAccounts[0]?.code ?? null) : null),
        make: starterTax(starting.accounts, [...taken, ...own, ...(rounding ? [rounding.make] : [])]),
      },
      taxes: grid.byRows ? missingTaxes(grid, client.country) : [],
      feeTaxes: tax.rows,
      unfit: await unfitAccounts(tx),
      unfitRoutes: await loadUnfitRoutes(tx, chart),
      unlikeRates: grid.byRows ? unlikeIn(grid) : [],
      chart,
      taxCodes: grid.taxCodes,
      taxByRows: grid.byRows,
    },
  }
}

const firstDay = async (tx: Transaction): Promise<string | null> =>
  (
    await oneRow(
      tx,
      { first: is.maybe(is.text) },
      sql`SELECT min(first_date)::text AS first FROM settlement WHERE client_id = current_client()`,
    )
  ).first

const starterTax = (starting: readonly StarterAccount[], taken: readonly StarterAccount[]) => {
  const usual = starting.find(account => account.type === 'tax')
  const name = usual?.name ?? 'Tax on sales'
  const fits =
    usual !== undefined &&
    !taken.some(account => account.code === usual.code) &&
    taken.every(account => account.code.length === usual.code.length)
  return { code: fits ? usual.code : freeCode(taken, 'tax'), name, type: 'tax' as const }
}

const isCharged = (kind: Kind): boolean => kinds[kind].part === 'fees'

/** What bears tax, and is like nothing that has a route which says it: by source, what it charges and what it takes apart, for a person to say. */
const taxAsked = ({
  labels,
  saying,
  names,
  byRows,
}: {
  readonly labels: readonly OpenLabel[]
  readonly saying: readonly Route[]
  readonly names: ReadonlyMap<string, string>
  readonly byRows: boolean
}): { readonly askedOf: Missing['askedOf']; readonly rows: MissingFeeTax[] } => {
  const rows = new Map<string, MissingFeeTax>()
  const keyOf = ({ source, kind }: { source: string; kind: Kind }) =>
    `${source}/${isCharged(kind) ? 'charged' : 'taken'}`
  for (const label of labels) {
    if (byRows && isSupply(label.kind)) continue
    if (!proposeTaxCode({ kind: label.kind, region: label.region ?? null }, null, saying).open) continue
    const key = keyOf(label)
    const before = rows.get(key)
    rows.set(key, {
      ...{ key, of: isCharged(label.kind) ? 'charged' : 'taken', source: label.source },
      name: names.get(label.source) ?? label.source,
      kinds: [...new Set([...(before?.kinds ?? []), label.kind])],
      amount: (before?.amount ?? 0) + label.amount,
      lines: (before?.lines ?? 0) + label.lines,
    })
  }
  return {
    askedOf: route => (rows.get(keyOf(route))?.kinds.includes(route.kind) ? keyOf(route) : null),
    rows: [...rows.values()],
  }
}
