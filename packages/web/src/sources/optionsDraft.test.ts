import { sourceOptions } from '@culvert/contract'
import { defaultOptions } from '@culvert/core'
import { expect, it } from 'vitest'
import { changedOptions, draftOf, optionsIn, toggled } from './optionsDraft.ts'

const options = sourceOptions.parse({ ...defaultOptions, detail: [] })

it('shows a tolerance as an amount, and reads it back', () => {
  expect(draftOf({ ...options, taxTolerance: 1250 }, 'EUR', 'en-IE').taxTolerance).toBe('12.50')
  const read = (text: string) =>
    optionsIn({ ...draftOf(options, 'EUR', 'en-IE'), taxTolerance: text }, 'EUR', 'en-IE')?.taxTolerance
  expect(read('12,5')).toBe(1250)
  expect(read('0')).toBe(0)
  expect(read(' ')).toBe(null)
  expect(read('-1')).toBeUndefined()
  expect(read('much')).toBeUndefined()
})

it('keeps details in their order, and names what changed', () => {
  const all = ['category', 'sku', 'location'] as const
  expect(toggled(all, ['location'], 'category')).toEqual(['category', 'location'])
  expect(toggled(all, ['category', 'location'], 'category')).toEqual(['location'])
  expect(changedOptions(options, { ...options, detail: ['sku'], dateBasis: 'payment' })).toEqual([
    'detail',
    'dateBasis',
  ])
  expect(changedOptions(options, { ...options, detail: [] })).toEqual([])
})
