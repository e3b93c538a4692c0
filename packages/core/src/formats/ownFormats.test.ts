import { describe, expect, it } from 'vitest'
import { activityColumns, readActivityRow } from './activityRow.ts'
import { balanceColumns, readBalanceRow } from './balanceRow.ts'
import { bankColumns, readBankRow } from './bankRow.ts'
import { type Columns, readColumns } from './columns.ts'
import { FaultList } from './fault.ts'
import type { RowContext } from './fields.ts'
import { type OwnFormat, ownFormats, sampleCsv, tableSchema } from './ownFormats.ts'
import { readSettlementRow, settlementColumns } from './settlementRow.ts'

interface Reader<Name extends string> {
  readonly columns: { readonly known: readonly Name[]; readonly required: readonly Name[] }
  readonly read: (record: readonly string[], context: RowContext<Name> & { source: string }) => unknown
}
const readSample = <Name extends string>(format: OwnFormat, { columns, read }: Reader<Name>) => {
  const names = Object.keys(format.columns)
  const faults = new FaultList()
  const known: Columns<Name> = readColumns(names, columns, faults)
  const rows = format.sample.map((row, at) =>
    read(
      names.map(name => row[name] ?? ''),
      { columns: known, row: at + 2, faults, source: 'openhall' },
    ),
  )
  return { faults: faults.shown, rows }
}

const readers = {
  activity: { columns: activityColumns, read: readActivityRow },
  settlements: { columns: settlementColumns, read: readSettlementRow },
  balances: { columns: balanceColumns, read: readBalanceRow },
  bank: { columns: bankColumns, read: readBankRow },
} as const

describe.each(Object.keys(ownFormats) as (keyof typeof ownFormats)[])('%s', name => {
  const format = ownFormats[name]
  it('describes every column that its reader knows, and no other', () => {
    expect(Object.keys(format.columns)).toEqual([...readers[name].columns.known])
    expect(format.required).toEqual(readers[name].columns.required)
    const { fields } = tableSchema(format)
    expect(
      fields
        .filter(field => field.constraints.required)
        .map(field => field.name)
        .sort(),
    ).toEqual([...format.required].sort())
  })
  it('has a sample that its reader takes whole, and that its schema holds for', () => {
    const { faults, rows } = readSample(format, readers[name] as Reader<string>)
    expect(faults).toEqual([])
    expect(rows).toHaveLength(format.sample.length)
    expect(rows).not.toContain(null)
    expect(sampleCsv(format).split('\n')[0]).toBe(Object.keys(format.columns).join(','))
    for (const { name: column, constraints } of tableSchema(format).fields)
      for (const row of format.sample) {
        const value = row[column] ?? ''
        if (constraints.required) expect(value, column).not.toBe('')
        if (value === '') continue
        if (constraints.pattern) expect(value, column).toMatch(new RegExp(constraints.pattern))
        if (constraints.enum) expect(constraints.enum, column).toContain(value)
      }
  })
})
