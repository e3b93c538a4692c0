import { Readable } from 'node:stream'
import { FaultList } from '@culvert/core'
import { mutatorOf } from '../testing/mutations.ts'
import { readersUnderTest, readFile } from '../testing/readers.ts'

export interface ReaderFigures {
  readonly taken: number
  readonly refused: number
  /** Files that gave neither rows nor faults, or an exception, as text. */
  readonly broken: readonly string[]
  readonly longest: number
}

/** Gives each reader its share of `files` mutated files. */
export const meetMutatedFiles = async ({ files, seed }: { files: number; seed: number }): Promise<ReaderFigures> => {
  const mutator = mutatorOf(seed)
  const broken: string[] = []
  let [taken, refused, longest] = [0, 0, 0]
  for (let count = 0; count < files; count++) {
    const reader = readersUnderTest[count % readersUnderTest.length]
    if (!reader) continue
    const start = performance.now()
    try {
      const { rows, faults } = await readFile(reader, mutator.mutate(reader.seed))
      if (faults.count > 0) refused++
      else if (rows > 0) taken++
      else broken.push(`${reader.name}, file ${count}: neither rows nor faults`)
    } catch (error) {
      broken.push(`${reader.name}, file ${count}: ${error}`)
    }
    longest = Math.max(longest, performance.now() - start)
  }
  return { taken, refused, broken: broken.slice(0, 10), longest }
}

/** Offers a record of `megabytes` without an end, quoted in CSV and between two tags in XML. Returns what each reader said. */
export const meetEndlessRecord = async ({ megabytes }: { megabytes: number }) => {
  const starts: readonly (readonly [string, string])[] = [
    ['activity.csv', 'line_id,occurred_at,kind,currency,amount\n"'],
    ['camt.053', '<Document><BkToCstmrStmt><Stmt><Id>'],
  ]
  const said: { name: string; code: string; read: number }[] = []
  for (const [name, start] of starts) {
    const reader = readersUnderTest.find(one => one.name === name)
    const block = Buffer.alloc(1_000_000, 'a')
    let read = 0
    const body = Readable.from(
      (function* () {
        yield Buffer.from(start)
        for (; read < megabytes; read++) yield block
      })(),
    )
    const faults = new FaultList()
    await reader?.read(body, faults)
    said.push({ name, code: faults.shown[0]?.code ?? 'none', read })
  }
  return said
}
