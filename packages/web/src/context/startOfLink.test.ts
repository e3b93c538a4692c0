import type { ProofDocumentRef } from '@culvert/contract'
import { expect, it } from 'vitest'
import { pageOfRef, startOfLink, startOfRef } from './startOfLink.ts'

it('a link of a trace leads on, whatever its ids hold', () => {
  expect(startOfLink('order:F-5770/2')).toEqual({ at: 'order', order: 'F-5770/2' })
  expect(startOfLink('line:openhall/OH/1:2')).toEqual({ at: 'line', source: 'openhall', lineId: 'OH/1:2' })
  expect(startOfLink('entry_line:2026-12/3')).toEqual({ at: 'entry_line', entry: '2026-12', line: 3 })
  for (const link of ['/settlements/openhall/W-1/EUR', 'entry_line:2026-12', 'line:openhall', ''])
    expect(startOfLink(link), link).toBeNull()
})

it('every document of a proof has a page or a trace, by its keys and not by its name', () => {
  const shown = (ref: ProofDocumentRef) => [pageOfRef(ref, 'EUR'), startOfRef(ref, 'EUR')]
  expect(shown({ of: 'settlement', source: 'open hall', key: 'day:2026/1' })).toEqual([
    '/settlements/open%20hall/day%3A2026%2F1/EUR',
    { at: 'settlement', source: 'open hall', key: 'day:2026/1', currency: 'EUR' },
  ])
  // What concerns all of a source's settlements leads to their list.
  expect(shown({ of: 'settlement', source: 'openhall', key: '' })).toEqual(['/settlements?source=openhall', null])
  expect(shown({ of: 'entry', fiscalYear: 2026, number: 12 })).toEqual([
    '/books/entries/2026-12',
    { at: 'entry', entry: '2026-12' },
  ])
  expect(shown({ of: 'source', source: 'brookpay' })).toEqual(['/sources/brookpay', null])
  expect(shown({ of: 'account', account: '12/10' })).toEqual(['/books/register/12%2F10', null])
  expect(shown({ of: 'order', source: 'fernstall', order: '8001' })).toEqual([null, { at: 'order', order: '8001' }])
  expect(shown({ of: 'line', source: 'brookpay', lineId: 'BP-1' })).toEqual([
    null,
    { at: 'line', source: 'brookpay', lineId: 'BP-1' },
  ])
})
