import fc from 'fast-check'
import { expect, it } from 'vitest'
import { SeenIds } from './seenIds.ts'

it('takes no id of a million like ones for another, and finds each again', () => {
  const seen = new SeenIds()
  let taken = 0
  for (let week = 0; week < 2000; week++)
    for (let order = 0; order < 500; order++) if (seen.add(`W-${String(week).padStart(5, '0')}-${order}s`)) taken++
  expect(taken).toBe(1_000_000)
  for (let week = 0; week < 2000; week += 37) expect(seen.add(`W-${String(week).padStart(5, '0')}-7s`)).toBe(false)
  expect(seen.add('W-00001-7h')).toBe(true)
})

it('says what a set of texts would say', () => {
  fc.assert(
    fc.property(fc.array(fc.string({ maxLength: 3 }), { maxLength: 3000, size: 'max' }), ids => {
      const [seen, texts] = [new SeenIds(), new Set<string>()]
      for (const id of ids) {
        expect(seen.add(id)).toBe(!texts.has(id))
        texts.add(id)
      }
    }),
    { numRuns: 40 },
  )
})
