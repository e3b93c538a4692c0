import type { BankPage, DecidedRow, PairingRow } from '@culvert/contract'
import { describe, expect, it } from 'vitest'
import type { TideGroup } from './arrangeTide.ts'
import { aloneText, decidedText, equationText, evidenceText, groupText } from './selectionText.ts'

const transfer = (id: string, amount: number) => ({
  id,
  source: 'brookpay',
  sourceName: 'Brookpay',
  key: `day:${id}`,
  currency: 'EUR',
  date: '2026-03-05',
  amount,
  reference: null,
  entry: '2026-1',
})
const line = (id: string, amount: number) => ({
  id,
  date: '2026-03-06',
  amount,
  currency: 'EUR',
  description: 'BROOKPAY 91',
  reference: '',
})
const money = (minor: number) => (minor / 100).toFixed(2)
const group = (more: Partial<TideGroup>): TideGroup => ({
  id: 'g',
  tone: 'alone',
  decided: null,
  proposal: null,
  transfers: [],
  bankLines: [],
  ...more,
})
const proposal: PairingRow = {
  sureness: 'likely',
  difference: 0,
  transfers: [transfer('2026-03-05', 3000), transfer('2026-03-04', 7000)],
  bankLines: [line('B1', 10_000)],
  evidence: {
    exactSum: true,
    payerNamed: true,
    referenceFound: true,
    lagDays: 1,
    lagUsual: true,
    consecutive: true,
  },
  others: [],
  waitsFor: '2026-03-12',
}

const facts = {
  reach: [
    { source: null, name: '', to: '2026-03-09' },
    { source: 'brookpay', name: 'Brookpay', to: '2026-03-12' },
    { source: 'openhall', name: 'Openhall', to: null },
  ],
}

describe('what the bar says', () => {
  it('of a group: its members, their sums and the difference', () => {
    const paired = group({ proposal, transfers: proposal.transfers, bankLines: proposal.bankLines })
    expect(groupText(paired)).toBe('2 payouts = bank line BROOKPAY 91, 6 Mar')
    expect(equationText(paired, money)).toBe('30.00 + 70.00 = 100.00 · difference 0.00')
    const short = group({ ...paired, proposal: { ...proposal, difference: -250 } })
    expect(equationText(short, money)).toBe('30.00 + 70.00 against 100.00 · difference -2.50')
    expect(groupText(group({ transfers: [transfer('2026-03-05', 1)] }))).toBe('payout Brookpay 2026-03-05, 5 Mar')
  })
  it('of its evidence: all that speaks for it, and what it waits for', () => {
    expect(evidenceText(proposal, facts)).toBe(
      '1 day later, as usual · payouts that follow each other · the text names the payer · with its reference · certain once data to 12 Mar 2026 is in: the bank statement (now to 9 Mar 2026), Openhall (nothing yet)',
    )
    expect(
      evidenceText(
        {
          ...proposal,
          difference: -250,
          waitsFor: null,
          evidence: {
            ...proposal.evidence,
            payerNamed: false,
            referenceFound: false,
            lagUsual: null,
            consecutive: null,
          },
        },
        facts,
      ),
    ).toBe('1 day later · the text does not name the payer · a bank fee, or not the same money')
  })
  it('of what was decided: the entry and its account, or the reason', () => {
    const decided: DecidedRow = {
      pairingId: 'p',
      sort: 'coded',
      sureness: 'by_hand',
      difference: 0,
      transfers: [],
      bankLines: [line('B1', -1200)],
      evidence: null,
      note: 'March',
      entry: '2026-17',
      account: '6010',
    }
    expect(decidedText(decided)).toBe('entry 2026-17 to 6010 · March')
    expect(decidedText({ ...decided, sort: 'set_aside', note: 'not ours' })).toBe('not ours')
    expect(decidedText({ ...decided, sort: 'paired', note: '' })).toBe('the difference is entry 2026-17 to 6010')
    expect(decidedText({ ...decided, sort: 'paired', entry: null, account: null })).toBe('')
  })
  it('of what is alone: why nothing is proposed', () => {
    const page = { statementTo: '2026-03-04', facts: { windowDays: 7 } } as BankPage
    const none = { proposals: [], groupsNotSearched: [], tooManyFit: [] }
    const payout = group({ transfers: [transfer('2026-03-05', 1)] })
    expect(aloneText(page, none, payout)).toContain('the statement ends on 4 Mar 2026')
    expect(aloneText({ ...page, statementTo: '2026-03-31' }, none, payout)).toContain('nothing of this amount')
    expect(aloneText(page, { ...none, groupsNotSearched: ['2026-03-05'] }, payout)).toContain('not searched')
    expect(aloneText(page, { ...none, tooManyFit: [{ id: '2026-03-05', count: 214 }] }, payout)).toContain(
      '214 groupings fit',
    )
    expect(aloneText(page, none, group({ bankLines: [line('B', 1)] }))).toContain('no payout of this amount')
  })
})
