import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Kind } from '../activity/kinds.ts'
import { fewerRows } from './fewerRows.ts'
import { checkTaxRows, type TaxRow, taxBook } from './taxRow.ts'

const maybe = <Value>(...values: readonly Value[]) => fc.constantFrom(null, null, ...values)
const rowsOfAllSorts = fc
  .array(
    fc.record({
      source: maybe('openhall'),
      kind: maybe<Kind>('sale', 'refund', 'shipping'),
      label: maybe('VAT'),
      region: maybe('DE', 'CA', 'CA-QC'),
      class: maybe('books'),
      from: maybe('2026-05-14'),
      code: fc.constantFrom(null, 'S23', 'DE19'),
    }),
    { maxLength: 14 },
  )
  .filter(rows => checkTaxRows(rows, new Set(['S23', 'DE19'])).length === 0)

describe('fewer rows that say the same', () => {
  it('are one where each kind said it', () => {
    const of = (region: string | null, code: string): TaxRow[] =>
      (['sale', 'refund', 'shipping'] as const).map(kind => ({ kind, region, code }))
    expect(fewerRows([...of(null, 'S23'), ...of('DE', 'DE19')])).toEqual([
      { kind: null, region: null, code: 'S23' },
      { kind: null, region: 'DE', code: 'DE19' },
    ])
  })

  it('stay several where a wider place says something else of one kind', () => {
    const rows: TaxRow[] = [
      { kind: 'sale', region: 'DE', code: 'DE19' },
      { kind: 'sale', code: 'S23' },
      { kind: 'shipping', code: 'S23' },
      { kind: 'tax', code: null },
    ]
    // Without a kind the German row would tax lines of tax as well.
    expect(
      taxBook(fewerRows(rows)).serve({
        kind: 'tax',
        region: 'DE',
        source: '',
        label: null,
        class: '',
        date: '2026-01-01',
      })?.code,
    ).toBe(null)
  })

  it('serve every supply of a kind that was named as before', () => {
    let fewer = 0
    fc.assert(
      fc.property(rowsOfAllSorts, rows => {
        const merged = fewerRows(rows)
        if (merged.length < rows.length) fewer++
        expect(checkTaxRows(merged, new Set(['S23', 'DE19']))).toEqual([])
        const [before, after] = [taxBook(rows), taxBook(merged)]
        for (const kind of new Set(rows.flatMap(row => row.kind ?? [])))
          for (const source of ['', 'openhall', 'fernstall'])
            for (const label of [null, 'VAT', 'GST'])
              for (const region of [null, 'DE', 'CA', 'CA-QC', 'CA-ON', 'US'])
                for (const name of ['', 'books', 'food'])
                  for (const date of ['2026-05-13', '2026-05-14'])
                    expect(after.serve({ kind, source, label, region, class: name, date })?.code).toBe(
                      before.serve({ kind, source, label, region, class: name, date })?.code,
                    )
      }),
      { numRuns: 200, seed: 20_260_331 },
    )
    expect(fewer).toBeGreaterThan(20)
  })
})
