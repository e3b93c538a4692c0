import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { readExample } from './readExample.ts'
import { runExample } from './runExample.ts'

/** Lines that stand in one text only, at most a few of each. */
const difference = (expected: string | null, written: string | null): string[] => {
  const lines = (text: string | null) => (text === null ? ['(no file)'] : text.split('\n'))
  const wanted = lines(expected)
  const got = lines(written)
  return [
    ...wanted
      .filter(line => !got.includes(line))
      .slice(0, 8)
      .map(line => `    − ${line}`),
    ...got
      .filter(line => !wanted.includes(line))
      .slice(0, 8)
      .map(line => `    + ${line}`),
  ]
}

const checkFolder = async (folder: string): Promise<string[]> => {
  const written = runExample(await readExample(folder))
  return Object.entries(written).flatMap(([file, text]) => {
    const path = join(folder, file)
    const expected = existsSync(path) ? readFileSync(path, 'utf8') : null
    return expected === text ? [] : [`  ${file}`, ...difference(expected, text)]
  })
}

const folders = (under: string): string[] =>
  existsSync(join(under, 'setup.json'))
    ? [under]
    : readdirSync(under)
        .map(name => join(under, name))
        .filter(path => existsSync(join(path, 'setup.json')))
        .sort()

const main = async (under: string | undefined): Promise<number> => {
  if (under === undefined || !existsSync(under) || !statSync(under).isDirectory()) {
    console.error('usage: culvert examples DIR, a folder of worked examples')
    return 2
  }
  let failed = 0
  const found = folders(under)
  for (const folder of found) {
    const problems = await checkFolder(folder).catch((error: unknown) => [`  ${String(error)}`])
    if (problems.length > 0) failed++
    console.log(`${problems.length > 0 ? 'differs' : 'passed '} ${folder}`)
    for (const problem of problems) console.log(problem)
  }
  console.log(`${found.length - failed} passed, ${failed} failed`)
  return failed > 0 || found.length === 0 ? 1 : 0
}

process.exitCode = await main(process.argv[2])
