import { expect, it } from 'vitest'
import { whyNotTakenBack } from './takenBack.ts'

it('a settlement is taken back while it is posted and no deposit of it is confirmed', () => {
  expect(whyNotTakenBack({ state: 'posted', paired: false })).toBeNull()
  expect(whyNotTakenBack({ state: 'posted', paired: true })).toBe('paired')
  for (const state of ['proposed', 'blocked', 'set_aside'])
    expect(whyNotTakenBack({ state, paired: true }), state).toBe('not_posted')
  expect(whyNotTakenBack(undefined)).toBe('not_posted')
})
