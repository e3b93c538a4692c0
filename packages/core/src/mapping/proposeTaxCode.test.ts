import { expect, it } from 'vitest'
import { madeRoute } from '../testing/madeSetup.ts'
import { proposeTaxCode } from './proposeTaxCode.ts'

const routes = [
  madeRoute('sale', '4000', 'IN'),
  madeRoute('sale', '4010', 'TWO', { category: 'Classes' }),
  madeRoute('sale', '4000', 'DE', { region: 'DE' }),
  madeRoute('shipping', '4100', 'SHIP'),
  madeRoute('selling_fee', '6000', 'RC'),
  madeRoute('refund', '4200', 'NEVER', { block: true }),
]
const codeFor = (
  kind: Parameters<typeof proposeTaxCode>[0]['kind'],
  account: string | null,
  region: string | null = null,
) => proposeTaxCode({ kind, region }, account, routes)

it('takes over how routes before tax the same: the kind itself, else what it goes with', () => {
  expect(codeFor('sale', '4999')).toMatchObject({ taxCode: 'IN', open: false })
  expect(codeFor('sale', '4010')).toMatchObject({ taxCode: 'TWO' })
  expect(codeFor('shipping_refund', '4100')).toMatchObject({ taxCode: 'SHIP' })
  expect(codeFor('refund', '4200')).toMatchObject({ taxCode: 'IN' })
  expect(codeFor('advertising_fee', '6010')).toMatchObject({ taxCode: 'RC' })
})

it('keeps to the region: its own routes first, never those of another', () => {
  expect(codeFor('refund', '4200', 'DE-BY')).toMatchObject({ taxCode: 'DE' })
  expect(codeFor('refund', '4200', 'FR')).toMatchObject({ taxCode: 'IN' })
})

it('invents nothing: open where a kind bears tax and nothing is like it, none where it bears none', () => {
  expect(proposeTaxCode({ kind: 'sale', region: null }, '4000', [])).toEqual({ taxCode: null, like: null, open: true })
  expect(codeFor('tip', '2400')).toEqual({ taxCode: null, like: null, open: false })
  expect(codeFor('tender', null)).toEqual({ taxCode: null, like: null, open: false })
})
