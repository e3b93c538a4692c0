import { createReadStream, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import { type Actor, connect, type Database } from '../database/connect.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import type { SettlementKey } from '../settlements/settlementKey.ts'
import { uploadFile } from '../sources/uploadFile.ts'
import { csvOf, makeClient, makeWeeks, settlementKeys } from '../testing/madeClient.ts'
import { importBase } from './importBase.ts'
import { measurePages } from './pages.ts'

/** Lines per settlement and number of settlements: 200,000 lines and 10,000 entries a client, unless asked otherwise. */
const ordersEach = Number(process.env.BENCH_ORDERS ?? 13)
const settlements = Number(process.env.BENCH_SETTLEMENTS ?? 5000)

const url = process.env.APP_DATABASE_URL
if (!url || !process.env.DATABASE_URL) throw new Error('run ./culvert bench, which prepares a database')
const database = connect(url, 24)
const folder = mkdtempSync(join(tmpdir(), 'culvert-bench-'))
const verdicts: boolean[] = []

const timed = async <Result>(work: () => Promise<Result>): Promise<[number, Result]> => {
  const start = performance.now()
  const result = await work()
  return [performance.now() - start, result]
}
const say = (name: string, figures: string, met: boolean): void => {
  verdicts.push(met)
  console.log(`${met ? 'met   ' : 'MISSED'} ${name}: ${figures}`)
}
const upload = (actor: Actor, path: string, name: string) =>
  uploadFile(database, actor, { source: 'openhall', name, body: createReadStream(path) })

/** Resident memory, sampled while the work runs. */
let peak = 0
const sampling = setInterval(() => {
  peak = Math.max(peak, process.memoryUsage().rss)
}, 50)

const measureImport = async (actor: Actor, files: { lines: string; heads: string; rows: number }): Promise<void> => {
  await upload(actor, files.heads, 'settlements.csv')
  const [base] = await timed(() => importBase(process.env.DATABASE_URL as string, files.lines))
  const [first, outcome] = await timed(() => upload(actor, files.lines, 'activity.csv'))
  if (outcome.added !== files.rows) throw new Error(`${outcome.added} of ${files.rows} lines came in`)
  say(
    'import',
    `${files.rows} lines in ${(first / 1000).toFixed(1)} s, ${(first / base).toFixed(2)} × its base of ${(base / 1000).toFixed(1)} s (bar 2.5)`,
    first / base <= 2.5,
  )
  const [again] = await timed(() => upload(actor, files.lines, 'activity.csv'))
  say('the same file again', `${(again / first).toFixed(2)} × the first (bar 1)`, again <= first)
}

/** Eight posters who each take the next settlements until none is left. */
const measurePosters = async (actor: Actor, { keys, each }: { keys: SettlementKey[]; each: number }): Promise<void> => {
  const total = keys.length
  const [elapsed] = await timed(() =>
    Promise.all(
      Array.from({ length: 8 }, async () => {
        for (let mine = keys.splice(0, each); mine.length > 0; mine = keys.splice(0, each))
          await postSettlements(database, actor, mine)
      }),
    ),
  )
  const rate = (2 * total) / (elapsed / 1000)
  say(`8 posters on one client, ${each} at a time`, `${rate.toFixed(0)} entries/s (bar 100)`, rate >= 100)
}

const measurePosting = async (actor: Actor): Promise<void> => {
  const keys = await settlementKeys(database, actor)
  await measurePosters(actor, { keys: keys.slice(0, 200), each: 1 })
  await measurePosters(actor, { keys: keys.slice(200, 800), each: 10 })
  const [bulk, outcome] = await timed(() => postSettlements(database, actor, keys.slice(800)))
  say(
    'posting the rest in one act',
    `${outcome.entries} entries in ${(bulk / 1000).toFixed(1)} s, ${(outcome.entries / (bulk / 1000)).toFixed(0)} entries/s (bar 100)`,
    outcome.entries / (bulk / 1000) >= 100,
  )
}

const prepareClient = async (name: string): Promise<Actor> => makeClient(database, name)

const main = async (): Promise<void> => {
  const weeks = makeWeeks(settlements, ordersEach)
  const files = {
    lines: join(folder, 'activity.csv'),
    heads: join(folder, 'settlements.csv'),
    rows: weeks.lines.length,
  }
  writeFileSync(files.lines, csvOf(weeks.lines))
  writeFileSync(files.heads, csvOf(weeks.heads))
  weeks.lines.length = 0
  console.log(`${files.rows} lines in ${settlements} settlements, and another client as big beside it`)
  const beside = await prepareClient('As big beside it')
  await upload(beside, files.heads, 'settlements.csv')
  await upload(beside, files.lines, 'activity.csv')
  await postSettlements(database, beside, await settlementKeys(database, beside))
  const actor = await prepareClient('Measured')
  await measureImport(actor, files)
  await measurePosting(actor)
  for (const page of await measurePages(database as Database, actor))
    say(
      `page data, ${page.name}`,
      `p95 ${page.p95.toFixed(0)} ms, p50 ${page.p50.toFixed(0)} ms at 20 requests a second (bar 100)`,
      page.p95 < 100 && page.failed === 0,
    )
  clearInterval(sampling)
  console.log(`memory of this process, which is server and client in one: ${(peak / 1e6).toFixed(0)} MB at most`)
}

try {
  await main()
  console.log(`${verdicts.filter(Boolean).length} met, ${verdicts.filter(met => !met).length} missed`)
  process.exitCode = verdicts.every(Boolean) ? 0 : 1
} finally {
  clearInterval(sampling)
  await database.$client.end()
  rmSync(folder, { recursive: true })
}
