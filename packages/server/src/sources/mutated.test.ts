import { Readable } from 'node:stream'
import { FaultList } from '@culvert/core'
import { afterAll, describe, expect, it } from 'vitest'
import { FileRefused } from '../access/fileRefused.ts'
import { csvOf, makeClient, makeWeeks, testDatabase, upload } from '../testing/madeClient.ts'
import { mutatorOf } from '../testing/mutations.ts'
import { readersUnderTest, readFile } from '../testing/readers.ts'

const database = testDatabase(4)
afterAll(() => database.$client.end())

const seed = 20_260_301
const mutator = mutatorOf(seed)

describe.each(readersUnderTest)(`the reader of $name (seed ${seed})`, reader => {
  it('takes its seed in whole, 50 rows or more', async () => {
    const { rows, faults } = await readFile(reader, reader.seed)
    expect(faults.shown).toEqual([])
    expect(rows).toBeGreaterThanOrEqual(50)
  })
  it('gives rows or faults for each of 2,000 mutated files', async () => {
    let [taken, refused] = [0, 0]
    for (let count = 0; count < 2000; count++) {
      const file = mutator.mutate(reader.seed)
      const { rows, faults } = await readFile(reader, file)
      if (faults.count > 0) refused++
      else {
        taken++
        expect(rows, `file ${count}, ${file.length} bytes, is neither rows nor faults`).toBeGreaterThan(0)
      }
    }
    expect(Math.min(taken, refused), `${taken} taken, ${refused} refused`).toBeGreaterThan(100)
  })
})

describe('a record without an end', () => {
  const endless = (start: string, sent: { bytes: number }): Readable => {
    const filler = Buffer.alloc(65_536, 'a')
    return Readable.from(
      (function* () {
        yield Buffer.from(start)
        for (; sent.bytes < 64_000_000; sent.bytes += filler.length) yield filler
      })(),
    )
  }
  it.each([
    ['activity.csv', 'line_id,occurred_at,kind,currency,amount\n"'],
    ['a bank statement in CSV', 'line_id,date,bank_account,amount,currency\n"'],
    ['camt.053', '<Document><BkToCstmrStmt><Stmt><Id>'],
    ['camt.053', '<Document attribute="'],
  ])('in %s is a fault after a megabyte, not read to its end', async (name, start) => {
    const reader = readersUnderTest.find(one => one.name === name)
    const faults = new FaultList()
    const sent = { bytes: 0 }
    await reader?.read(endless(start, sent), faults)
    expect(faults.shown[0]?.code).toBe('record_too_long')
    expect(sent.bytes / 1e6, 'MB read').toBeLessThan(6)
  })
})

it('names row and column of bytes that are no UTF-8, wherever a chunk ends', async () => {
  const reader = readersUnderTest[0]
  const text = Buffer.from(
    'line_id,occurred_at,kind,currency,amount,description\nA,2026-03-05T10:00:00Z,sale,EUR,1.00,Büchér €\nB,2026-03-05T10:00:00Z,sale,EUR,1.00,B',
  )
  const inPieces = async (bytes: Buffer, size: number) => {
    const faults = new FaultList()
    const pieces = Array.from({ length: Math.ceil(bytes.length / size) }, (_, index) =>
      bytes.subarray(index * size, (index + 1) * size),
    )
    const rows = await reader?.read(Readable.from(pieces), faults)
    return { rows: rows?.length, faults: faults.shown.map(({ row, column, code }) => [row, column, code]) }
  }
  for (const size of [1, 2, 3, 7, 64, 1000]) {
    expect(await inPieces(text, size)).toEqual({ rows: 2, faults: [] })
    expect((await inPieces(Buffer.concat([text, Buffer.from([0xfc])]), size)).faults).toEqual([
      [3, 'description', 'not_utf8'],
    ])
  }
})

it(`takes in or refuses 400 mutated files, and never anything else (seed ${seed})`, async () => {
  const actor = await makeClient(database, 'Mutated files')
  const text = csvOf(makeWeeks(1, 18).lines)
  let [taken, refused] = [0, 0]
  for (let count = 0; count < 400; count++) {
    const outcome = await upload(database, actor, mutator.mutate(Buffer.from(text))).catch((error: unknown) => error)
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
