import type { FaultList } from './fault.ts'

/** Where each known column stands in a file, and which columns Culvert does not know. */
export interface Columns<Name extends string> {
  readonly indexes: Readonly<Partial<Record<Name, number>>>
  readonly unknown: readonly { readonly name: string; readonly index: number }[]
  readonly count: number
}

/** Reads a header. Columns may come in any order; missing required ones and doubled ones are faults of row 1. */
export const readColumns = <Name extends string>(
  header: readonly string[],
  expected: { readonly known: readonly Name[]; readonly required: readonly Name[] },
  faults: FaultList,
): Columns<Name> => {
  const indexes: Partial<Record<Name, number>> = {}
  const unknown: { name: string; index: number }[] = []
  const seen = new Set<string>()
  header.forEach((raw, index) => {
    const name = raw.trim()
    if (seen.has(name)) faults.add({ row: 1, column: name, value: name, code: 'column_twice' })
    seen.add(name)
    if ((expected.known as readonly string[]).includes(name)) indexes[name as Name] = index
    else unknown.push({ name, index })
  })
  for (const name of expected.required)
    if (indexes[name] === undefined) faults.add({ row: 1, column: name, value: '', code: 'missing_column' })
  return { indexes, unknown, count: header.length }
}

/** The separator that a header uses: the one most frequent outside quotes. */
export const separatorOf = (headerLine: string): ',' | ';' | '\t' => {
  const outside = headerLine.replace(/"[^"]*"/g, '')
  const counts = ([',', ';', '\t'] as const).map(mark => ({ mark, count: outside.split(mark).length }))
  return counts.reduce((most, one) => (one.count > most.count ? one : most)).mark
}
