import type { MissingBank, MissingFeeTax, MissingPage, MissingTax, UnfitAccount } from '@culvert/contract'
import {
  type ClassEntry,
  freeCode,
  freeTaxCode,
  isSupply,
  type Kind,
  kinds,
  type MissingRoute,
  type OpenLabel,
  proposeAccount,
  proposeCode,
  proposeMissing,
  proposeRate,
  proposeTaxCode,
  type Route,
  type StarterAccount,
  startingChart,
  sumMinor,
  type TaxCode,
  taxGrid,
  unlikeRates,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { revisionAsOf } from '../activity/storedLines.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import { loadInBase } from '../setup/inBase.ts'
import { loadAccounts } from './loadMapping.ts'
import { loadOpenLabels, routesSayingTax } from './loadStarter.ts'
import { loadTaxGrid } from './loadTaxGrid.ts'
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

// What a source reports in a currency that no clearing account of it is in.
const missingClearings = async (
  tx: Transaction,
  of: { readonly chart: MissingPage['chart']; readonly taken: readonly StarterAccount[] },
): Promise<MissingBank[]> => {
  const { convert } = await loadInBase(tx)
  const rows = await rowsOf(
    tx,
    { ...sourceShape, currency: is.text, amount: is.minor, lines: is.whole, used: is.list(is.text) },
    sql`SELECT s.source, s.name, k.currency, sum(abs(k.gross))::bigint AS amount, sum(k.lines)::int AS lines,
        (SELECT coalesce(json_agg(c.account), '[]') FROM source_clearing c WHERE c.client_id = s.client_id) AS used
      FROM source s JOIN settlement k ON k.client_id = s.client_id AND k.source = s.source
      WHERE s.client_id = current_client()
        AND NOT EXISTS (SELECT FROM source_clearing c WHERE c.client_id = s.client_id AND c.source = s.source AND c.currency = k.currency)
      GROUP BY s.client_id, s.source, s.name, k.currency ORDER BY 1, 3`,
  )
  const taken = [...of.taken]
  return rows.map(({ source, name, currency, amount, lines, used }) => {
    const free = of.chart.filter(
      account =>
        account.type === 'clearing' &&
        !account.archived &&
        account.currency === currency &&
        !used.includes(account.code),
    )
    const [only] = free
    const make = { code: freeCode(taken, 'clearing'), name: `${name} clearing ${currency}`, type: 'clearing' as const }
    if (!only) taken.push(make)
    return {
      key: JSON.stringify([source, currency]),
      ...{ source, name, currency, lines, make },
      amount: convert(amount, currency),
      use: only ? { account: only.code, sure: free.length === 1 } : null,
    }
  })
}

// What accounts of rounding are called, in six languages, before those of exchange.
const roundingWords = [/round|rundung|arrondi|redondeo|arrotond|afrond/i, /exchange|kurs|change|cambio|koers/i]

const missingRounding = async (
  tx: Transaction,
  of: {
    readonly accounts: readonly StarterAccount[]
    readonly starting: readonly StarterAccount[]
    readonly taken: readonly StarterAccount[]
  },
): Promise<MissingBank | null> => {
  const row = await oneRow(
    tx,
    { base: is.text, told: is.yes, lines: is.whole, other: is.maybe(is.text) },
    sql`SELECT c.base, EXISTS (SELECT FROM account a WHERE a.client_id = c.client_id AND a.code = c.exchange_rounding AND NOT a.archived) AS told,
        count(k.key)::int AS lines, min(k.currency) AS other
      FROM client c LEFT JOIN settlement k ON k.client_id = c.client_id AND k.currency <> c.base
      WHERE c.client_id = current_client() GROUP BY c.client_id, c.base, c.exchange_rounding`,
  )
  if (row.told || row.other === null) return null
  const named = (accounts: readonly StarterAccount[]) =>
    roundingWords
      .map(word =>
        accounts.find(({ type, name }) => ['other_income', 'expense', 'income'].includes(type) && word.test(name)),
      )
      .find(account => account !== undefined)
  const use = named(of.accounts)
  const usual = named(of.starting)
  const type = usual?.type ?? 'expense'
  return {
    ...{ key: 'rounding', source: '', name: '', currency: row.base, amount: 0, lines: row.lines },
    use: use ? { account: use.code, sure: true } : null,
    make: { code: freeCode(of.taken, type), name: usual?.name ?? 'Exchange rounding', type },
  }
}

const missingBanks = async (
  tx: Transaction,
  of: {
    readonly chart: MissingPage['chart']
    readonly taken: readonly StarterAccount[]
    readonly starting: readonly StarterAccount[]
    /** First day that is looked at; null: nothing was reported. */
    readonly from: string | null
  },
): Promise<MissingBank[]> => {
  if (of.from === null) return []
  const { convert } = await loadInBase(tx)
  const rows = await rowsOf(
    tx,
    { ...sourceShape, currency: is.text, amount: is.minor, lines: is.whole },
    sql`SELECT s.source, s.name, l.currency, sum(l.amount)::bigint AS amount, count(*)::int AS lines FROM source s
      JOIN line_as_of l ON l.client_id = s.client_id AND l.source = s.source
      WHERE s.client_id = current_client() AND ${kindIs('payout', 'l.kind')} AND l.status = 'available'
        AND l.local_date >= ${of.from}::date AND ${revisionAsOf('now')}
        AND NOT EXISTS (SELECT FROM source_bank b WHERE b.client_id = s.client_id AND b.source = s.source AND b.direction = 'into' AND b.currency = l.currency)
      GROUP BY 1, 2, 3 ORDER BY 1, 3`,
  )
  const usual = of.starting.find(account => account.type === 'bank')
  // Sources that pay out in one currency share a new bank account; no two of different currencies take one number.
  const taken = [...of.taken]
  const made = new Map<string, NewAccount>()
  const makeIn = (currency: string): NewAccount => {
    const known = made.get(currency)
    if (known) return known
    const fits =
      usual !== undefined &&
      !taken.some(account => account.code === usual.code) &&
      taken.every(account => account.code.length === usual.code.length)
    const name = usual?.name ?? 'Bank account'
    const make = {
      code: fits ? usual.code : freeCode(taken, 'bank'),
      name: made.size === 0 ? name : `${name} ${currency}`,
      type: 'bank' as const,
    }
    taken.push(make)
    made.set(currency, make)
    return make
  }
  return rows.map(({ source, name, currency, amount, lines }) => {
    const there = of.chart.filter(
      account => ['bank', 'card'].includes(account.type) && !account.archived && account.currency === currency,
    )
    const [only] = there
    return {
      key: JSON.stringify([source, currency]),
      ...{ source, name, currency, lines },
      amount: Math.abs(convert(amount, currency)),
      use: only ? { account: only.code, sure: there.length === 1 } : null,
      make: makeIn(currency),
    }
  })
}
type NewAccount = MissingBank['make']

const unfitAccounts = (tx: Transaction): Promise<UnfitAccount[]> =>
  rowsOf(
    tx,
    { ...sourceShape, account: is.text, currency: is.text, why: is.oneOf('type', 'currency', 'archived') },
    sql`SELECT s.source, s.name, c.account, c.currency,
        CASE WHEN a.archived OR NOT a.takes_postings THEN 'archived' WHEN a.type <> 'clearing' THEN 'type' ELSE 'currency' END AS why
      FROM source s JOIN source_clearing c USING (client_id, source) JOIN account a ON a.client_id = c.client_id AND a.code = c.account
      WHERE s.client_id = current_client() AND (a.archived OR NOT a.takes_postings OR a.type <> 'clearing' OR a.currency <> c.currency)
      ORDER BY s.name, c.currency`,
  )

// Where no line of a country states its tax, and no row tells its regions apart, one answer is for all of them.
const byCountry = ({ seen, rows }: Awaited<ReturnType<typeof loadTaxGrid>>): MissingSeen => {
  const apart = new Set([
    ...seen.filter(one => one.stating !== 0).map(one => one.region?.slice(0, 2)),
    ...rows.filter(row => (row.region ?? '').length > 2).map(row => row.region?.slice(0, 2)),
  ])
  return seen.map(one =>
    one.region === null || apart.has(one.region.slice(0, 2)) ? one : { ...one, region: one.region.slice(0, 2) },
  )
}
type MissingSeen = Awaited<ReturnType<typeof loadTaxGrid>>['seen']

type Grid = Awaited<ReturnType<typeof loadTaxGrid>>

/** The grid of the latest period, as those who look at it see it. */
const linesOfGrid = (grid: Grid, seen: MissingSeen) =>
  taxGrid(grid.rows, seen, {
    since: [...new Set(grid.seen.flatMap(one => one.since ?? []))].sort().at(-1) ?? null,
    classes: (grid.classes as readonly ClassEntry[]).map(one => one.class),
  }).lines

const unlikeIn = (grid: Grid): MissingPage['unlikeRates'] =>
  grid.from === null || grid.to === null
    ? []
    : unlikeRates(linesOfGrid(grid, grid.seen), {
        ...{ codes: grid.taxCodes as readonly TaxCode[], from: grid.from, to: grid.to },
      }).map(one => ({ ...one, mapped: [...one.mapped] }))

const countryNames = new Intl.DisplayNames(['en'], { type: 'region' })

const missingTaxes = (grid: Grid, home: string | null): MissingTax[] => {
  if (grid.to === null) return []
  const lines = linesOfGrid(grid, byCountry(grid))
  const codes = grid.taxCodes as readonly TaxCode[]
  const rows: MissingTax[] = []
  const made: { code: string }[] = [...codes]
  // Classes of one country that bear one rate share its code.
  const byRate = new Map<string, string>()
  for (const line of lines)
    for (const cell of line.cells) {
      if (cell.open === 0 || line.kind !== null || line.label !== null || line.source !== null) continue
      const use = proposeCode(line, cell, { codes, home, date: grid.to })
      const country = line.region?.slice(0, 2) ?? home
      const percent = proposeRate(cell.seenPercent)
      const code =
        country === null ? null : (byRate.get(`${country} ${percent}`) ?? freeTaxCode(country, percent, made))
      if (code !== null && !use) {
        made.push({ code })
        if (percent !== null) byRate.set(`${country} ${percent}`, code)
      }
      rows.push({
        key: JSON.stringify([line.region, cell.class]),
        ...{ region: line.region, class: cell.class, lines: cell.lines, seenPercent: cell.seenPercent },
        sources: [...new Set(cell.supplies.map(one => one.source))],
        amount: sumMinor(cell.supplies, one => one.amount),
        use,
        make:
          country === null || code === null
            ? null
            : {
                code,
                country,
                percent,
                name: `${countryNames.of(country) ?? country}${percent === null ? '' : `, ${percent} %`}`,
              },
      })
    }
  return rows
}
