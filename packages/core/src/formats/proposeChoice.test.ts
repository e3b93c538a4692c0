import { describe, expect, it } from 'vitest'
import { type ColumnChoice, checkChoice, mappingOf } from './columnChoice.ts'
import { checkColumnMapping } from './columnMapping.ts'
import { FaultList } from './fault.ts'
import { measuredHeads } from './heads/measuredHeads.ts'
import { mappedReader } from './mappedRow.ts'
import { proposeChoice } from './proposeChoice.ts'

const headNamed = (name: string) => {
  const head = measuredHeads.find(one => one.name === name)
  if (!head) throw new Error(`no head ${name}`)
  return head
}
const wordsOf = (choice: ColumnChoice) => Object.keys(choice.kinds)

const linesOf = (choice: ColumnChoice, header: readonly string[], rows: readonly (readonly string[])[]) => {
  const faults = new FaultList()
  const mapping = mappingOf(choice, 'test')
  expect(checkColumnMapping(mapping)).toEqual([])
  const reader = mappedReader(mapping, header, { source: 'thrimble', faults })
  const lines = rows.flatMap((row, at) => reader?.read(row, at + 2, faults) ?? [])
  return { lines, faults: faults.shown.map(({ row, column, code }) => [row, column, code]) }
}

describe('a list of pay-later payments', () => {
  const { header, rows } = headNamed('English pay-later list')
  const { choice, questions } = proposeChoice(header, rows, { shape: 'gateway', timeZone: 'Europe/Dublin' })

  it('is read without a question, once a day tells the order of its dates', () => {
    expect(questions).toEqual([])
    expect(checkChoice(choice, wordsOf(choice))).toEqual([])
  })

  it('makes a line of the payment and one of its fee, which come to its net', () => {
    const { lines, faults } = linesOf(choice, header, rows)
    expect(faults).toEqual([])
    expect(lines.map(({ kind, amount, orderId, customer }) => [kind, amount, orderId, customer])).toEqual([
      ['collected', 6450, 'F-5102', 'Odile Fairweather'],
      ['processing_fee', -187, 'F-5102', 'Odile Fairweather'],
      ['collected', 11_800, 'F-5107', 'Noor Halloway'],
      ['processing_fee', -342, 'F-5107', 'Noor Halloway'],
      ['collected_back', -3640, 'F-5089', 'A. Marchbank'],
    ])
    expect(lines[0]).toMatchObject({ occurredAt: '2026-04-01T12:00:00+01:00', extra: { plan: '12 weeks' } })
  })

  it('names a row that does not come to its net', () => {
    const odd = [...(rows[0] as string[])]
    odd[5] = '62,36'
    expect(linesOf(choice, header, [odd]).faults).toEqual([[2, 'settled', 'row_does_not_add']])
  })
})

describe('what could be read two ways is asked', () => {
  const ask = (header: string[], rows: string[][]) =>
    proposeChoice(header, rows, { shape: 'gateway', timeZone: 'UTC' }).questions.map(({ code }) => code)
  const header = ['Id', 'Date', 'Type', 'Amount', 'Currency']

  it('a third of April or a fourth of March', () => {
    expect(ask(header, [['1', '03/04/2026', 'Payment', '1.00', 'EUR']])).toEqual(['dates'])
    expect(
      ask(header, [
        ['1', '03/04/2026', 'Payment', '1.00', 'EUR'],
        ['2', '23/04/2026', 'Payment', '1.00', 'EUR'],
      ]),
    ).toEqual([])
  })
  it('a thousand or one', () =>
    expect(ask(header, [['1', '2026-04-03', 'Payment', '1.000', 'EUR']])).toEqual(['numbers']))
  it('a currency that nothing says', () =>
    expect(ask(header.slice(0, 4), [['1', '2026-04-03', 'Payment', '1.00']])).toEqual(['currency']))
  it('a word that stands for no kind, and a dispute that may be lost or not', () =>
    expect(
      ask(header, [
        ['1', '2026-04-03', 'Zorp', '1.00', 'EUR'],
        ['2', '2026-04-03', 'DISPUTE', '-1.00', 'EUR'],
      ]),
    ).toEqual(['kind', 'kind']))
  it('a refund written without its minus, and a fee without its net', () => {
    expect(ask(header, [['1', '2026-04-03', 'Refund', '1.00', 'EUR']])).toEqual(['kind'])
    expect(ask([...header, 'Fee'], [['1', '2026-04-03', 'Payment', '1.00', 'EUR', '0.10']])).toEqual(['fee_sign'])
  })
})

it('a refund that is written without its minus takes money off', () => {
  const header = ['Id', 'Date', 'Type', 'Amount', 'Currency']
  const rows = [
    ['1', '2026-04-03', 'Payment', '9.00', 'EUR'],
    ['2', '2026-04-03', 'Refund', '2.00', 'EUR'],
  ]
  const { choice } = proposeChoice(header, rows, { shape: 'channel', timeZone: 'UTC' })
  expect(choice.reversed).toEqual(['Refund'])
  expect(linesOf(choice, header, rows).lines.map(({ kind, amount }) => [kind, amount])).toEqual([
    ['sale', 900],
    ['refund', -200],
  ])
})

it('credit and debit columns are one amount, with the signs that the file gives them', () => {
  const { header, rows } = headNamed('English wallet with credit and debit')
  const { choice } = proposeChoice(header, rows, { shape: 'gateway', timeZone: 'UTC' })
  const said: ColumnChoice = {
    ...choice,
    columns: choice.columns.map(one => (one.name === 'Description' ? { ...one, meaning: 'kind' } : one)),
    kinds: { 'Payment received': 'collected', Purchase: 'purchase' },
  }
  expect(linesOf(said, header, rows).lines.map(({ kind, amount, status }) => [kind, amount, status])).toEqual([
    ['collected', 2000, 'available'],
    ['collected', 550, 'pending'],
    ['purchase', -725, 'available'],
  ])
})

it('countries are known by their names in six languages, and an unknown one is asked', () => {
  const header = ['Id', 'Date', 'Type', 'Amount', 'Currency', 'Country']
  const row = (id: string, country: string) => [id, '2026-04-03', 'Sale', '1.00', 'EUR', country]
  const { choice, questions } = proposeChoice(
    header,
    [row('1', 'Allemagne'), row('2', 'Ireland'), row('3', 'Nowhere')],
    {
      shape: 'channel',
      timeZone: 'UTC',
    },
  )
  expect(choice.regions).toMatchObject({ Allemagne: 'DE', Ireland: 'IE' })
  expect(questions).toEqual([{ code: 'region', word: 'Nowhere' }])
})

it('what is lacking or said twice is named', () => {
  const { choice } = proposeChoice(['A', 'B'], [['1', '2']], { shape: 'channel', timeZone: 'UTC' })
  expect(checkChoice(choice, []).map(({ code }) => code)).toEqual(['no_time', 'no_amount', 'no_currency', 'no_kind'])
  const twice = {
    ...choice,
    columns: [
      { name: 'A', meaning: 'amount' as const },
      { name: 'B', meaning: 'amount' as const },
    ],
  }
  expect(checkChoice(twice, [])[0]).toMatchObject({ code: 'meaning_twice', columns: ['A', 'B'] })
})
