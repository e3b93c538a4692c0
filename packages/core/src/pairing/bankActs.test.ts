import { describe, expect, it } from 'vitest'
import { composeCoded } from '../composing/composeCoded.ts'
import { madeSetup } from '../testing/madeSetup.ts'
import { composeDifference } from './composeDifference.ts'

const setup = madeSetup()
const euro = {
  bankAccount: '10-EUR',
  account: '6900',
  date: '2026-03-12',
  currency: 'EUR',
  paid: 10_000,
  paidBase: 10_000,
  depositCurrency: 'EUR',
  deposited: 9850,
}
const amounts = (lines: readonly { account: string; taxCode: string; amount: number; baseAmount: number }[]) =>
  lines.map(line => [line.account, line.taxCode, line.amount, line.baseAmount])

describe('the difference between a payout and its deposit', () => {
  it('short of it, is taken off the bank account and borne as a fee', () => {
    const draft = composeDifference(euro, setup)
    expect(draft).toMatchObject({ ok: true, amount: -150 })
    expect(draft.ok && amounts(draft.lines)).toEqual([
      ['6900', '', 150, 150],
      ['10-EUR', '', -150, -150],
    ])
  })
  it('in another currency than the account’s, is what arrived less what was booked at the day’s rate, in base alone', () => {
    const dollars = { ...euro, currency: 'USD', paid: 10_000, paidBase: 9137, deposited: 9100 }
    const draft = composeDifference(dollars, setup)
    expect(draft.ok && amounts(draft.lines)).toEqual([
      ['10-EUR', '', 0, -37],
      ['6900', '', 0, 37],
    ])
    expect(composeDifference({ ...dollars, depositCurrency: 'JPY' }, setup)).toEqual({
      ok: false,
      reason: 'currencies',
    })
  })
  it('of nothing, books nothing', () => {
    expect(composeDifference({ ...euro, deposited: 10_000 }, setup)).toMatchObject({ ok: true, amount: 0, lines: [] })
    // Nor does it ask for a rate that nothing needs.
    const dollars = { ...euro, currency: 'USD', depositCurrency: 'USD', deposited: 10_000 }
    expect(composeDifference(dollars, { ...setup, rates: [] })).toMatchObject({ ok: true, lines: [] })
  })
  it('in a foreign currency without a rate, says so', () => {
    expect(composeDifference({ ...euro, currency: 'USD', depositCurrency: 'USD' }, { ...setup, rates: [] })).toEqual({
      ok: false,
      reason: 'rate_missing',
    })
  })
})

describe('a bank line coded to an account', () => {
  const line = {
    bankAccount: '10-EUR',
    currency: 'EUR',
    date: '2026-03-12',
    amount: -6150,
    account: '6900',
    taxCode: null,
  }
  const entry = (more: Partial<Parameters<typeof composeCoded>[0]>) => {
    const { entries, blocks } = composeCoded({ ...line, ...more }, setup)
    return blocks.length > 0 ? blocks.map(block => block.reason) : amounts(entries[0]?.lines ?? [])
  }
  it('is one entry against the bank account', () => {
    expect(entry({})).toEqual([
      ['6900', '', 6150, 6150],
      ['10-EUR', '', -6150, -6150],
    ])
    expect(entry({ amount: 6150 })).toEqual([
      ['10-EUR', '', 6150, 6150],
      ['6900', '', -6150, -6150],
    ])
  })
  it('has its tax taken out, at the rate of its day', () => {
    // 61.50 with 21 % from 5 March on: 50.83 and 10.67.
    expect(entry({ taxCode: 'FEE' })).toEqual([
      ['2200', 'FEE', 1067, 1067],
      ['6900', 'FEE', 5083, 5083],
      ['10-EUR', '', -6150, -6150],
    ])
  })
  it('has it taken out of the amount, too, where the code adds it on top of prices', () => {
    const fee = setup.taxCodes.get('FEE')
    if (!fee) throw new Error('no code')
    const taxCodes = new Map([...setup.taxCodes, ['TOP', { ...fee, code: 'TOP', basis: 'exclusive' as const }]])
    const { entries } = composeCoded({ ...line, taxCode: 'TOP' }, { ...setup, taxCodes })
    expect(entries[0]?.lines.map(one => one.amount)).toEqual([1067, 5083, -6150])
  })
  it('is refused with the reasons that hold up a settlement', () => {
    expect(entry({ account: '9999' })).toEqual(['account_unusable'])
    expect(entry({ taxCode: 'NONE' })).toEqual(['tax_code_missing'])
    expect(entry({ account: '10-USD' })).toEqual(['account_unusable'])
  })
})
