import type { ActivityList, TaxCheckPage } from '@culvert/contract'
import {
  checkTax,
  entryDateOfLine,
  isSupply,
  type Kind,
  monthOf,
  monthParts,
  type SettlementActivity,
  type Setup,
  type SupplySums,
  sumMinor,
  supplyPlace,
  supplySums,
  type TaxCheck,
  taxPeriods,
  type WeightedLine,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { loadSuppliesOf, resolveStored, type StoredLine, settlementLines } from '../activity/activityLines.ts'
import { postedAs } from '../activity/postedAs.ts'
import type { SettlementKey } from '../activity/settlementKey.ts'
import type { AsOf } from '../activity/storedLines.ts'
import { loadLedgerTax } from '../composing/ledgerTax.ts'
import { loadActivity } from '../composing/loadActivity.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { settlementMonths } from '../ledger/settlementMonths.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'
import { PlaceTable, placeKey } from './taxPlaceTable.ts'

/**
 * Checks the tax of all settlements whose entry is dated in `month` (null: the last one that has any): posted ones by the
 * map they were posted with, the others by today's. What no settlement made is read from its entries.
 */
export const loadTaxCheck = async (tx: Transaction, month: string | null): Promise<TaxCheckPage> => {
  const months = (
    await rowsOf(
      tx,
      { month: is.text },
      sql`SELECT DISTINCT month FROM ${settlementMonths} m WHERE state <> 'set_aside'
        UNION SELECT DISTINCT to_char(date, 'YYYY-MM') FROM entry WHERE client_id = current_client() AND source IS NULL ORDER BY 1 DESC`,
    )
  ).map(row => row.month)
  const chosen = month ?? months[0] ?? null
  if (chosen === null) return { month: null, months, codes: [], labels: [], places: null, hanging: [] }
  const checks: TaxCheck[] = []
  const now = await loadSetup(tx)
  const periods = taxPeriods(now.setup)
  const [booked, byGrid] = [new PlaceTable(), new PlaceTable()]
  const hanging: TaxCheckPage['hanging'] = []
  for (const [version, keys] of await keysByVersion(tx, chosen)) {
    const client = version === null || version === now.mapVersion ? now : await loadSetup(tx, version)
    const loaded = inMonth(
      await loadActivity(tx, client, { keys, also: ['region', 'taxLabel'], days: periods }),
      client.setup,
      chosen,
    )
    checks.push(
      checkTax(
        loaded.map(({ activity }): SettlementActivity => activity),
        client.setup,
      ),
    )
    if (!now.setup.taxRows) continue
    const then = supplySums(
      loaded.map(one => one.activity),
      client.setup,
      periods,
    )
    booked.add(then.sums)
    const grid =
      client === now
        ? then
        : supplySums(
            inMonth(await loadActivity(tx, now, { keys }), now.setup, chosen).map(one => one.activity),
            now.setup,
            periods,
          )
    byGrid.add(grid.sums)
    hanging.push(...grid.hanging)
  }
  checks.push({ codes: await loadLedgerTax(tx, chosen), labels: [] })
  return {
    month: chosen,
    months,
    codes: addCodes(checks),
    labels: addLabels(checks),
    places: now.setup.taxRows ? heldAgainst(booked, byGrid) : null,
    hanging: addHanging(hanging),
  }
}

/** What of settlements is booked in a month: of one that is split at month's end the lines of its part, of any other all or nothing. */
const inMonth = <Loaded extends { readonly activity: SettlementActivity }>(
  loaded: readonly Loaded[],
  setup: Setup,
  month: string,
): Loaded[] =>
  loaded.flatMap(one => {
    const source = setup.sources.get(one.activity.source)
    if (!source) return []
    const places = monthParts(one.activity, source)
      .filter(part => monthOf(part.date) === month)
      .flatMap(part => part.indexes)
    const lines = places.map(place => one.activity.lines[place] as WeightedLine)
    return lines.length > 0 ? [{ ...one, activity: { ...one.activity, lines } }] : []
  })

/** What was booked of each place beside what the grid says of it today. */
const heldAgainst = (booked: PlaceTable, byGrid: PlaceTable): NonNullable<TaxCheckPage['places']> =>
  [...new Set([...booked.keys(), ...byGrid.keys()])]
    .map(key => {
      const [then, now] = [booked.get(key), byGrid.get(key)]
      const { currency, region, class: name, since } = (then ?? now) as SupplySums
      return {
        ...{ currency, region, class: name, since },
        lines: then?.lines ?? now?.lines ?? 0,
        base: then?.base ?? 0,
        booked: then?.tax ?? 0,
        bookedCodes: [...(then?.codes ?? [])],
        byGrid: now?.tax ?? 0,
        gridCodes: [...(now?.codes ?? [])],
        stated: now?.stated ?? null,
        difference: (then?.tax ?? 0) - (now?.tax ?? 0),
        open: now?.open ?? 0,
        foreign: now?.foreign ?? 0,
      }
    })
    .sort((left, right) => Math.abs(right.base) - Math.abs(left.base))

const addHanging = (all: TaxCheckPage['hanging']): TaxCheckPage['hanging'] => {
  const sums = new Map<string, TaxCheckPage['hanging'][number]>()
  for (const one of all) {
    const before = sums.get(one.currency)
    sums.set(
      one.currency,
      before
        ? {
            currency: one.currency,
            lost: before.lost + one.lost,
            lostLines: before.lostLines + one.lostLines,
            unsplit: before.unsplit + one.unsplit,
            unsplitLines: before.unsplitLines + one.unsplitLines,
          }
        : one,
    )
  }
  return [...sums.values()]
}

/** Lines told in a list; more are counted. */
const mostLines = 1000

/** The lines of a month behind one row of the check, each with the part of it that is taxed there: of a place, of a code, or what hangs on nothing known. */
export const listTaxLines = async (
  tx: Transaction,
  month: string,
  wanted: {
    readonly currency: string
    readonly place?: Pick<SupplySums, 'region' | 'class' | 'since'>
    readonly hanging?: 'lost' | 'unsplit'
    readonly code?: string
  },
): Promise<ActivityList> => {
  const now = await loadSetup(tx)
  const periods = taxPeriods(now.setup)
  const setups = new Map([[now.mapVersion, now]])
  const found: ActivityList['lines'] = []
  for (const { key, version } of await keysOf(tx, month, wanted.currency)) {
    // What bears a code bears it by the map that it was booked by; where something is due is asked of the grid of today.
    const by = wanted.code === undefined || version === null ? now.mapVersion : version
    const client = setups.get(by) ?? (await loadSetup(tx, by))
    setups.set(by, client)
    const asOf = wanted.code === undefined ? 'now' : ((await postedAs(tx, key))?.pullNo ?? 'now')
    const lines = await linesInMonth(tx, client, { key, month, asOf })
    const supplies = await loadSuppliesOf(tx, client, lines, asOf)
    for (const line of lines) {
      if (wanted.code === undefined && !isSupply(line.kind as Kind)) continue
      const parts = resolveStored(line, client, supplies).filter(({ part, resolution }) => {
        if (resolution.ok && resolution.elsewhere) return false
        if (wanted.code !== undefined) return resolution.ok && resolution.taxCode?.code === wanted.code
        if (wanted.hanging) return Boolean(part.supply?.[wanted.hanging])
        const place = supplyPlace(part, client.setup, periods)
        return (
          placeKey({ ...place, currency: key.currency }) ===
          placeKey({ ...(wanted.place ?? place), currency: key.currency })
        )
      })
      if (parts.length > 0) found.push({ ...line, amount: sumMinor(parts, one => one.part.amount) })
    }
  }
  return { lines: found.slice(0, mostLines), total: found.length, sum: sumMinor(found, line => line.amount) }
}

/** A settlement's lines whose entry is dated in a month. */
const linesInMonth = async (
  tx: Transaction,
  client: ClientSetup,
  { key, month, asOf }: { readonly key: SettlementKey; readonly month: string; readonly asOf: AsOf },
): Promise<StoredLine[]> => {
  const [row] = await rowsOf(
    tx,
    { end: is.text },
    sql`SELECT entry_date::text AS end FROM settlement WHERE client_id = current_client() AND source = ${key.source}
      AND key = ${key.key} AND currency = ${key.currency}`,
  )
  const source = client.setup.sources.get(key.source)
  if (!row || !source) return []
  const lines = await settlementLines(tx, key, asOf)
  return lines.filter(line => monthOf(entryDateOfLine(line.localDate, row.end, source)) === month)
}

/** The settlements of a month in one currency, each with the version of the map that it was posted by; null: it is not. */
const keysOf = async (tx: Transaction, month: string, currency: string) =>
  [...(await keysByVersion(tx, month))].flatMap(([version, keys]) =>
    keys.filter(key => key.currency === currency).map(key => ({ key, version })),
  )

const keysByVersion = async (tx: Transaction, month: string): Promise<Map<number | null, SettlementKey[]>> => {
  const rows = await rowsOf(
    tx,
    { source: is.text, key: is.text, currency: is.text, version: is.maybe(is.whole) },
    sql`SELECT m.source, m.key, m.currency, CASE WHEN m.state = 'posted' THEN s.map_version END AS version
      FROM ${settlementMonths} m JOIN settlement s USING (source, key, currency)
      WHERE s.client_id = current_client() AND m.month = ${month} AND m.state <> 'set_aside' ORDER BY 1, 2, 3`,
  )
  const byVersion = new Map<number | null, SettlementKey[]>()
  for (const { version, ...key } of rows) byVersion.set(version, [...(byVersion.get(version) ?? []), key])
  return byVersion
}

/** Checks made under several versions of the map, added up where code and rates are the same. */
const addCodes = (checks: readonly TaxCheck[]): TaxCheckPage['codes'] => {
  const sums = new Map<string, TaxCheckPage['codes'][number]>()
  for (const { codes } of checks)
    for (const code of codes) {
      const key = JSON.stringify([code.taxCode, code.currency, code.version, code.percent])
      const before = sums.get(key)
      sums.set(
        key,
        before
          ? {
              ...before,
              base: before.base + code.base,
              booked: before.booked + code.booked,
              expected: before.expected + code.expected,
              difference: before.difference + code.difference,
              roundings: before.roundings + code.roundings,
            }
          : code,
      )
    }
  return [...sums.values()]
}

const addLabels = (checks: readonly TaxCheck[]): TaxCheckPage['labels'] => {
  const sums = new Map<string, TaxCheckPage['labels'][number]>()
  for (const { labels } of checks)
    for (const label of labels) {
      const key = JSON.stringify([label.source, label.currency, label.region, label.taxLabel])
      const before = sums.get(key)
      const [base, tax] = [(before?.base ?? 0) + label.base, (before?.tax ?? 0) + label.tax]
      const mapped = new Map(
        [...(before?.mapped ?? []), ...label.mapped].map(one => [`${one.taxCode} ${one.percent}`, one]),
      )
      sums.set(key, {
        ...label,
        base,
        tax,
        lines: (before?.lines ?? 0) + label.lines,
        seenPercent: base === 0 ? null : Math.round((tax / base) * 10_000) / 100,
        mapped: [...mapped.values()],
      })
    }
  return [...sums.values()]
}

/** Codes and places whose booked tax is not what their lines call for in a month. */
export const taxOffIn = async (tx: Transaction, month: string): Promise<string[]> => {
  const { codes, places } = await loadTaxCheck(tx, month)
  return [
    ...new Set([
      ...codes.filter(code => Math.abs(code.difference) > code.roundings).map(code => code.taxCode),
      ...(places ?? [])
        .filter(place => place.difference !== 0 || place.open !== 0 || place.foreign !== 0)
        .map(place => [place.region ?? 'no region', place.class].filter(Boolean).join(' ')),
    ]),
  ]
}
