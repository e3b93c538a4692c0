import { subjectKey, subjects } from '@culvert/contract'
import { describe, expect, it } from 'vitest'
import { actText, differencesOf, differenceText, objectPath, objectText } from './actWords.ts'

describe('what an act touched', () => {
  it.each([
    ['settlement', subjectKey('openhall', 'OH-2620', 'EUR'), 'OH-2620', '/settlements/openhall/OH-2620/EUR'],
    [
      'settlement',
      subjectKey('fernstall', 'day:2026-03-02', 'EUR'),
      'fernstall:2026-03-02',
      '/settlements/fernstall/day%3A2026-03-02/EUR',
    ],
    ['bank_line', subjectKey('1000', 'SK/7'), 'bank line SK/7', '/bank/1000'],
    ['entry', '2026-12', 'entry 2026-12', '/books/entries/2026-12'],
    ['account', subjectKey('40 00'), 'account 40 00', '/books/register/40%2000'],
    ['rate', subjectKey('2026-03-01', 'USD', 'EUR'), 'rate USD to EUR of 2026-03-01', '/books/rates'],
    ['pairing', 'b1f0', 'a pairing', null],
  ])('a %s is named, and leads to its page', (subject, key, text, path) => {
    expect(objectText({ subject, key })).toBe(text)
    expect(objectPath({ subject, key })).toBe(path)
  })

  it('of every sort has a name, and one of another version too', () => {
    for (const subject of subjects) expect(objectText({ subject, key: 'x/y/z' })).not.toContain('undefined')
    expect(objectText({ subject: 'tide', key: 'x' })).toBe('tide x')
    expect(actText('of_another_version')).toBe('of another version')
  })

  it('tells what changed, and nothing of what did not', () => {
    const object = {
      subject: 'route',
      key: '7',
      before: { account: '6000', kind: 'selling_fee', block: true },
      after: { account: '4100', kind: 'selling_fee', taxCode: 'S23' },
    }
    expect(differencesOf(object)).toEqual([
      { name: 'account', before: '6000', after: '4100' },
      { name: 'block', before: 'yes', after: null },
      { name: 'tax code', before: null, after: 'S23' },
    ])
    expect(differenceText(object)).toBe('account 6000 → 4100, block yes → none, tax code S23')
    expect(differenceText({ ...object, after: null })).toBe('taken away')
    expect(differenceText({ ...object, before: null, after: { from: '2026-03-01' } })).toBe('from 1 Mar 2026')
  })
})
