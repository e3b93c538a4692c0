import { afterAll, expect, it } from 'vitest'
import { csvOf, makeClient, makeWeeks, testDatabase, upload } from '../testing/madeClient.ts'
import { FileRefused } from './fileRefused.ts'

const database = testDatabase(4)
afterAll(() => database.$client.end())

const seed = 20_260_301
let state = seed
const next = (below: number): number => {
  state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0
  return state % below
}

/** One of the ways in which files arrive broken. */
const mutate = (text: string): Buffer => {
  const bytes = Buffer.from(text)
  const at = next(bytes.length)
  const lines = text.split('\n')
  switch (next(7)) {
    case 0:
      bytes[at] = next(256)
      return bytes
    case 1:
      return bytes.subarray(0, at)
    case 2:
      return Buffer.concat([bytes.subarray(0, at), Buffer.from([0]), bytes.subarray(at)])
    case 3: {
      const row = 1 + next(lines.length - 2)
      lines[row] = (lines[row] ?? '').split(',').reverse().join(',')
      return Buffer.from(lines.join('\n'))
    }
    case 4:
      return Buffer.concat([bytes.subarray(0, at), Buffer.from('"'), bytes.subarray(at)])
    case 5:
      lines.splice(next(lines.length), 1)
      return Buffer.from(lines.join('\n'))
    default:
      return Buffer.from(text.replaceAll(',', next(2) ? ';' : '\t').replaceAll('\n', '\r\n'))
  }
}

it(`takes in or refuses 400 mutated files, and never anything else (seed ${seed})`, async () => {
  const actor = await makeClient(database, 'Mutated files')
  const text = csvOf(makeWeeks(1, 18).lines)
  let [taken, refused] = [0, 0]
  for (let count = 0; count < 400; count++) {
    const outcome = await upload(database, actor, mutate(text).toString('latin1')).catch((error: unknown) => error)
    if (outcome instanceof FileRefused) {
      refused++
      expect(outcome.faults.length, 'a refusal names its faults').toBeGreaterThan(0)
    } else {
      expect(outcome).not.toBeInstanceOf(Error)
      taken++
    }
  }
  expect(Math.min(taken, refused), `${taken} taken, ${refused} refused`).toBeGreaterThan(40)
}, 120_000)
