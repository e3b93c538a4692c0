import { once } from 'node:events'
import { createReadStream } from 'node:fs'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import { sql } from 'drizzle-orm'
import { pino } from 'pino'
import { always } from '../access/who.ts'
import { createApp } from '../app.ts'
import { type Actor, asClient, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { startJobs } from '../jobs/boss.ts'
import { saveRoutes } from '../mapping/saveRoutes.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { uploadFile } from '../sources/uploadFile.ts'
import { addShop, madeRoute, makeClient } from '../testing/madeClient.ts'
import { sellerPages, sellerProofs } from './asked.ts'
import { type ShopFiles, writeShop } from './shopFile.ts'

/** How much of a seller a client is. */
export interface SellerSize {
  readonly orders: number
  readonly days: number
  readonly rates: number
}

const firstDay = '2024-01-01'

const take = async (database: Database, actor: Actor, files: ShopFiles): Promise<number> => {
  const start = performance.now()
  for (const [source, name, path] of [
    ['fernstall', 'activity.csv', files.shop],
    ['brookpay', 'activity.csv', files.gateway],
    ['brookpay', 'balances.csv', files.balances],
  ] as const)
    await uploadFile(database, actor, { source, name, body: createReadStream(path) })
  return performance.now() - start
}

const waitingKeys = (database: Database, actor: Actor) =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { source: is.text, key: is.text, currency: is.text },
      sql`SELECT source, key, currency FROM settlement WHERE client_id = current_client() AND state = 'proposed' ORDER BY entry_date, source`,
    ),
  )

/** Takes a seller on: years of a shop's orders and of its gateway's collections, matched, all posted but the last ten days; and so many rates. */
export const makeSeller = async (
  database: Database,
  args: { name: string; folder: string; size: SellerSize },
): Promise<Actor> => {
  const { orders, days, rates } = args.size
  const actor = await makeClient(database, args.name)
  await addShop(database, actor)
  await saveRoutes(database, actor, {
    changed: [
      madeRoute('refund', { account: '4000', taxCode: 'S23' }),
      madeRoute('collected_back', { account: '4000', taxCode: 'S23' }),
      madeRoute('tender_returned', { account: '1290' }),
    ],
    removed: [],
  })
  await asClient(database, actor, async tx => {
    await tx.execute(sql`INSERT INTO exchange_rate (client_id, date, "from", "to", rate)
      SELECT current_client(), ${firstDay}::date + (n / 6), (ARRAY['USD', 'GBP', 'CAD', 'DKK', 'PLN', 'CHF'])[n % 6 + 1], 'EUR', 0.5 + (n % 97) / 100.0
      FROM generate_series(0, ${rates - 1}::int) n`)
    await tx.execute(sql`UPDATE client SET setup_version = setup_version + 1 WHERE client_id = current_client()`)
  })
  if (orders === 0) return actor
  const files = await writeShop(join(args.folder, 'seller-'), { orders, days, from: firstDay, id: 'A' })
  const took = await take(database, actor, files)
  const keys = await waitingKeys(database, actor)
  const start = performance.now()
  const { posted } = await postSettlements(database, actor, keys.slice(0, -20))
  const posting = performance.now() - start
  console.log(
    `       ${args.name}: ${files.rows} lines taken in ${(took / 1000).toFixed(1)} s, ${posted.length} of ${keys.length} settlements posted in ${(posting / 1000).toFixed(1)} s`,
  )
  return actor
}

export interface SellerFigures {
  readonly name: string
  readonly p50: number
  readonly p95: number
  readonly failed: number
}

const percentile = (sorted: readonly number[], share: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? 0

/** Asks for each address, one after another as a person would, so many times; the first answer of each is not counted. */
export const measureSeller = async (
  database: Database,
  args: { actor: Actor; of: 'pages' | 'proofs'; times: number },
): Promise<SellerFigures[]> => {
  const jobs = await startJobs(process.env.APP_DATABASE_URL as string, database, () => undefined)
  const app = createApp({ database, jobs, who: always(args.actor.userId), log: pino({ level: 'silent' }) })
  const server = app.listen(0, '127.0.0.1')
  await once(server, 'listening')
  const base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  const figures: SellerFigures[] = []
  for (const [name, address] of args.of === 'pages' ? sellerPages : sellerProofs) {
    const times: number[] = []
    let failed = 0
    for (let turn = 0; turn <= args.times; turn++) {
      const start = performance.now()
      const response = await fetch(base + address(args.actor.clientId))
      await response.arrayBuffer()
      if (!response.ok) failed++
      if (turn > 0) times.push(performance.now() - start)
    }
    times.sort((left, right) => left - right)
    figures.push({ name, p50: percentile(times, 0.5), p95: percentile(times, 0.95), failed })
  }
  server.close()
  server.closeAllConnections()
  await jobs.stop()
  return figures
}

/**
 * Takes of five hundred lines, one after another, into the client and into an empty one: the median of each and the longest of the client, ms. Both
 * share connections, and there are so many that the plans which these keep are used too.
 */
export const measureSmallTakes = async (
  database: Database,
  args: { actor: Actor; empty: Actor; folder: string; days: number },
): Promise<{ full: number; empty: number; longest: number }> => {
  const times: { full: number[]; empty: number[] } = { full: [], empty: [] }
  for (const id of 'BCDEFGHIJKLMNOP')
    for (const side of ['full', 'empty'] as const)
      times[side].push(
        await measureSmallTake(database, { ...args, id, actor: side === 'full' ? args.actor : args.empty }),
      )
  const median = (all: number[]): number =>
    percentile(
      all.sort((left, right) => left - right),
      0.5,
    )
  return { full: median(times.full), empty: median(times.empty), longest: Math.max(...times.full) }
}

/** Milliseconds that five hundred lines of new orders take to come in, matched and composed. */
const measureSmallTake = async (
  database: Database,
  args: { actor: Actor; folder: string; id: string; days: number },
): Promise<number> => {
  const files = await writeShop(join(args.folder, `${args.id}-`), {
    orders: 100,
    days: 1,
    from: new Date(Date.parse(firstDay) + (args.days + 3) * 86_400_000).toISOString().slice(0, 10),
    id: args.id,
  })
  const start = performance.now()
  for (const [source, path] of [
    ['fernstall', files.shop],
    ['brookpay', files.gateway],
  ] as const)
    await uploadFile(database, args.actor, { source, name: 'activity.csv', body: createReadStream(path) })
  return performance.now() - start
}

/** Milliseconds of posting one settlement after another; the first is not counted. */
export const measureSinglePosts = async (database: Database, actor: Actor, count: number): Promise<number[]> => {
  const times: number[] = []
  for (const key of (await waitingKeys(database, actor)).slice(0, count + 1)) {
    const start = performance.now()
    const { posted } = await postSettlements(database, actor, [key])
    if (posted.length !== 1) throw new Error(`${key.source} ${key.key} was not posted`)
    times.push(performance.now() - start)
  }
  return times.slice(1).sort((left, right) => left - right)
}
