import { createReadStream } from 'node:fs'
import { performance } from 'node:perf_hooks'
import { composeSettlement } from '@culvert/core'
import { sql } from 'drizzle-orm'
import pg from 'pg'
import type { SettlementKey } from '../activity/settlementKey.ts'
import { loadActivity } from '../composing/loadActivity.ts'
import { type Actor, asClient, connect, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { uploadFile } from '../sources/uploadFile.ts'
import { composeBase } from './composeBase.ts'
import { importBase } from './importBase.ts'
import { measurePages } from './pages.ts'
import { type HarshFigures, measureEqualAmounts, measureHarsh, measurePairing, type PairingFigures } from './pairing.ts'
import { type RacePlace, runSide } from './races.ts'
import { meetEndlessRecord, meetMutatedFiles, meetMutatedWorkbooks, readLarge } from './readers.ts'
import {
  makeSeller,
  measureSeller,
  measureSinglePosts,
  measureSmallTakes,
  type SellerFigures,
  type SellerSize,
} from './sellers.ts'

/** Work that is measured in a process of its own: with a heap of its own, and nobody else's memory in its figure. */
export interface Tasks {
  importBase: { args: { path: string }; result: { parsing: number; copying: number } }
  composeBase: { args: Actor; result: { grouping: number; groups: number } }
  upload: { args: Actor & { path: string; name: string }; result: { elapsed: number; added: number } }
  compose: { args: Actor; result: { elapsed: number; entries: number } }
  post: { args: Actor; result: { elapsed: number; entries: number } }
  posters: { args: Actor & { keys: SettlementKey[]; each: number }; result: { elapsed: number } }
  upkeep: { args: object; result: null }
  pages: { args: Actor; result: Awaited<ReturnType<typeof measurePages>> }
  pairing: { args: { payouts: number; days: number; seed: number }; result: PairingFigures }
  harsh: { args: { payouts: number; referenced: number; seed: number }; result: HarshFigures }
  equalAmounts: { args: { each: number; amounts: number }; result: number }
  races: {
    args: { place: RacePlace; pairs: (readonly [string, string])[]; side: 0 | 1; rounds: number }
    result: { writes: number; faults: string[] }
  }
  seller: { args: { name: string; folder: string; size: SellerSize }; result: Actor }
  sellerFigures: { args: { actor: Actor; of: 'pages' | 'proofs'; times: number }; result: SellerFigures[] }
  smallTakes: {
    args: { actor: Actor; empty: Actor; folder: string; days: number }
    result: { full: number; empty: number; longest: number }
  }
  singlePosts: { args: Actor & { count: number }; result: number[] }
  mutatedFiles: { args: { files: number; seed: number }; result: Awaited<ReturnType<typeof meetMutatedFiles>> }
  mutatedWorkbooks: { args: { files: number; seed: number }; result: Awaited<ReturnType<typeof meetMutatedWorkbooks>> }
  largeStatement: { args: { path: string }; result: Awaited<ReturnType<typeof readLarge>> }
  endlessRecord: { args: { megabytes: number }; result: Awaited<ReturnType<typeof meetEndlessRecord>> }
}
export type TaskName = keyof Tasks

const timed = async <Result>(work: () => Promise<Result>): Promise<[number, Result]> => {
  const start = performance.now()
  const result = await work()
  return [performance.now() - start, result]
}

const owner = (): string => process.env.DATABASE_URL as string

const keysOf = (database: Database, actor: Actor): Promise<SettlementKey[]> =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { source: is.text, key: is.text, currency: is.text },
      sql`SELECT source, key, currency FROM settlement ORDER BY key`,
    ),
  )

/** Composes every stored settlement to drafts, in the batches that posting takes and two at once, as composing anew does; nothing is stored. */
const composeAll = async (database: Database, actor: Actor): Promise<number> => {
  const waiting = await keysOf(database, actor)
  const lane = () =>
    asClient(database, actor, async tx => {
      const client = await loadSetup(tx)
      let entries = 0
      for (let keys = waiting.splice(0, 200); keys.length > 0; keys = waiting.splice(0, 200))
        for (const { activity } of await loadActivity(tx, client, { keys }))
          entries += composeSettlement(activity, client.setup).entries.length
      return entries
    })
  const [one, other] = await Promise.all([lane(), lane()])
  return one + other
}

const work: { [Name in TaskName]: (database: Database, args: Tasks[Name]['args']) => Promise<Tasks[Name]['result']> } =
  {
    importBase: (_, { path }) => importBase(owner(), path),
    composeBase: (_, actor) => composeBase(process.env.APP_DATABASE_URL as string, actor),
    upload: async (database, { path, name, ...actor }) => {
      const [elapsed, { added }] = await timed(() =>
        uploadFile(database, actor, { source: 'openhall', name, body: createReadStream(path) }),
      )
      return { elapsed, added }
    },
    compose: async (database, actor) => {
      const [elapsed, entries] = await timed(() => composeAll(database, actor))
      return { elapsed, entries }
    },
    post: async (database, actor) => {
      const keys = await keysOf(database, actor)
      const [elapsed, { entries }] = await timed(() => postSettlements(database, actor, keys))
      return { elapsed, entries }
    },
    posters: async (database, { keys, each, ...actor }) => {
      const waiting = [...keys]
      const [elapsed] = await timed(() =>
        Promise.all(
          Array.from({ length: 8 }, async () => {
            for (let mine = waiting.splice(0, each); mine.length > 0; mine = waiting.splice(0, each))
              await postSettlements(database, actor, mine)
          }),
        ),
      )
      return { elapsed }
    },
    upkeep: async () => {
      const admin = new pg.Client({ connectionString: owner() })
      await admin.connect()
      await admin.query('VACUUM ANALYZE')
      await admin.end()
      return null
    },
    pages: measurePages,
    pairing: async (_, args) => measurePairing(args),
    harsh: async (_, args) => measureHarsh(args),
    equalAmounts: async (_, args) => measureEqualAmounts(args),
    races: runSide,
    seller: makeSeller,
    sellerFigures: measureSeller,
    smallTakes: measureSmallTakes,
    singlePosts: (database, { count, ...actor }) => measureSinglePosts(database, actor, count),
    mutatedFiles: (_, args) => meetMutatedFiles(args),
    mutatedWorkbooks: (_, args) => meetMutatedWorkbooks(args),
    largeStatement: (_, args) => readLarge(args),
    endlessRecord: (_, args) => meetEndlessRecord(args),
  }

/** What a task came to, and the most memory that its process held, in bytes. */
export interface Done<Name extends TaskName> {
  readonly result: Tasks[Name]['result']
  readonly peak: number
}

const run = async <Name extends TaskName>(name: Name, args: Tasks[Name]['args']): Promise<Done<Name>> => {
  const database = connect(process.env.APP_DATABASE_URL as string, 16)
  try {
    // The system's own account of it: a timer that samples does not run while the work keeps the thread busy.
    return { result: await work[name](database, args), peak: process.resourceUsage().maxRSS * 1024 }
  } finally {
    await database.$client.end()
  }
}

if (process.send) {
  const [name, args] = process.argv.slice(2)
  const done = await run(name as TaskName, JSON.parse(args ?? '{}'))
  process.send(done, () => process.exit(0))
}
