import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterAll, describe, expect, it } from 'vitest'
import { readExample } from './readExample.ts'

const examples = fileURLToPath(new URL('../../../../examples', import.meta.url))
const folder = mkdtempSync(join(tmpdir(), 'culvert-example-'))
afterAll(() => rmSync(folder, { recursive: true }))

describe('a worked example', () => {
  it('is refused where a line stands twice, as an upload would', async () => {
    cpSync(join(examples, 'every-reason-is-listed'), folder, { recursive: true })
    expect((await readExample(folder)).lines).toHaveLength(10)
    const file = join(folder, 'openhall.activity.csv')
    const rows = readFileSync(file, 'utf8').trimEnd().split('\n')
    writeFileSync(file, `${[...rows, rows.at(-1)].join('\n')}\n`)
    await expect(readExample(folder)).rejects.toThrow('“F-3”, expected each id once in a file')
  })
})
