import type { ActivityList, ActivityRow, TaxCheckPage } from '@culvert/contract'
import {
  chargedOf,
  checkTax,
  entryDateOfLine,
  isSupply,
  type Kind,
  type LabelCheck,
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
import {
  loadSuppliesOf,
  type ResolvedPart,
  resolveStored,
  type StoredLine,
  settlementLines,
} from '../activity/activityLines.ts'
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

/** Which lines of a month are listed: of a place, what hangs on nothing known, of a code, or what a source charged in a region under a label. */
interface TaxLinesWanted {
  readonly currency: string
  readonly place?: Pick<SupplySums, 'region' | 'class' | 'since'>
  readonly hanging?: 'lost' | 'unsplit'
  readonly code?: string
  readonly charged?: Pick<LabelCheck, 'source' | 'region' | 'taxLabel'> & { readonly part: 'base' | 'tax' }
}

/** The lines of a month behind one row of the check, each with the part of it that is taxed there, or is the base or the tax. */
export const listTaxLines = async (tx: Transaction, month: string, wanted: TaxLinesWanted): Promise<ActivityList> => {
  const now = await loadSetup(tx)
  const setups = new Map([[now.mapVersion, now]])
  // What was booked was booked by the map of then; where something is due is asked of the grid of today.
  const asBooked = wanted.code !== undefined || wanted.charged !== undefined
  const found: BookedLine[] = []
  for (const { key, version } of await keysOf(tx, month, wanted.currency)) {
    const by = asBooked && version !== null ? version : now.mapVersion
    const client = setups.get(by) ?? (await loadSetup(tx, by))
    setups.set(by, client)
    const asOf = asBooked ? ((await postedAs(tx, key))?.pullNo ?? 'now') : 'now'
    const lines = await linesInMonth(tx, client, { key, month, asOf })
    const supplies = await loadSuppliesOf(tx, client, lines, asOf)
    for (const line of lines) found.push({ line, version: by, parts: resolveStored(line, client, supplies) })
  }
  const lines = wanted.charged ? chargedLines(found, wanted.charged) : taxedLines(found, wanted, now.setup)
  return { lines: lines.slice(0, mostLines), total: lines.length, sum: sumMinor(lines, line => line.amount) }
}

/** A line in the parts that it is taxed in, by a version of the map. */
interface BookedLine {
  readonly line: StoredLine
  readonly version: number
  readonly parts: readonly ResolvedPart[]
}

/** How a part is booked; null: not here, or not yet. */
const bookedAs = ({ resolution }: ResolvedPart) => (resolution.ok && !resolution.elsewhere ? resolution : null)

const taxedLines = (found: readonly BookedLine[], wanted: TaxLinesWanted, setup: Setup): ActivityRow[] => {
  const periods = taxPeriods(setup)
  const { currency, place, hanging, code } = wanted
  return found.flatMap(({ line, parts }) => {
    if (code === undefined && !isSupply(line.kind as Kind)) return []
    const mine = parts.filter(one => {
      const { part, resolution } = one
      if (resolution.ok && resolution.elsewhere) return false
      if (code !== undefined) return bookedAs(one)?.taxCode?.code === code
      if (hanging) return Boolean(part.supply?.[hanging])
      const at = supplyPlace(part, setup, periods)
      return placeKey({ ...at, currency }) === placeKey({ ...(place ?? at), currency })
    })
    return mine.length > 0 ? [{ ...line, amount: sumMinor(mine, one => one.part.amount) }] : []
  })
}

/** Of what a source charged the bases, or the taxes: where its tax comes in lines of its own, all that was sold untaxed into the region is their base. */
const chargedLines = (
  found: readonly BookedLine[],
  { part: wanted, ...at }: NonNullable<TaxLinesWanted['charged']>,
): ActivityRow[] => {
  const seen = found
    .filter(({ line }) => line.source === at.source)
    .flatMap(({ line, version, parts }) =>
      parts.flatMap(one => {
        const { part } = one
        const booked = bookedAs(one)
        const charged = booked && chargedOf(part, booked)
        return charged && part.region === at.region ? [{ line, version, charged, label: part.taxLabel }] : []
      }),
    )
  const isMine = (one: (typeof seen)[number]): boolean => one.charged.as !== 'untaxed' && one.label === at.taxLabel
  const onTop = new Set(seen.filter(one => isMine(one) && one.charged.as === 'on_top').map(one => one.version))
  const amounts = new Map<StoredLine, number>()
  for (const one of seen) {
    if (!isMine(one) && !(one.charged.as === 'untaxed' && onTop.has(one.version))) continue
    amounts.set(one.line, (amounts.get(one.line) ?? 0) + one.charged[wanted])
  }
  return [...amounts].filter(([, amount]) => amount !== 0).map(([line, amount]) => ({ ...line, amount }))
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
