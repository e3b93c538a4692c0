import {
  addMinor,
  type Composed,
  composeSettlement,
  type NamedAmount,
  type ProofInput,
  type ProofMovement,
  type ProofSettlement,
  proveClearing,
  type SettlementActivity,
  type Setup,
  sumMinor,
} from '@culvert/core'
import { sql } from 'drizzle-orm'
import { ledgerByLines } from '../activity/clearingAccounts.ts'
import { type SettlementKey, settlementState } from '../activity/settlementKey.ts'
import type { AsOf } from '../activity/storedLines.ts'
import { loadWrongTax } from '../composing/ledgerTax.ts'
import { type LoadedActivity, loadActivity } from '../composing/loadActivity.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { isDocument } from '../ledger/documentSorts.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'
import { type BalanceAccount, statedAt } from './balanceAccounts.ts'
import { loadByHand, loadTakenBack } from './ledgerRows.ts'
import { settlementRef } from './proofRows.ts'

const amountOn = (account: string, composed: Composed): number =>
  sumMinor(
    composed.entries.flatMap(entry => entry.lines),
    line => (line.account === account ? line.amount : 0),
  )

/** What an activity's lines up to a date come to on an account: composed as if they were all, and nothing held them up. */
const movedBy = (account: string, activity: SettlementActivity, mapped: Setup, date: string): number => {
  const setup = withoutTaxCheck(mapped)
  const until = (lines: SettlementActivity['lines']) => lines.filter(line => line.localDate <= date)
  const whole = { ...activity, head: null, payouts: [], lines: until(activity.lines) }
  const composed = composeSettlement(whole, setup)
  if (composed.blocks.length === 0) return amountOn(account, composed)
  // What has no route, no tax code or no rate cannot be told apart yet; the rest can.
  const resolvable = whole.lines.filter(
    line => composeSettlement({ ...whole, lines: [line] }, setup).blocks.length === 0,
  )
  return amountOn(account, composeSettlement({ ...whole, lines: resolvable }, setup))
}

/** What the entries of an activity must hold on an account, by their dates. */
const expectedOn = (account: string, activity: SettlementActivity, setup: Setup): { date: string; amount: number }[] =>
  composeSettlement(
    { ...activity, head: activity.head && { ...activity.head, openingBalance: null } },
    withoutTaxCheck(setup),
  )
    .entries.filter(entry => entry.document === 'journal')
    .map(entry => ({
      date: entry.date,
      amount: sumMinor(entry.lines, line => (line.account === account ? line.amount : 0)),
    }))

const withoutTaxCheck = (setup: Setup): Setup => ({
  ...setup,
  sources: new Map(
    [...setup.sources].map(([key, source]) => [key, { ...source, options: { ...source.options, taxTolerance: null } }]),
  ),
})

interface Standing extends SettlementKey {
  readonly state: ProofSettlement['state']
  readonly corrections: number
  /** What went in with its posting and with each correction: up to which pull, and the correction's date. Null while it is not posted. */
  readonly bookings: { asOf: number; map: number; date: string | null }[] | null
}

// Only settlements that are not posted, stand across the date, or were corrected since: all others are in the books with all they have.
const standing = (tx: Transaction, of: BalanceAccount, date: string) =>
  rowsOf(
    tx,
    {
      state: settlementState,
      corrections: is.whole,
      bookings: is.maybe(is.list(is.record({ asOf: is.whole, map: is.whole, date: is.maybe(is.date) }))),
      source: is.text,
      key: is.text,
      currency: is.text,
    },
    sql`
    SELECT s.source, s.key, s.currency, s.state, s.corrections,
      (SELECT json_agg(json_build_object('asOf', b.pull_no, 'map', b.map_version, 'date', b.date) ORDER BY b.pull_no) FROM (
        SELECT p.pull_no, p.map_version, NULL::date AS date FROM posting p WHERE p.source = s.source AND p.key = s.key
          AND p.currency = s.currency AND p.generation = s.generation
        UNION ALL
        SELECT c.pull_no, p.map_version, coalesce((SELECT min(e.date) FROM entry e WHERE e.act_id = c.act_id AND e.document = 'correction'
            AND e.source = c.source AND e.key = c.key AND e.currency = c.currency), s.entry_date)
        FROM correction c JOIN posting p USING (client_id, source, key, currency, generation)
        WHERE c.source = s.source AND c.key = s.key AND c.currency = s.currency AND c.generation = s.generation) b
        WHERE s.state = 'posted') AS bookings
    FROM settlement s
    WHERE s.client_id = current_client() AND s.currency = ${of.currency} AND (s.first_date <= ${date} OR s.entry_date <= ${date})
      AND (s.state NOT IN ('posted', 'elsewhere') OR s.settled_by > ${date} OR s.corrections > 0)
    ORDER BY s.entry_date, s.key`,
  )

/** Beyond every date: what has happened but is booked never, or is booked though it never happened, whatever the date. */
const never = '9999-12-31'

/**
 * What a settlement moves an account by: what its lines up to a date come to, and what its entries must hold by their own dates, both from
 * the lines, so that what is wrong with an entry is told as neither.
 */
const movementsOf = async (
  tx: Transaction,
  of: BalanceAccount,
  at: { row: Standing; date: string; clients: (map: number | null) => Promise<ClientSetup> },
): Promise<{ movements: ProofMovement[]; correction: number }> => {
  const { row, date } = at
  const load = async (client: ClientSetup, asOf: AsOf) =>
    (await loadActivity(tx, client, { keys: [row], asOf, days: 'each' }))[0]
  const last = row.bookings?.at(-1)
  const client = await at.clients(last?.map ?? null)
  const then = await load(client, last?.asOf ?? 'now')
  if (!then) return { movements: [], correction: 0 }
  const moved = movedBy(of.account, then.activity, client.setup, date)
  const happened = lastDateOf(then, date)
  if (!row.bookings) return { movements: [{ date: happened, amount: moved, bookedOn: null }], correction: 0 }
  const movements: ProofMovement[] = [{ date: happened, amount: moved, bookedOn: never }]
  let before = 0
  for (const booking of row.bookings) {
    const loaded = await load(client, booking.asOf)
    if (!loaded) continue
    const entries = expectedOn(of.account, loaded.activity, client.setup)
    const total = sumMinor(entries, entry => entry.amount)
    if (booking.date === null)
      movements.push(...entries.map(entry => ({ date: never, amount: entry.amount, bookedOn: entry.date })))
    else movements.push({ date: never, amount: addMinor(total, -before), bookedOn: booking.date })
    before = total
  }
  const now = row.corrections === 0 ? null : await load(client, 'now')
  return { movements, correction: now ? addMinor(movedBy(of.account, now.activity, client.setup, date), -moved) : 0 }
}

/** What an account's proof at a date is made of, with what was stated of it. */
export const loadBalanceInput = async (
  tx: Transaction,
  of: BalanceAccount,
  at: { date: string; reported: number },
): Promise<ProofInput> => {
  const { date } = at
  const known = new Map<number | null, ClientSetup>()
  const clients = async (map: number | null): Promise<ClientSetup> => {
    const client = known.get(map) ?? (await loadSetup(tx, map))
    known.set(map, client)
    return client
  }
  const settlements: ProofSettlement[] = []
  const corrections: NamedAmount[] = []
  for (const row of await standing(tx, of, date)) {
    const { movements, correction } = await movementsOf(tx, of, { row, date, clients })
    const moves = movements.filter(one => one.amount !== 0)
    // A settlement that leaves the account alone is none of its documents, posted or not.
    if (moves.length > 0) settlements.push({ ...settlementRef(row), state: row.state, movements: moves, payouts: [] })
    if (correction !== 0) corrections.push({ ...settlementRef(row), date, amount: correction })
  }
  return {
    date,
    reported: at.reported,
    ledger: await ledgerByLines(tx, of, date),
    settlements,
    takenBack: await loadTakenBack(tx, of, date),
    reserves: [],
    pending: [],
    corrections,
    // What the bank moved, whoever stated the balance knows as well.
    byHand: await loadByHand(tx, of, date, sql`NOT ${isDocument('fromBank')}`),
    series: [],
    // Whoever made an entry, and whatever was stated: tax that its base does not call for is never proved.
    wrongEntries: of.type === 'tax' ? await loadWrongTax(tx, of, date) : [],
  }
}

const lastDateOf = ({ activity }: LoadedActivity, date: string): string => {
  const last = activity.lines.reduce(
    (latest, line) => (line.localDate <= date && line.localDate > latest ? line.localDate : latest),
    '',
  )
  return last || date
}

/** Proves an account at a date against what was stated of it; null where nothing was. */
export const proveBalance = async (tx: Transaction, of: BalanceAccount, date: string | null) => {
  const stated = await statedAt(tx, of, date)
  if (!stated) return null
  const on = date ?? stated.date
  const proof = proveClearing(await loadBalanceInput(tx, of, { date: on, reported: stated.amount }))
  return { ...proof, date: on, stated }
}
