import { describe, expect, it, test } from 'vitest'
import { FaultList } from './fault.ts'
import { measuredHeads } from './heads/measuredHeads.ts'
import { checkRowChoice, proposeRowChoice, type RowsOf, rowChoiceReader, rowsOfHead } from './rowChoice.ts'

/** Heads of settlements and balances in six languages, with a row of each. */
const heads: readonly { of: RowsOf; header: string; row: string; right: readonly (string | null)[] }[] = [
  {
    of: 'settlements',
    header: 'Settlement no|From|To|Opening balance|Closing balance|Cur|Paid on|Payment reference|Orders',
    row: 'S-17|2026-03-02|2026-03-08|0.00|120.50|EUR|2026-03-10|TRF 991|14',
    right: [
      'settlement_id',
      'period_start',
      'period_end',
      'opening_balance',
      'closing_balance',
      'currency',
      'payout_date',
      'payout_reference',
      null,
    ],
  },
  {
    of: 'settlements',
    header: 'Abrechnung|Zeitraum von|Zeitraum bis|Anfangssaldo|Endsaldo|Ausgezahlt am',
    row: 'A17|02.03.2026|08.03.2026|0,00|1.120,50|10.03.2026',
    right: ['settlement_id', 'period_start', 'period_end', 'opening_balance', 'closing_balance', 'payout_date'],
  },
  {
    of: 'settlements',
    header: 'N° de relevé|Du|Au|Devise|Solde initial|Solde final|Date de versement',
    row: '17|02/03/2026|28/03/2026|EUR|0,00|120,50|30/03/2026',
    right: [
      'settlement_id',
      'period_start',
      'period_end',
      'currency',
      'opening_balance',
      'closing_balance',
      'payout_date',
    ],
  },
  {
    of: 'settlements',
    header: 'Liquidación|Desde|Hasta|Saldo inicial|Saldo final|Fecha de pago',
    row: 'L-3|02/03/2026|28/03/2026|0,00|120,50|30/03/2026',
    right: ['settlement_id', 'period_start', 'period_end', 'opening_balance', 'closing_balance', 'payout_date'],
  },
  {
    of: 'balances',
    header: 'Data|Saldo disponibile|In sospeso|Trattenuto|Valuta',
    row: '31/03/2026|120,50|10,00|0,00|EUR',
    right: ['at', 'available', 'pending', 'reserve', 'currency'],
  },
  {
    of: 'balances',
    header: 'Saldodatum|Beschikbaar|In behandeling|Ingehouden',
    row: '31-03-2026|120,50|10,00|0,00',
    right: ['at', 'available', 'pending', 'reserve'],
  },
]

describe.each(heads)('$header', ({ of, header, row, right }) => {
  const names = header.split('|')
  const rows = [row.split('|')]
  it('is known for what it is, and its columns are proposed', () => {
    expect(rowsOfHead(names, rows)).toBe(of)
    const { choice, questions } = proposeRowChoice(of, names, rows)
    expect(choice.columns.map(one => one.meaning)).toEqual(right)
    expect(questions.filter(one => one.code === 'column')).toEqual([])
  })
  it('makes the row that it tells', () => {
    const { choice } = proposeRowChoice(of, names, rows)
    const said = { ...choice, currency: choice.currency ?? 'EUR', dates: /\d{4}-/.test(row) ? 'ymd' : 'dmy' } as const
    const faults = new FaultList()
    const made = rowChoiceReader(of, said, names, { source: 'openhall', faults })?.read(rows[0] ?? [], 2, faults)
    expect(faults.shown).toEqual([])
    expect(made).toMatchObject(
      of === 'settlements'
        ? { periodStart: '2026-03-02', openingBalance: 0, currency: 'EUR' }
        : { date: '2026-03-31', available: 12_050, pending: 1000, currency: 'EUR' },
    )
  })
})

test('no head of movements is taken for settlements or balances', () => {
  const taken = measuredHeads.filter(head => head.of === 'activity' && rowsOfHead(head.header, head.rows) !== null)
  expect(taken.map(head => head.name)).toEqual([])
})

test('what is lacking is named, and what cannot be read is told in the words of the file', () => {
  const header = ['Statement no', 'From', 'Closing']
  const { choice } = proposeRowChoice('settlements', header, [['1', '2026-03-01', '2.00']])
  expect(checkRowChoice('settlements', choice)).toEqual([{ code: 'no_currency' }])
  expect(checkRowChoice('balances', { ...choice, columns: [] })).toEqual([
    { code: 'no_time' },
    { code: 'no_available' },
    { code: 'no_currency' },
  ])
  const said = { ...choice, currency: 'EUR' }
  const told = (record: readonly string[]) => {
    const faults = new FaultList()
    const reader = rowChoiceReader('settlements', said, header, { source: 'openhall', faults })
    expect(reader?.read(record, 2, faults) ?? null).toBeNull()
    return faults.shown.map(({ column, code }) => [column, code])
  }
  expect(told(['1', 'soon', '2.00'])).toEqual([['From', 'not_a_time_so_mapped']])
  expect(told(['1', '2026-03-01', 'two'])).toEqual([['Closing', 'not_a_number_so_mapped']])
  expect(told(['', '2026-03-01', '2.00'])).toEqual([['Statement no', 'empty']])
  expect(told(['1', '2026-03-01'])).toEqual([[null, 'field_count']])
  expect(told(['1', '2026-03-01', '2.005'])).toEqual([['Closing', 'too_many_digits']])
})
