import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { basename, join, resolve } from 'node:path'
import { parseArgs } from 'node:util'
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

/** Writes what was computed to a folder of the example's name; what comes to no file is not written. */
const writeComputed = (folder: string, out: string, written: Readonly<Record<string, string | null>>): void => {
  const place = join(out, basename(resolve(folder)))
  mkdirSync(place, { recursive: true })
  for (const [file, text] of Object.entries(written)) if (text !== null) writeFileSync(join(place, file), text)
}

const checkFolder = async (folder: string, out: string | undefined): Promise<string[]> => {
  const written = runExample(await readExample(folder))
  if (out !== undefined) writeComputed(folder, out, written)
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

const usage = `usage: culvert examples DIR [--write OUT]
  runs each worked example under DIR and compares what it computes with the expected files, byte for byte
  --write OUT   also writes what was computed to OUT/<folder name>/, under the names of the expected files`

/** What was asked for on the command line; null where it is not understood. */
const readOptions = (args: readonly string[]): { readonly under: string; readonly out: string | undefined } | null => {
  try {
    const { values, positionals } = parseArgs({
      args: [...args],
      options: { write: { type: 'string' } },
      allowPositionals: true,
    })
    const [under, ...more] = positionals
    const isFolder = under !== undefined && existsSync(under) && statSync(under).isDirectory()
    return isFolder && more.length === 0 ? { under, out: values.write } : null
  } catch {
    return null
  }
}

const main = async (args: readonly string[]): Promise<number> => {
  const options = readOptions(args)
  if (options === null) {
    console.error(usage)
    return 2
  }
  let failed = 0
  const found = folders(options.under)
  for (const folder of found) {
    const problems = await checkFolder(folder, options.out).catch((error: unknown) => [`  ${String(error)}`])
    if (problems.length > 0) failed++
    console.log(`${problems.length > 0 ? 'differs' : 'passed '} ${folder}`)
    for (const problem of problems) console.log(problem)
  }
  console.log(`${found.length - failed} passed, ${failed} failed`)
  return failed > 0 || found.length === 0 ? 1 : 0
}

process.exitCode = await main(process.argv.slice(2))
