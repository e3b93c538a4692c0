import type { Block, Composed } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { type SettlementKey, settlementName, textOfKey } from '../activity/settlementKey.ts'
import { rowsOfPrepared, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { isDocument } from '../ledger/documentSorts.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'
import type { LoadedActivity } from './loadActivity.ts'

/** A settlement with what it composes to. */
export interface ComposedOne {
  readonly loaded: LoadedActivity
  readonly composed: Composed
}

interface Wanted extends SettlementKey {
  readonly account: string
  readonly amount: number
  readonly date: string
}

/**
 * Blocks settlements whose entry looks like one that stands in the ledger already: the same clearing account, amount and
 * date, from another settlement or made by hand; with `among`, or like another of those given. Where somebody has said that it is none, it
 * is let pass.
 */
export const blockDoubles = async (
  tx: Transaction,
  client: ClientSetup,
  all: readonly ComposedOne[],
  { among = false }: { readonly among?: boolean } = {},
): Promise<readonly ComposedOne[]> => {
  const wanted = all.flatMap(one => (one.loaded.notDouble ? [] : wantedOf(one, client)))
  if (wanted.length === 0) return all
  const found = new Map([...(among ? findAmong(wanted) : []), ...(await findEntries(tx, wanted))])
  if (found.size === 0) return all
  return all.map(one => {
    const double = found.get(textOfKey(one.loaded.key))
    return double
      ? { ...one, composed: { ...one.composed, entries: [], blocks: [...one.composed.blocks, double] } }
      : one
  })
}

// Of several that are to be posted together and look alike, the first may be; the others are asked about.
const findAmong = (wanted: readonly Wanted[]): Map<string, Block> => {
  const first = new Map<string, Wanted>()
  const blocks = new Map<string, Block>()
  for (const one of wanted) {
    const like = first.get(placeOf(one))
    if (like === undefined) first.set(placeOf(one), one)
    else if (textOfKey(like) !== textOfKey(one))
      blocks.set(textOfKey(one), {
        reason: 'likely_double',
        amount: one.amount,
        concerned: [],
        like: settlementName(like),
      })
  }
  return blocks
}

const placeOf = ({ account, amount, date }: Pick<Standing, 'account' | 'amount' | 'date'>): string =>
  `${account} ${amount} ${date}`

const wantedOf = ({ loaded, composed }: ComposedOne, client: ClientSetup): Wanted[] => {
  const clearing = client.setup.sources.get(loaded.key.source)?.clearing[loaded.key.currency]
  return composed.entries.flatMap(entry => {
    const line = entry.document === 'journal' ? entry.lines.find(one => one.account === clearing) : undefined
    return line ? [{ ...loaded.key, account: line.account, amount: line.amount, date: entry.date }] : []
  })
}

interface Standing extends SettlementKey {
  readonly account: string
  readonly amount: number
  readonly date: string
  readonly number: string
}

// One look for all of them, matched here: a plan that takes the wrong index then reads a client's lines once, not once for each. Lines that look alike come
// first, and apart: of a ledger that has grown faster than its statistics all entries were gone through for them.
const findEntries = async (tx: Transaction, wanted: readonly Wanted[]): Promise<Map<string, Block>> => {
  const values = <Name extends keyof Wanted>(name: Name) => sql.param([...new Set(wanted.map(one => one[name]))])
  const standing = await rowsOfPrepared(
    tx,
    {
      account: is.text,
      amount: is.minor,
      date: is.date,
      number: is.text,
      source: is.text,
      key: is.text,
      currency: is.text,
    },
    sql`
    WITH alike AS MATERIALIZED (
      SELECT l.account, l.amount, l.fiscal_year, l.number FROM entry_line l
      WHERE l.client_id = current_client() AND l.amount = ANY(${values('amount')}::bigint[])
        AND l.account = ANY(${values('account')}::text[]) AND l.date = ANY(${values('date')}::date[]))
    SELECT l.account, l.amount, e.date::text, e.source, e.key, e.currency, e.fiscal_year || '-' || e.number AS number
    FROM alike l JOIN entry e ON e.client_id = current_client() AND e.fiscal_year = l.fiscal_year AND e.number = l.number
    WHERE ${isDocument('mayRepeat')}
      AND NOT EXISTS (SELECT FROM entry r WHERE r.client_id = e.client_id AND r.reverses_year = e.fiscal_year
        AND r.reverses_number = e.number)
    ORDER BY e.fiscal_year, e.number`,
  )
  const byPlace = new Map<string, Standing[]>()
  for (const row of standing) byPlace.set(placeOf(row), [...(byPlace.get(placeOf(row)) ?? []), row])
  const blocks = new Map<string, Block>()
  for (const one of wanted) {
    const other = byPlace.get(placeOf(one))?.find(row => textOfKey(row) !== textOfKey(one))
    if (other)
      blocks.set(textOfKey(one), { reason: 'likely_double', amount: one.amount, concerned: [], entry: other.number })
  }
  return blocks
}
