import { fork } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { taxRowBody } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { type Actor, asClient, connect } from '../database/connect.ts'
import { saveRoutes } from '../mapping/saveRoutes.ts'
import { saveTaxRows } from '../mapping/saveTaxRows.ts'
import { brokenInvariants } from '../testing/invariants.ts'
import { madeRoute, makeClient, settlementKeys } from '../testing/madeClient.ts'
import { makeRacedClient } from '../testing/writers.ts'
import { type MadeFile, writeActivity } from './activityFile.ts'
import { racedPairs } from './races.ts'
import { writeCamt } from './readers.ts'
import type { Done, TaskName, Tasks } from './task.ts'

if (!process.env.APP_DATABASE_URL || !process.env.DATABASE_URL)
  throw new Error('run ./culvert bench, which prepares a database')
const database = connect(process.env.APP_DATABASE_URL, 4)
const folder = mkdtempSync(join(tmpdir(), 'culvert-bench-'))
const verdicts: boolean[] = []
let highest = { task: '', bytes: 0 }

/** Runs a task in a process of its own. */
const task = <Name extends TaskName>(name: Name, args: Tasks[Name]['args']): Promise<Done<Name>> =>
  new Promise((resolve, reject) => {
    const child = fork(fileURLToPath(new URL('./task.ts', import.meta.url)), [name, JSON.stringify(args)], {
      execArgv: ['--import', 'tsx'],
    })
    let done: Done<Name> | null = null
    child.on('message', message => {
      done = message as Done<Name>
    })
    child.on('exit', code => (done ? resolve(done) : reject(new Error(`${name} ended with ${code}`))))
  })

/** Runs what the server does, and keeps the most memory that any of it took. */
const serverTask = async <Name extends TaskName>(
  name: Name,
  args: Tasks[Name]['args'],
): Promise<Tasks[Name]['result']> => {
  const { result, peak } = await task(name, args)
  if (peak > highest.bytes) highest = { task: name, bytes: peak }
  return result
}

const say = (name: string, figures: string, met: boolean): void => {
  verdicts.push(met)
  console.log(`${met ? 'met   ' : 'MISSED'} ${name}: ${figures}`)
}
const seconds = (ms: number): string => `${(ms / 1000).toFixed(1)} s`
const bring = async (actor: Actor, file: MadeFile): Promise<number> => {
  await serverTask('upload', { ...actor, path: file.heads, name: 'settlements.csv' })
  const { elapsed, added } = await serverTask('upload', { ...actor, path: file.lines, name: 'activity.csv' })
  if (added !== file.rows) throw new Error(`${added} of ${file.rows} lines came in`)
  return elapsed
}

/** A client whose routes look at category and region, so that lines are added up by both. */
const routedClient = async (name: string): Promise<Actor> => {
  const actor = await makeClient(database, name)
  await saveRoutes(database, actor, {
    changed: [
      madeRoute('sale', { account: '4100', taxCode: 'S23', category: 'Glaze kits' }),
      madeRoute('sale', { account: '4000', region: 'CA-QC' }),
    ],
    removed: [],
  })
  return actor
}

/** A million lines in 2,000 settlements of 500 lines, and a tenth of it. */
const measureHeart = async (): Promise<void> => {
  const small = await writeActivity(join(folder, 'small-'), 200, 167)
  const large = await writeActivity(join(folder, 'large-'), 2000, 167)
  console.log(`${large.rows} lines in 2000 settlements`)
  const smallActor = await routedClient('A tenth')
  const smallImport = await bring(smallActor, small)
  const actor = await routedClient('A million lines')
  const { result: base } = await task('importBase', { path: large.lines })
  const first = await bring(actor, large)
  const lowest = base.parsing + base.copying
  say(
    'import',
    `${seconds(first)}, ${(first / lowest).toFixed(2)} × its base of ${seconds(lowest)}: parsing ${seconds(base.parsing)}, COPY ${seconds(base.copying)} (bar 2)`,
    first / lowest <= 2,
  )
  say(
    'import, ten times the lines',
    `${(first / smallImport).toFixed(1)} × the time (bar 12)`,
    first / smallImport <= 12,
  )
  const { elapsed: again } = await serverTask('upload', { ...actor, path: large.lines, name: 'activity.csv' })
  say('the same file again', `${(again / first).toFixed(2)} × the first (bar 1)`, again <= first)
  const { result: grouped } = await task('composeBase', actor)
  const composed = await serverTask('compose', actor)
  say(
    'composing',
    `${composed.entries} drafts in ${seconds(composed.elapsed)}, ${(composed.elapsed / grouped.grouping).toFixed(2)} × the GROUP BY of ${seconds(grouped.grouping)}, ${grouped.groups} groups (bar 2)`,
    composed.elapsed / grouped.grouping <= 2,
  )
  const tenth = await serverTask('compose', smallActor)
  say(
    'composing, ten times the lines',
    `${(composed.elapsed / tenth.elapsed).toFixed(1)} × the time (bar 12)`,
    composed.elapsed / tenth.elapsed <= 12,
  )
  const stored = await serverTask('post', actor)
  console.log(`       storing what was composed: ${stored.entries} entries in ${seconds(stored.elapsed)}`)
}

/** Classes, and a code for each and for each region that is told apart. */
const taxedClient = async (name: string): Promise<Actor> => {
  const actor = await routedClient(name)
  await saveRoutes(database, actor, { changed: [madeRoute('refund', { account: '4000' })], removed: [] })
  await saveTaxRows(database, actor, {
    rows: [
      { code: 'S23' },
      { class: 'books', code: null },
      { region: 'CA-QC', code: null },
      { region: 'DE', class: 'books', code: 'S23' },
    ].map(row => taxRowBody.parse(row)),
    classes: [
      { sku: null, category: 'Books', class: 'books' },
      { sku: null, category: 'Tableware', class: 'goods' },
      { sku: null, category: 'Glaze kits', class: 'goods' },
      { sku: null, category: 'Classes', class: 'courses' },
    ],
    byRows: true,
  })
  return actor
}

/** A million lines taxed by rows: as each line says, and with postage that follows the goods of its order. */
const measureBaskets = async (): Promise<void> => {
  const file = await writeActivity(join(folder, 'baskets-'), 2000, 160, { baskets: true })
  const actor = await taxedClient('Taxed by rows')
  await bring(actor, file)
  console.log(`${file.rows} lines taxed by rows, 1 order in 12 of two categories, 1 in 33 paid back in part`)
  for (const [follows, bar] of [
    [false, 2],
    [true, 3],
  ] as const) {
    await asClient(database, actor, tx =>
      tx.execute(sql`UPDATE source SET options = options || ${JSON.stringify({ ancillaryFollows: follows })}::jsonb
        WHERE client_id = current_client()`),
    )
    const { result: grouped } = await task('composeBase', actor)
    const composed = await serverTask('compose', actor)
    say(
      `composing by tax rows${follows ? ', postage following the goods' : ''}`,
      `${composed.entries} drafts in ${seconds(composed.elapsed)}, ${(composed.elapsed / grouped.grouping).toFixed(2)} × the GROUP BY of ${seconds(grouped.grouping)} (bar ${bar})`,
      composed.elapsed / grouped.grouping <= bar && composed.entries > 0,
    )
  }
}

/** Posting and page data, with another client as big beside. */
const measureBooks = async (): Promise<void> => {
  const settlements = Number(process.env.BENCH_SETTLEMENTS ?? 50_000)
  const file = await writeActivity(join(folder, 'books-'), settlements, 6)
  console.log(`${file.rows} lines and ${2 * settlements} entries, and another client as big beside it`)
  const beside = await makeClient(database, 'As big beside it')
  await bring(beside, file)
  await serverTask('post', beside)
  const actor = await makeClient(database, 'Measured')
  await bring(actor, file)
  const keys = await settlementKeys(database, actor)
  for (const [each, from, to] of [
    [1, 0, 400],
    [10, 400, 2000],
  ] as const) {
    const { elapsed } = await serverTask('posters', { ...actor, keys: keys.slice(from, to), each })
    const rate = (2 * (to - from)) / (elapsed / 1000)
    say(`8 posters on one client, ${each} at a time`, `${rate.toFixed(0)} entries/s (bar 150)`, rate >= 150)
  }
  const { entries, elapsed } = await serverTask('post', actor)
  const per10000 = (elapsed / entries) * 10_000
  say(
    'posting the rest in one act',
    `${entries} entries in ${seconds(elapsed)}, 10,000 in ${seconds(per10000)} (bar 10 s)`,
    per10000 <= 10_000,
  )
  // As the database is once its own upkeep, which a hundred thousand entries set off, is done: it takes both cores for a minute.
  await task('upkeep', {})
  for (const page of await serverTask('pages', actor))
    say(
      `page data, ${page.name}`,
      `p95 ${page.p95.toFixed(0)} ms, p50 ${page.p50.toFixed(0)} ms at 20 requests a second (bar 100)`,
      page.p95 < 100 && page.failed === 0,
    )
}

/** Ten thousand payouts against their deposits over four years, in half the time, and over ten times the years. */
const measurePairing = async (): Promise<void> => {
  const seed = Number(process.env.BENCH_SEED ?? 20_260_301)
  const run = async (payouts: number, years: number) =>
    (await task('pairing', { payouts, days: Math.round(365.25 * years), seed })).result
  const told = (one: Awaited<ReturnType<typeof run>>): string =>
    `${one.transfers} payouts, ${one.bankLines} bank lines in ${(one.elapsed / 1000).toFixed(2)} s; certain ${one.certainRight} right, ${one.certainWrong} wrong; likely ${one.likelyRight} right, ${one.likelyWrong} wrong; possible ${one.possibleRight} right, ${one.possibleWrong} wrong; ${one.missed} missed, ${one.notSearched} items not searched, ${one.tooManyFit} too many fit`
  const four = await run(10_000, 4)
  const share = four.certainRight / four.groups
  say(
    'pairing over 4 years',
    `${told(four)}; ${(100 * share).toFixed(1)} % certain (bars: 1 s, 85 %, none wrong)`,
    four.elapsed < 1000 && share >= 0.85 && four.certainWrong === 0,
  )
  const dense = await run(10_000, 2)
  say('pairing in 2 years', `${told(dense)} (bars: 2 s, none wrong)`, dense.elapsed < 2000 && dense.certainWrong === 0)
  const long = await run(100_000, 40)
  say(
    'pairing over ten times the years',
    `${told(long)}; ${(long.elapsed / four.elapsed).toFixed(1)} × the time (bar 12)`,
    long.elapsed / four.elapsed <= 12 && long.certainWrong === 0,
  )
}

/** What is certain of 200,000 payouts as unkind as they come, and how long crowds of equal amounts take. */
const measureHarshPairing = async (): Promise<void> => {
  const payouts = Number(process.env.BENCH_PAYOUTS ?? 200_000)
  const seed = Number(process.env.BENCH_SEED ?? 20_260_301)
  const share = (part: number, whole: number): string => `${((100 * part) / Math.max(1, whole)).toFixed(1)} %`
  for (const referenced of [0, 0.6, 1]) {
    const { result } = await task('harsh', { payouts: Math.ceil(payouts / 3), referenced, seed })
    say(
      `harsh deposits, references on ${100 * referenced} %`,
      `${result.payouts} payouts: certain ${result.certain}, ${share(result.certain, result.groups)} of the true pairs, ${result.certainWrong} wrong, ${result.farNettedWrong} more where a bank kept more than the limit; likely ${result.likely}, ${share(result.likelyWrong, result.likely)} wrong; possible ${result.possible}, ${share(result.possibleWrong, result.possible)} wrong (bar: none certain wrong)`,
      result.certainWrong === 0 && result.certain > 0,
    )
  }
  for (const [each, amounts, bar] of [
    [100, 1, 1000],
    [1000, 5, 5000],
  ] as const) {
    const { result } = await task('equalAmounts', { each, amounts })
    say(
      `pairing ${each} × ${each} of ${amounts === 1 ? 'equal amounts' : `${amounts} amounts`} in a week`,
      `${(result / 1000).toFixed(2)} s (bar ${bar / 1000} s)`,
      result < bar,
    )
  }
}

/** Every pair of writers against each other from two processes, and every invariant counted afterwards. */
const measureRaces = async (): Promise<void> => {
  const rounds = Number(process.env.BENCH_ROUNDS ?? 40)
  const { actor, weeks } = await makeRacedClient(database, 'Raced')
  const log = () => (process.env.POSTGRES_LOG ? readFileSync(process.env.POSTGRES_LOG, 'utf8') : '')
  const deadlocksOf = (text: string): number => text.match(/deadlock detected/g)?.length ?? 0
  const before = deadlocksOf(log())
  const pairs = racedPairs()
  const broken: string[] = []
  let writes = 0
  const start = performance.now()
  // Some pairs at a time, so that the two sides stay beside each other.
  for (let at = 0; at < pairs.length; at += 10) {
    const some = pairs.slice(at, at + 10)
    const sides = await Promise.all(
      ([0, 1] as const).map(side => task('races', { place: { actor, weeks }, pairs: some, side, rounds })),
    )
    for (const { result } of sides) {
      writes += result.writes
      broken.push(...result.faults)
    }
    broken.push(...(await brokenInvariants(database, actor)))
  }
  for (const one of broken.slice(0, 10)) console.log(`       ${one}`)
  const deadlocks = deadlocksOf(log()) - before
  say(
    `races of ${pairs.length} pairs of writers, ${rounds} rounds each, two processes`,
    `${writes} writes in ${seconds(performance.now() - start)}, ${broken.length} faults, ${deadlocks} deadlocks (bar: none)`,
    broken.length === 0 && deadlocks === 0,
  )
}

/** Twenty sellers of half a million lines and 18,000 rates each on one database: what one of them notices of it. */
const measureSellers = async (): Promise<void> => {
  const sellers = Number(process.env.BENCH_SELLERS ?? 20)
  const size = { orders: Number(process.env.BENCH_ORDERS ?? 98_000), days: 700, rates: 18_000 }
  const actors: Actor[] = []
  for (let at = 1; at <= sellers; at++) actors.push(await serverTask('seller', { name: `Seller ${at}`, folder, size }))
  const empty = await serverTask('seller', { name: 'A new client', folder, size: { ...size, orders: 0 } })
  const actor = actors[Math.floor(sellers / 2)] as Actor
  await task('upkeep', {})
  const beside = `among ${sellers} clients of ${size.orders} orders`
  for (const [of, bar] of [
    ['pages', 100],
    ['proofs', 300],
  ] as const)
    for (const page of await serverTask('sellerFigures', { actor, of, times: 20 }))
      say(
        `${page.name}, ${beside}`,
        `p95 ${page.p95.toFixed(0)} ms, p50 ${page.p50.toFixed(0)} ms (bar ${bar})`,
        page.p95 < bar && page.failed === 0,
      )
  const posts = await serverTask('singlePosts', { ...actor, count: 19 })
  const p95 = posts[Math.floor(posts.length * 0.95)] ?? Number.POSITIVE_INFINITY
  say(`a post, ${beside}`, `p95 ${p95.toFixed(0)} ms of ${posts.length} (bar 100)`, p95 < 100)
  const takes = await serverTask('smallTakes', { actor, empty, folder, days: size.days })
  say(
    `500 lines more, ${beside}`,
    `${takes.full.toFixed(0)} ms, ${(takes.full / takes.empty).toFixed(2)} × the ${takes.empty.toFixed(0)} ms of an empty client (bar 1.5), the longest ${takes.longest.toFixed(0)} ms`,
    takes.full <= 1.5 * takes.empty && takes.longest <= 4 * takes.empty,
  )
}

const measureReaders = async (): Promise<void> => {
  const files = Number(process.env.BENCH_FILES ?? 100_000)
  const seed = Number(process.env.BENCH_SEED ?? 20_260_301)
  const { result, peak } = await task('mutatedFiles', { files, seed })
  for (const broken of result.broken) console.log(`       ${broken}`)
  say(
    'readers',
    `${files} mutated files for each reader, seed ${seed}: ${result.taken} taken, ${result.refused} refused, the longest ${result.longest.toFixed(0)} ms, ${(peak / 1e6).toFixed(0)} MB`,
    result.broken.length === 0 && result.taken > 0 && result.refused > 0 && result.longest < 1000,
  )
  const endless = await task('endlessRecord', { megabytes: 1000 })
  for (const { name, code, read } of endless.result)
    say(
      `a record of a gigabyte in ${name}`,
      `${code} after ${read} MB, ${(endless.peak / 1e6).toFixed(0)} MB of memory`,
      code === 'record_too_long' && endless.peak < 300e6,
    )
}

/** A statement of 400,000 entries is read as it comes; mutated workbooks end in rows or faults. */
const measureLarge = async (): Promise<void> => {
  const path = join(folder, 'large.camt.xml')
  const entries = 400_000
  const bytes = await writeCamt({ path, entries })
  const { result, peak } = await task('largeStatement', { path })
  const seconds10MB = result.elapsed / 1000 / (bytes / 10e6)
  say(
    'a camt of 400,000 entries',
    `${(bytes / 1e6).toFixed(0)} MB, ${result.lines} lines, ${result.faults} faults, ${seconds10MB.toFixed(2)} s each 10 MB (bar 2), ${(peak / 1e6).toFixed(0)} MB of memory (bar 512)`,
    result.lines === entries && result.faults === 0 && seconds10MB < 2 && peak < 512e6,
  )
}

const measureWorkbooks = async (): Promise<void> => {
  const files = Number(process.env.BENCH_WORKBOOKS ?? 5000)
  const seed = Number(process.env.BENCH_SEED ?? 20_260_301)
  const { result, peak } = await task('mutatedWorkbooks', { files, seed })
  for (const broken of result.broken) console.log(`       ${broken}`)
  say(
    'workbooks',
    `${files} mutated, seed ${seed}: ${result.taken} taken, ${result.refused} refused, the longest ${result.longest.toFixed(0)} ms, ${(peak / 1e6).toFixed(0)} MB beside their processes`,
    result.broken.length === 0 && result.taken > 0 && result.refused > 0 && result.longest < 25_000,
  )
}

const parts: Readonly<Record<string, () => Promise<void>>> = {
  heart: measureHeart,
  baskets: measureBaskets,
  books: measureBooks,
  pairing: measurePairing,
  harsh: measureHarshPairing,
  races: measureRaces,
  readers: measureReaders,
  large: measureLarge,
  workbooks: measureWorkbooks,
  sellers: measureSellers,
}

try {
  const wanted = process.argv.slice(2)
  for (const name of wanted.length > 0 ? wanted : Object.keys(parts)) await parts[name]?.()
  if (highest.bytes > 0)
    say(
      'memory of the server',
      `${(highest.bytes / 1e6).toFixed(0)} MB at most, in ${highest.task} (bar 512)`,
      highest.bytes < 512e6,
    )
  console.log(`${verdicts.filter(Boolean).length} met, ${verdicts.filter(met => !met).length} missed`)
  process.exitCode = verdicts.length > 0 && verdicts.every(Boolean) ? 0 : 1
} finally {
  await database.$client.end()
  rmSync(folder, { recursive: true })
}
