import type { TaxCodeRow } from '@culvert/contract'
import { expect, it } from 'vitest'
import { blankTaxCode } from './blankTaxCode.ts'
import { inputOf, taxCodeForm } from './taxCodeForm.ts'

const code: TaxCodeRow = {
  ...blankTaxCode([]),
  code: 'P13',
  name: 'Purchases',
  use: 'purchases',
  country: 'IE',
  recovery: [{ from: '2026-01-01', percent: '80' }],
  components: [
    {
      name: 'VAT',
      account: '2210',
      inputAccount: null,
      compound: false,
      rates: [{ from: '2020-01-01', percent: '13.5' }],
    },
  ],
}
const faultsOf = (change: Partial<ReturnType<typeof inputOf>>) =>
  taxCodeForm.safeParse({ ...inputOf(code), ...change }).error?.issues.map(issue => issue.path.join('.'))

it('gives back a code as it was', () => {
  expect(taxCodeForm.parse(inputOf(code))).toEqual(code)
  expect(taxCodeForm.parse({ ...inputOf(code), country: '' }).country).toBeNull()
  expect(taxCodeForm.parse({ ...inputOf(code), country: ' de ' }).country).toBe('DE')
})

it('names the field that is not whole', () => {
  expect(faultsOf({ code: ' ' })).toEqual(['code'])
  expect(faultsOf({ recovery: [{ from: '2026-01-01', percent: 'some' }] })).toEqual(['recovery.0.percent'])
  expect(faultsOf({ country: 'Ireland' })).toEqual(['country'])
  const [component] = inputOf(code).components
  if (!component) throw new Error('it has one')
  expect(faultsOf({ components: [{ ...component, account: '' }] })).toEqual(['components.0.account'])
  expect(faultsOf({ components: [{ ...component, rates: [{ from: '', percent: '1,5' }] }] })).toEqual([
    'components.0.rates.0.from',
  ])
  expect(faultsOf({ components: [{ ...component, rates: [] }] })).toEqual(['components.0.rates'])
})

it('takes a comma in a percentage, and leaves out shares that nothing is taken back by', () => {
  const [component] = inputOf(code).components
  if (!component) throw new Error('it has one')
  const saved = taxCodeForm.parse({
    ...inputOf(code),
    use: 'sales',
    recovery: [{ from: '', percent: 'some' }],
    components: [{ ...component, inputAccount: '', rates: [{ from: '2026-07-01', percent: '13,5' }] }],
  })
  expect(saved.recovery).toEqual([])
  expect(saved.components[0]).toMatchObject({ inputAccount: null, rates: [{ percent: '13.5' }] })
})
