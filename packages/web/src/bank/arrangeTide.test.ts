import type { BankPage, PairingRow } from '@culvert/contract'
import { expect, it } from 'vitest'
import { arrangeTide, groupsOf } from './arrangeTide.ts'

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
  granted: true,
  from: '2026-03-02',
  to: '2026-03-05',
  statementTo: null,
  booksTo: null,
  transfers: [transfer('a', '2026-03-03'), transfer('b', '2026-03-03'), transfer('c', '2026-03-02')],
  lines: [bankLine('x', '2026-03-06')],
  facts: {
    windowDays: 7,
    maxGroup: 12,
    bankFeeUpTo: null,
    bankTexts: [],
    boundLines: [],
    boundTransfers: [],
    completeTo: '2026-03-31',
    doubtReferences: true,
    reach: [],
    usualLags: [],
  },
  decided: [],
  differenceAccount: null,
}
const pair = (id: string, paid: string, arrived: string): PairingRow => ({
  sureness: 'certain',
  difference: 0,
  transfers: [transfer(id, paid)],
  bankLines: [bankLine(`x${id}`, arrived)],
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
})
const list = { proposals: [{ ...pair('a', '2026-03-03', '2026-03-06'), bankLines: [bankLine('x', '2026-03-06')] }] }

it('draws every day once, to scale, as high as its busier side, and keeps what is beyond the range', () => {
  const tide = arrangeTide(page, list)
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

it('folds certain pairs of a day into a count, one slope for all of them, until the fold is opened', () => {
  const many = { proposals: ['p', 'q', 'r'].map(id => pair(id, '2026-03-02', '2026-03-04')) }
  const open = {
    ...page,
    transfers: [transfer('c', '2026-03-02'), ...many.proposals.flatMap(row => row.transfers)],
    lines: many.proposals.flatMap(row => row.bankLines),
  }
  const folded = arrangeTide(open, many)
  expect(folded.folds.map(fold => [fold.side, fold.count, fold.sum])).toEqual([
    ['left', 3, 300],
    ['right', 3, 300],
  ])
  expect(folded.marks.map(mark => mark.key)).toEqual(['tc'])
  expect(folded.slopes).toHaveLength(1)
  const opened = arrangeTide(open, many, new Set(folded.folds.map(fold => fold.key)))
  expect(opened.folds).toEqual([])
  expect(opened.slopes).toHaveLength(3)
  // Two are no crowd.
  expect(arrangeTide(open, { proposals: many.proposals.slice(1) }).folds).toEqual([])
})

it('shows what was decided with what it is, each item once', () => {
  const aside = {
    sort: 'set_aside',
    sureness: 'by_hand',
    difference: 0,
    evidence: null,
    entry: null,
    account: null,
  } as const
  const groups = groupsOf(
    {
      ...page,
      decided: [
        { ...aside, pairingId: 'p1', note: 'lost', transfers: [transfer('z', '2026-03-04')], bankLines: [] },
        { ...aside, pairingId: 'p2', sort: 'coded', note: '', transfers: [], bankLines: [bankLine('f', '2026-03-04')] },
      ],
    },
    list,
  )
  expect(groups.map(group => [group.id, group.tone])).toEqual([
    ['p1', 'set_aside'],
    ['p2', 'coded'],
    ['a x', 'certain'],
    ['tb', 'alone'],
    ['tc', 'alone'],
  ])
})

it('folds a long run of days on which everything is decided into one row, until it is opened', () => {
  const settled = Array.from({ length: 9 }, (_, index) => {
    const date = `2026-03-${String(index + 2).padStart(2, '0')}`
    return {
      sort: 'paired' as const,
      sureness: 'certain' as const,
      difference: 0,
      evidence: null,
      note: '',
      entry: null,
      account: null,
      pairingId: `p${index}`,
      transfers: [transfer(`t${index}`, date)],
      bankLines: [bankLine(`l${index}`, date)],
    }
  })
  const busy = {
    ...page,
    from: '2026-03-02',
    to: '2026-03-12',
    transfers: [transfer('c', '2026-03-12')],
    lines: [],
    decided: settled,
  }
  const folded = arrangeTide(busy, { proposals: [] })
  expect(folded.days.map(day => [day.date, day.to])).toEqual([
    ['2026-03-02', '2026-03-11'],
    ['2026-03-12', '2026-03-12'],
  ])
  expect(folded.folds.map(fold => [fold.side, fold.count, fold.sum])).toEqual([
    ['left', 9, 900],
    ['right', 9, 900],
  ])
  expect(folded.marks.map(mark => mark.key)).toEqual(['tc'])
  const open = arrangeTide(busy, { proposals: [] }, new Set(folded.folds.map(fold => fold.key)))
  expect(open.days).toHaveLength(11)
  expect(open.marks).toHaveLength(19)
  // Eight decided make a run, seven none.
  expect(arrangeTide({ ...busy, decided: settled.slice(0, 7) }, { proposals: [] }).folds).toEqual([])
})

it('drops what the engine proposed before of items that are open no more, until it has answered again', () => {
  const decided = { ...page, transfers: [], lines: [] }
  expect(groupsOf(decided, list)).toEqual([])
})
