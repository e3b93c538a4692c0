import type { BankPage } from '@culvert/contract'
import { expect, it } from 'vitest'
import { arrangeTide } from './arrangeTide.ts'

const transfer = (id: string, date: string) => ({
  id,
  source: 'openhall',
  sourceName: 'Openhall',
  key: id,
  currency: 'EUR',
  date,
  amount: 100,
  reference: null,
  entry: '2026-1',
})
const bankLine = (id: string, date: string) => ({
  id,
  date,
  amount: 100,
  currency: 'EUR',
  description: id,
  reference: '',
})
const page: BankPage = {
  account: { code: '1000', name: 'Bank', currency: 'EUR', bankNumber: null },
  accounts: [],
  from: '2026-03-02',
  to: '2026-03-05',
  statementTo: null,
  booksTo: null,
  proposals: [
    {
      pairingId: null,
      sureness: 'certain',
      difference: 0,
      transfers: [transfer('a', '2026-03-03')],
      bankLines: [bankLine('x', '2026-03-06')],
      evidence: {
        exactSum: true,
        payerNamed: true,
        referenceFound: false,
        lagDays: 3,
        lagUsual: null,
        consecutive: null,
      },
      others: [],
      waitsFor: null,
    },
  ],
  confirmed: [],
  transfersAlone: [transfer('b', '2026-03-03'), transfer('c', '2026-03-02')],
  linesAlone: [],
  groupsNotSearched: [],
  tooManyFit: [],
  certain: 1,
  open: 3,
}

it('draws every day once, to scale, as high as its busier side, and keeps what is beyond the range', () => {
  const tide = arrangeTide(page)
  expect(tide.days.map(day => day.date)).toEqual(['2026-03-02', '2026-03-03', '2026-03-04', '2026-03-05', '2026-03-06'])
  expect(tide.days.map(day => day.height / (tide.days[0]?.height ?? 1))).toEqual([1, 2, 1, 1, 1])
  expect(tide.height).toBe(tide.days.reduce((sum, day) => sum + day.height, 0))
  const [a, b] = ['a', 'b'].map(id => tide.left.find(mark => mark.item.id === id)?.y ?? 0)
  expect(Math.abs((a ?? 0) - (b ?? 0))).toBe(tide.days[0]?.height)
  expect(tide.groups.map(group => [group.tone, group.transfers.length, group.bankLines.length])).toEqual([
    ['alone', 1, 0],
    ['certain', 1, 1],
    ['alone', 1, 0],
  ])
})
