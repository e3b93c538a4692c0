import { expect, it } from 'vitest'
import { taxCodes } from '../testing/madeSetup.ts'
import { checkTaxCodes } from './checkTaxCodes.ts'
import type { TaxCode } from './taxCode.ts'

const accounts = new Map([
  ['2200', { type: 'tax' as const }],
  ['2210', { type: 'tax' as const }],
  ['2220', { type: 'tax' as const }],
  ['2290', { type: 'current_asset' as const }],
  ['4000', { type: 'income' as const }],
])
const vat = taxCodes.get('IN') as TaxCode
const [component] = vat.components as [TaxCode['components'][number]]
const faultsOf = (more: Partial<TaxCode>, part: Partial<typeof component> = {}) =>
  checkTaxCodes([{ ...vat, components: [{ ...component, ...part }], ...more }], accounts).faults.map(
    fault => fault.code,
  )

it('finds nothing wrong with codes of every sort', () =>
  expect(checkTaxCodes([...taxCodes.values()], accounts)).toEqual({ faults: [], warnings: [] }))

it('finds what is wrong with a code, all of it', () => {
  expect(faultsOf({ components: [] })).toEqual(['no_components'])
  expect(faultsOf({ treatment: 'exempt' })).toEqual(['taxes_untaxed', 'taxes_untaxed'])
  expect(faultsOf({ treatment: 'zero' }, { rates: [{ from: '2026-01-01', percent: '0' }] })).toEqual([])
  expect(faultsOf({ reverseCharge: true }, { inputAccount: null })).toEqual(['no_input_account'])
  expect(faultsOf({}, { compound: true, account: '9999' })).toEqual(['unknown_account', 'compound_first'])
  expect(faultsOf({}, { rates: [] })).toEqual(['no_rates'])
  expect(
    faultsOf(
      {},
      {
        rates: [
          { from: '2026-01-01', percent: '23' },
          { from: '2026-01-01', percent: '-1' },
          { from: '2026-02-30', percent: '9' },
        ],
      },
    ),
  ).toEqual(['bad_rate', 'rate_twice', 'bad_rate'])
})

it('finds a code that is there twice, and warns of an account of another sort', () =>
  expect(checkTaxCodes([vat, { ...vat, components: [{ ...component, account: '4000' }] }], accounts)).toEqual({
    faults: [{ taxCode: 'IN', code: 'twice' }],
    warnings: [{ code: 'unlike_account_type', taxCode: 'IN', account: '4000', type: 'income' }],
  }))
