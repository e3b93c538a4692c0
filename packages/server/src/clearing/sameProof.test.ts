import { existsSync, readdirSync } from 'node:fs'
import { basename, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import {
  addDays,
  type DocumentRef,
  defaultTiming,
  type Proof,
  proofOfBooked,
  proveClearing,
  type Setup,
  zoneOf,
} from '@culvert/core'
import { madeMonths, madeOptions, madeRoute, madeRoutes, madeSetup, seed } from '@culvert/core/testing'
import fc from 'fast-check'
import { afterAll, describe, expect, it } from 'vitest'
import { clearingAccounts } from '../activity/clearingAccounts.ts'
import { type Actor, asClient } from '../database/connect.ts'
import { readExample } from '../examples/readExample.ts'
import { postSettlements } from '../settlements/postSettlements.ts'
import { settlementKeys, testDatabase } from '../testing/madeClient.ts'
import { bookedAsStored, type MadeMonth, storeLines, storeSetup } from '../testing/storedMonth.ts'
import { loadProofInput } from './loadProof.ts'

const database = testDatabase(8)
afterAll(() => database.$client.end())

const keyOf = (ref: DocumentRef | null): string => JSON.stringify(ref)

/** What a proof says, whoever made its input: which documents explain what. What waits is blocked in the core and may be proposed here. */
const told = (proof: Proof) => {
  const documents = new Map<string, number>()
  for (const { cause, documents: rows } of proof.causes)
    for (const { ref, amount } of rows) {
      const place = `${cause === 'unposted' ? 'blocked' : cause} ${keyOf(ref)}`
      documents.set(place, (documents.get(place) ?? 0) + amount)
    }
  const wrong = new Map<string, number>()
  for (const { ref, amount } of proof.wrongEntries) wrong.set(keyOf(ref), (wrong.get(keyOf(ref)) ?? 0) + amount)
  return {
    ledger: proof.ledger,
    unexplained: proof.unexplained,
    outcome: proof.outcome,
    documents: [...documents].sort(),
    wrong: [...wrong].filter(([, amount]) => amount !== 0).sort(),
  }
}

const compare = async (actor: Actor, made: MadeMonth, dates: readonly string[]): Promise<number> => {
  const setup = { ...made.setup, timing: defaultTiming }
  const month = await bookedAsStored(database, actor, { ...made, setup, zone: zoneOf(made.timeZone) })
  let causes = 0
  await asClient(database, actor, async tx => {
    for (const clearing of await clearingAccounts(tx))
      for (const date of dates) {
        const at = { account: clearing.account, date, reported: 0 }
        const stored = proveClearing(await loadProofInput(tx, clearing, at))
        const pure = proveClearing(proofOfBooked(at, month))
        expect(told(stored), `${clearing.account} at ${date}`).toEqual(told(pure))
        const brief = proveClearing(await loadProofInput(tx, clearing, { ...at, brief: true }))
        expect(brief.unexplained).toBe(stored.unexplained)
        causes += stored.causes.length - 1
      }
  })
  return causes
}

const sharing = (setup: Setup): Setup => ({
  ...setup,
  sources: new Map(
    [...setup.sources].map(([key, source]) => [
      key,
      { ...source, clearing: Object.fromEntries(Object.keys(source.clearing).map(one => [one, `12-openhall-${one}`])) },
    ]),
  ),
})

describe(`the input of a proof from the database is that of the core (seed ${seed})`, () => {
  it('on generated months, of any options, shared accounts and routes that send money astray, whatever is posted', async () => {
    let causes = 0
    let round = 0
    const astray = [
      madeRoute('processing_fee', '12-openhall-EUR', null, { source: 'counterpay' }),
      madeRoute('tender', '12-counterpay-EUR', null, { gateway: 'cash', source: 'stall' }),
    ]
    await fc.assert(
      fc.asyncProperty(
        madeMonths({ minLength: 20, maxLength: 60 }),
        madeOptions,
        fc.record({
          payoutsLeaveBalance: fc.constantFrom<'sent' | 'arrived'>('sent', 'arrived'),
          reservesStayOnBalance: fc.boolean(),
          bookPending: fc.boolean(),
        }),
        fc.constantFrom('plain', 'shared', 'astray'),
        fc.nat({ max: 2 }),
        async (lines, options, others, shape, some) => {
          const setup = madeSetup({
            options: { ...options, ...others },
            routes: shape === 'astray' ? [...madeRoutes, ...astray] : madeRoutes,
          })
          const made: MadeMonth = {
            setup: shape === 'shared' ? sharing(setup) : setup,
            lines,
            heads: new Map(),
            timeZone: 'Europe/Dublin',
            cutOff: '04:30',
          }
          const actor = await storeSetup(database, `Generated ${++round}`, made)
          await storeLines(database, actor, made)
          const keys = await settlementKeys(database, actor)
          await postSettlements(
            database,
            actor,
            keys.filter((_, place) => place % 3 >= some),
          )
          const dates = [20, 31, 47, 80].map(days => addDays('2026-02-08', days))
          causes += await compare(actor, made, dates)
        },
      ),
      { numRuns: Number(process.env.CULVERT_RUNS ?? 5), seed, endOnFailure: true },
    )
    expect(causes).toBeGreaterThan(60)
  }, 120_000)

  const folders = ['../../../../examples', '../../../../../shared/cases']
    .map(path => fileURLToPath(new URL(path, import.meta.url)))
    .filter(existsSync)
    .flatMap(folder =>
      readdirSync(folder, { withFileTypes: true }).flatMap(one =>
        // Amounts that no sum can be made of are refused in both, before there is a proof.
        one.isDirectory() && one.name !== 'too-large-to-book' ? [join(folder, one.name)] : [],
      ),
    )
  it.each(folders.map(folder => [basename(folder), folder]))('on %s', async (_, folder) => {
    const { example, lines, heads } = await readExample(folder)
    const made: MadeMonth = {
      setup: example.setup,
      lines,
      heads,
      timeZone: example.timeZone,
      cutOff: `${String(Math.floor(example.cutOff / 60)).padStart(2, '0')}:${String(example.cutOff % 60).padStart(2, '0')}`,
    }
    const actor = await storeSetup(database, `Example ${basename(folder)}`, made)
    await storeLines(database, actor, made)
    await postSettlements(database, actor, await settlementKeys(database, actor))
    const days = lines.map(line => example.zone.localDate(line.instant)).sort()
    const [first, last] = [days[0], days.at(-1)]
    if (first === undefined || last === undefined) return
    await compare(actor, made, [first, addDays(first, 2), last, addDays(last, 7)])
  })
})
