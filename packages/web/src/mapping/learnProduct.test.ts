import type { ItemRow } from '@culvert/contract'
import { nameBook } from '@culvert/core'
import { expect, it } from 'vitest'
import { itemsForgetting, itemsLearning } from './learnProduct.ts'

const item = (code: string, name: string, otherNames: string[] = []): ItemRow => ({
  code,
  name,
  otherNames,
  account: '4000',
  taxCode: null,
  costs: [],
})
const after = (items: readonly ItemRow[], changed: readonly ItemRow[]): ItemRow[] => [
  ...new Map([...items, ...changed].map(one => [one.code, one])).values(),
]

it('what two items claim is the one’s that a person names, until it is forgotten', () => {
  const items = [item('A', 'Blue mug'), item('B', 'Blue mug'), item('C', 'Jug', ['MUG-B'])]
  const product = { sku: 'MUG-B', title: 'Blue mug' }
  const find = (list: readonly ItemRow[]) => nameBook(list).find({ code: product.sku, name: product.title })
  expect(find(items)).toMatchObject({ found: 'one', by: 'other_name', thing: { code: 'C' } })
  const learned = after(items, itemsLearning(product, 'B', items))
  expect(find(learned)).toMatchObject({ found: 'one', by: 'other_name', thing: { code: 'B' } })
  expect(learned.find(one => one.code === 'C')?.otherNames).toEqual([])
  const forgotten = after(learned, itemsForgetting(product, learned))
  expect(find(forgotten)).toMatchObject({ found: 'several', by: 'name' })
  expect(itemsForgetting(product, forgotten)).toEqual([])
})

it('a title alone is learned even by the item of that name, so that it is that one’s', () => {
  const items = [item('A', 'Blue mug'), item('B', 'Blue mug')]
  const product = { sku: '', title: 'blue  MUG' }
  const learned = after(items, itemsLearning(product, 'A', items))
  expect(nameBook(learned).find({ code: null, name: 'Blue mug' })).toMatchObject({ found: 'one', thing: { code: 'A' } })
  expect(itemsLearning(product, 'A', learned)).toEqual([])
})
