import { describe, expect, it } from 'vitest'
import { taxCodes } from '../testing/madeSetup.ts'
import { proposeCode } from './proposeCode.ts'
import type { TaxCode } from './taxCode.ts'
import { isForeign, type SeenSupply, setCell, taxGrid } from './taxGrid.ts'
import type { TaxRow } from './taxRow.ts'

const seen = (region: string | null, amount: number, more: Partial<SeenSupply> = {}): SeenSupply => ({
  source: 'openhall',
  kind: 'sale',
  label: null,
  region,
  class: '',
  since: null,
  amount,
  stating: 0,
  stated: 0,
  lines: 1,
  ...more,
})
const rows: readonly TaxRow[] = [
  { region: 'DE', code: 'DE19' },
  { region: 'DE', class: 'books', code: 'DE7' },
  { region: 'DE', label: 'Levy', code: null },
  { region: 'IE', from: '2026-05-14', code: 'S9' },
  { region: 'IE', code: 'S13' },
]
const at = { since: null, classes: ['books'] }

describe('the tax grid', () => {
  it('has the heaviest region first, its narrower lines below it, and any region last', () => {
    const grid = taxGrid(
      rows,
      [seen('IE', 100), seen('DE', 300), seen('DE', 50, { label: 'Levy' }), seen(null, 9000)],
      at,
    )
    expect(grid.classes).toEqual(['', 'books'])
    expect(grid.lines.map(line => [line.region, line.label, line.amount])).toEqual([
      ['DE', null, 300],
      ['DE', 'Levy', 50],
      ['IE', null, 100],
      ['-', null, 9000],
    ])
  })

  it('puts money where its row stands, and says what has none', () => {
    const grid = taxGrid(
      rows,
      [seen('DE', 300, { class: 'books' }), seen('FR', 70, { class: 'books' }), seen('FR', 30)],
      at,
    )
    const cells = new Map(grid.lines.filter(line => !line.label).map(line => [line.region, line.cells]))
    expect(cells.get('DE')?.[1]).toMatchObject({ amount: 300, open: 0, own: { code: 'DE7' }, serving: { code: 'DE7' } })
    expect(cells.get('FR')?.map(cell => [cell.open, cell.serving])).toEqual([
      [30, null],
      [70, null],
    ])
  })

  it('is of one period, and tells the rate that was charged in it', () => {
    const supplies = [
      seen('IE', 10_900, { since: '2026-05-14', stating: 10_900, stated: 900 }),
      seen('IE', 11_350, { stating: 11_350, stated: 1350 }),
    ]
    const before = taxGrid(rows, supplies, at).lines.find(line => line.region === 'IE')?.cells[0]
    expect(before).toMatchObject({ amount: 11_350, seenPercent: 13.5, serving: { code: 'S13' } })
    const after = taxGrid(rows, supplies, { ...at, since: '2026-05-14' }).lines.find(line => line.region === 'IE')
      ?.cells[0]
    expect(after).toMatchObject({ amount: 10_900, seenPercent: 9, own: { code: 'S9' }, serving: { code: 'S9' } })
  })

  it('takes a cell, keeps the row that is there, and gives it back to what is wider', () => {
    const place = { region: 'DE', label: null, kind: null, source: null, class: 'books', since: null }
    const changed = setCell([{ id: 7, region: 'DE', class: 'books', code: 'DE7' }] as TaxRow[], place, { code: 'DE19' })
    expect(changed).toEqual([
      { id: 7, region: 'DE', label: null, kind: null, source: null, class: 'books', from: null, code: 'DE19' },
    ])
    expect(setCell(changed, place, undefined)).toEqual([])
    expect(setCell([] as TaxRow[], { ...place, class: '', since: '2026-05-14' }, { code: null })).toMatchObject([
      { region: 'DE', class: null, from: '2026-05-14', code: null },
    ])
  })

  it('knows a code of another country', () => {
    expect(isForeign({ country: 'IE' }, 'DE')).toBe(true)
    expect(isForeign({ country: 'CA' }, 'CA-QC')).toBe(false)
    expect(isForeign({ country: null }, 'DE')).toBe(false)
    expect(isForeign(undefined, 'DE')).toBe(false)
  })
})

describe('what is proposed for a cell', () => {
  const vat = taxCodes.get('IN') as TaxCode
  const code = (name: string, country: string, percent: string): TaxCode => ({
    ...vat,
    code: name,
    country,
    components: vat.components.map(one => ({ ...one, rates: [{ from: '2020-01-01', percent }] })),
  })
  const codes = [
    code('S23', 'IE', '23'),
    code('S13', 'IE', '13.5'),
    code('DE19', 'DE', '19'),
    code('DE7', 'DE', '7'),
    code('FR20', 'FR', '20'),
  ]
  const place = (region: string | null) => ({ region, label: null, kind: null, source: null })
  const of = { codes, home: 'IE', date: '2026-03-01' }

  it.each([
    ['FR', '', null, { code: 'FR20', why: 'only_one' }],
    ['DE', 'books', 7.02, { code: 'DE7', why: 'rate_seen' }],
    ['DE', 'books', null, null],
    ['DE', '', null, { code: 'DE19', why: 'standard' }],
    [null, '', 13.4, { code: 'S13', why: 'rate_seen' }],
    ['FR', '', 5.5, null],
    ['PL', '', null, null],
  ] as const)('to %s, class “%s”, seen %s: %o', (region, name, seenPercent, proposed) => {
    expect(proposeCode(place(region), { class: name, seenPercent }, of)).toEqual(proposed)
  })
})
