import type { DocumentRef } from '@culvert/core'
import { describe, expect, it } from 'vitest'
import { Unread } from '../database/rows.ts'
import { documentRef } from './documentRef.ts'

const refs: readonly DocumentRef[] = [
  { of: 'settlement', source: 'openhall', key: 'W-1' },
  { of: 'order', source: 'fernstall', order: 'F-1' },
  { of: 'line', source: 'fernstall', lineId: 'F-1-s' },
  { of: 'entry', fiscalYear: 2026, number: 12 },
  { of: 'source', source: 'brookpay' },
  { of: 'account', account: '1210' },
]

describe('a document of a proof', () => {
  it.each(refs.map(ref => [ref.of, ref] as const))('%s is read as it was written', (_, ref) => {
    expect(documentRef(JSON.parse(JSON.stringify(ref)))).toEqual(ref)
  })
  it.each(refs.map(ref => [ref.of, ref] as const))('%s without what names it is none', (_, ref) => {
    for (const name of Object.keys(ref)) {
      const lacking = Object.fromEntries(Object.entries(ref).filter(([other]) => other !== name))
      expect(() => documentRef(lacking), name).toThrow(Unread)
    }
  })
  it('of a sort that is not known is none', () => {
    for (const ref of [{ of: 'invoice', number: 1 }, { of: 'toString' }, {}, null, 'entry', []])
      expect(() => documentRef(ref)).toThrow(Unread)
  })
})
