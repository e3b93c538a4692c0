import { sourceOptions } from '@culvert/contract'
import { defaultOptions } from '@culvert/core'
import { expect, it } from 'vitest'
import { changedOptions, toggled } from './optionsDraft.ts'

const options = sourceOptions.parse({ ...defaultOptions, detail: [] })

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
