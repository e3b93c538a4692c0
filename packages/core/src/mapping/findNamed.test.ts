import { describe, expect, it } from 'vitest'
import { forgetName, learnName, nameBook } from './findNamed.ts'
import { foldName, foldText } from './folded.ts'

const item = (code: string, name: string, ...otherNames: string[]) => ({ code, name, otherNames })

describe('a folded name', () => {
  it.each([
    ['Quill, Orla', 'ORLA QUILL'],
    ['Bramble & Fitch Ltd.', 'Bramble Fitch'],
    ['Jörg Straße GmbH', 'jorg strasse'],
    ["O'Daly", 'ODaly'],
    ['Søren  Æsir A.S.', 'Soren Aesir'],
    ['Łucja Čapek', 'lucja capek'],
    ['Ｃａｆｅ́ Nº 1', 'Cafe No 1'],
  ])('takes %s and %s for one', (one, other) => expect(foldName(one)).toBe(foldName(other)))
  it.each([
    ['Orla Quill', 'Orla Quills'],
    ['Kiln 1', 'Kiln 2'],
    ['Limited', ''],
  ])('keeps %s and %s apart', (one, other) => expect(foldName(one)).not.toBe(foldName(other)))
  it('is empty for marks alone', () => expect([foldName('—!?'), foldText('  .. ')]).toEqual(['', '']))
})

describe('finding an item', () => {
  const book = nameBook([
    item('MUG-S', 'Mug, small', 'MUG-OLD'),
    item('MUG-L', 'Mug, large', 'Big mug'),
    item('BOWL', 'Serving bowl'),
    item('BOWL-2', 'Bowl, serving', 'Big mug'),
  ])
  const found = (code: string | null, name: string | null) => {
    const hit = book.find({ code, name })
    if (hit.found === 'one') return `${hit.thing.code} by ${hit.by}`
    return hit.found === 'several' ? `${hit.things.map(thing => thing.code).join('+')} by ${hit.by}` : 'none'
  }
  it('goes by SKU, then other name, then name, and asks about two', () =>
    expect([
      found('MUG-S', 'Serving bowl'),
      found('MUG-OLD', null),
      found('mug old', 'something else'),
      found('NEW', 'large mug'),
      found(null, 'Big Mug'),
      found(null, 'bowl serving'),
      found('NEW', 'Vase'),
      found(null, null),
    ]).toEqual([
      'MUG-S by code',
      'MUG-S by other_name',
      'MUG-S by other_name',
      'MUG-L by name',
      'MUG-L+BOWL-2 by other_name',
      'BOWL+BOWL-2 by name',
      'none',
      'none',
    ]))
  it('learns a name once, knows it then, and forgets it again', () => {
    const before = item('VASE', 'Tall vase')
    const learned = learnName(before, 'Vase (tall), blue')
    expect(nameBook([learned]).find({ code: null, name: 'blue vase tall' })).toMatchObject({
      found: 'one',
      by: 'other_name',
    })
    expect(learnName(learned, 'BLUE tall vase')).toBe(learned)
    expect(learnName(before, 'vase, tall')).toBe(before)
    expect(learnName(before, '?!')).toBe(before)
    expect(forgetName(learned, 'tall blue vase')).toEqual(before)
  })
})
