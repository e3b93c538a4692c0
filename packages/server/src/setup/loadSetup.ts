import {
  type Account,
  type BankRow,
  classBook,
  cutOffMinutes,
  defaultOptions,
  defaultTiming,
  routeBook,
  type Setup,
  type Source,
  taxBook,
  type Zone,
  zoneOf,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOfPrepared, type Transaction } from '../database/connect.ts'
import { is, type RowOf } from '../database/rows.ts'
import { loadKeptRates } from './keptRates.ts'
import { accountsJson, banksJson, clearingJson, sourcesJson } from './setupParts.ts'
import { accountShape, bankShape, clearingShape, factsShape, sourceShape, stored } from './stored.ts'

/** All that decides how a client's activity is booked, as of now. */
export interface ClientSetup {
  readonly setup: Setup
  readonly mapVersion: number
  /** Counts every save of anything that decides bookings, exchange rates among them. */
  readonly setupVersion: number
  readonly zone: Zone
  readonly cutOff: number
  /** From which the ids of persons are made. */
  readonly personKey: string
  readonly fiscalStart: number
  /** Takes what transfers out of foreign balances realise; null: they are booked at the rate of their day alone. */
  readonly exchangeDifference: string | null
  readonly base: string
  readonly sourceNames: ReadonlyMap<string, string>
}

const setupShape = {
  client_id: is.whole,
  written: is.text,
  setup_version: is.whole,
  person_key: is.text,
  ...factsShape,
  accounts: is.list(is.record(accountShape)),
  sources: is.list(is.record(sourceShape)),
  clearing: is.list(is.record(clearingShape)),
  banks: is.list(is.record(bankShape)),
  map: is.maybe(
    is.record({
      version: is.whole,
      routes: is.list(stored.route),
      taxCodes: is.list(stored.keptTaxCode),
      rules: is.list(stored.rule),
      items: is.list(stored.item),
      labels: is.dict(is.text),
      /** Null: the codes of supplies are their routes'. */
      taxRows: is.maybe(is.list(stored.taxRow)),
      classes: is.list(stored.classEntry),
      kept: is.maybe(stored.kept),
    }),
  ),
}
type SetupRow = RowOf<typeof setupShape>

/** Reads a client's setup; with `mapVersion`, all of it that decides bookings as it was saved then. */
export const loadSetup = async (tx: Transaction, mapVersion: number | null = null): Promise<ClientSetup> => {
  const wanted = mapVersion === null ? sql`` : sql`WHERE m.version = ${mapVersion}`
  const options =
    mapVersion === null
      ? sql`s.options`
      : sql`coalesce((SELECT o.options FROM source_options o WHERE o.client_id = s.client_id AND o.source = s.source
          AND o.version <= ${mapVersion} ORDER BY o.version DESC LIMIT 1), s.options)`
  const [found] = await rowsOfPrepared(
    tx,
    setupShape,
    sql`
    SELECT c.client_id, c.xmin::text AS written, c.setup_version, c.base, c.time_zone, c.cut_off, c.person_key, c.exchange_rounding, c.exchange_difference, c.fiscal_start,
      ${accountsJson} AS accounts, ${sourcesJson(options)} AS sources, ${clearingJson} AS clearing, ${banksJson} AS banks,
      (SELECT json_build_object('version', m.version, 'routes', m.routes, 'taxCodes', m.tax_codes, 'rules', m.rules,
        'items', m.items, 'labels', m.labels, 'taxRows', m.tax_rows, 'classes', m.classes,
        'kept', ${mapVersion === null ? sql`NULL` : sql`m.kept`})
        FROM map_version m ${wanted} ORDER BY m.version DESC LIMIT 1) AS map
    FROM client c WHERE c.client_id = current_client()`,
  )
  if (found === undefined) throw new Error('no client is set on this transaction')
  const row = found.map?.kept ? asKept(found, found.map.kept) : found
  const accounts = new Map(row.accounts.map((account): [string, Account] => [account.code, account]))
  const routes = row.map?.routes ?? []
  return {
    setup: {
      base: row.base,
      exchangeRounding: row.exchange_rounding,
      accounts,
      taxCodes: new Map((row.map?.taxCodes ?? []).map(code => [code.code, code])),
      sources: new Map(row.sources.map(source => [source.source, sourceOf(source, row)])),
      routes: routeBook(routes),
      rules: row.map?.rules ?? [],
      items: new Map((row.map?.items ?? []).map(item => [item.code, item])),
      rates: await loadKeptRates(tx, { clientId: row.client_id, written: row.written }),
      labels: new Map(Object.entries(row.map?.labels ?? {})),
      timing: defaultTiming,
      ...(row.map?.taxRows && { taxRows: taxBook(row.map.taxRows), classes: classBook(row.map.classes) }),
    },
    mapVersion: row.map?.version ?? 0,
    setupVersion: row.setup_version,
    zone: zoneOf(row.time_zone),
    cutOff: cutOffMinutes(row.cut_off),
    personKey: row.person_key,
    fiscalStart: row.fiscal_start,
    exchangeDifference: row.exchange_difference,
    base: row.base,
    sourceNames: new Map(row.sources.map(source => [source.source, source.name])),
  }
}

/** The setup as a version kept it; what came since, such as a later account, as it is now: nothing of the version speaks of it. */
const asKept = (now: SetupRow, then: ReturnType<typeof stored.kept>): SetupRow => {
  const accounts = new Set(then.accounts.map(one => one.code))
  const sources = new Map(then.sources.map(one => [one.source, one]))
  const since = (row: { readonly source: string }): boolean => !sources.has(row.source)
  return {
    ...now,
    ...then.facts,
    accounts: [...then.accounts, ...now.accounts.filter(one => !accounts.has(one.code))],
    // What a source is called, here and on bank lines, decides no booking.
    sources: now.sources.map(one => ({ ...one, ...pick(sources.get(one.source)) })),
    clearing: [...then.clearing, ...now.clearing.filter(since)],
    banks: [...then.banks, ...now.banks.filter(since)],
  }
}

const pick = (source: SetupRow['sources'][number] | undefined) =>
  source && { shape: source.shape, options: source.options }

const sourceOf = (source: SetupRow['sources'][number], row: SetupRow): Source => {
  const banks = (direction: string): BankRow[] =>
    row.banks
      .filter(bank => bank.source === source.source && bank.direction === direction)
      .map(bank => ({ account: bank.account, currency: bank.currency, region: bank.region || null }))
  return {
    key: source.source,
    shape: source.shape,
    bankTexts: source.bankTexts,
    clearing: Object.fromEntries(
      row.clearing
        .filter(clearing => clearing.source === source.source)
        .map(clearing => [clearing.currency, clearing.account]),
    ),
    paysInto: banks('into'),
    drawnFrom: banks('from'),
    options: { ...defaultOptions, ...source.options },
  }
}
