import {
  type Account,
  type BankRow,
  classBook,
  cutOffMinutes,
  defaultOptions,
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
import { stored } from './stored.ts'

/** All that decides how a client's activity is booked, as of now. */
export interface ClientSetup {
  readonly setup: Setup
  readonly mapVersion: number
  /** Counts every save of anything that decides bookings, exchange rates among them. */
  readonly setupVersion: number
  readonly zone: Zone
  readonly cutOff: number
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
  base: is.text,
  time_zone: is.text,
  cut_off: is.text,
  exchange_rounding: is.maybe(is.text),
  exchange_difference: is.maybe(is.text),
  fiscal_start: is.whole,
  accounts: is.list(
    is.record({ code: is.text, name: is.text, type: is.accountType, currency: is.text, archived: is.yes }),
  ),
  sources: is.list(
    is.record({
      source: is.text,
      name: is.text,
      shape: is.oneOf('combined', 'channel', 'gateway'),
      options: stored.options,
      bankTexts: is.list(is.text),
    }),
  ),
  clearing: is.list(is.record({ source: is.text, currency: is.text, account: is.text })),
  banks: is.list(
    is.record({ source: is.text, direction: is.text, currency: is.text, region: is.text, account: is.text }),
  ),
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
    }),
  ),
}
type SetupRow = RowOf<typeof setupShape>

/** Reads a client's setup; with `mapVersion`, its routes, rules, items, tax codes, labels and sources' options as they were saved then. */
export const loadSetup = async (tx: Transaction, mapVersion: number | null = null): Promise<ClientSetup> => {
  const wanted = mapVersion === null ? sql`` : sql`WHERE m.version = ${mapVersion}`
  const options =
    mapVersion === null
      ? sql`s.options`
      : sql`coalesce((SELECT o.options FROM source_options o WHERE o.client_id = s.client_id AND o.source = s.source
          AND o.version <= ${mapVersion} ORDER BY o.version DESC LIMIT 1), s.options)`
  const [row] = await rowsOfPrepared(
    tx,
    setupShape,
    sql`
    SELECT c.client_id, c.xmin::text AS written, c.setup_version, c.base, c.time_zone, c.cut_off, c.exchange_rounding, c.exchange_difference, c.fiscal_start,
      (SELECT coalesce(json_agg(json_build_object('code', a.code, 'name', a.name, 'type', a.type, 'currency', a.currency,
        'archived', a.archived)), '[]') FROM account a) AS accounts,
      (SELECT coalesce(json_agg(json_build_object('source', s.source, 'name', s.name, 'shape', s.shape,
        'options', ${options}, 'bankTexts', s.bank_texts) ORDER BY s.source), '[]') FROM source s) AS sources,
      (SELECT coalesce(json_agg(k), '[]') FROM (SELECT source, currency, account FROM source_clearing) k) AS clearing,
      (SELECT coalesce(json_agg(b), '[]')
        FROM (SELECT source, direction, currency, region, account FROM source_bank) b) AS banks,
      (SELECT json_build_object('version', m.version, 'routes', m.routes, 'taxCodes', m.tax_codes, 'rules', m.rules,
        'items', m.items, 'labels', m.labels, 'taxRows', m.tax_rows, 'classes', m.classes)
        FROM map_version m ${wanted} ORDER BY m.version DESC LIMIT 1) AS map
    FROM client c WHERE c.client_id = current_client()`,
  )
  if (row === undefined) throw new Error('no client is set on this transaction')
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
      ...(row.map?.taxRows && { taxRows: taxBook(row.map.taxRows), classes: classBook(row.map.classes) }),
    },
    mapVersion: row.map?.version ?? 0,
    setupVersion: row.setup_version,
    zone: zoneOf(row.time_zone),
    cutOff: cutOffMinutes(row.cut_off),
    fiscalStart: row.fiscal_start,
    exchangeDifference: row.exchange_difference,
    base: row.base,
    sourceNames: new Map(row.sources.map(source => [source.source, source.name])),
  }
}

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
