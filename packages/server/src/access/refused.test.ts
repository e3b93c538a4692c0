import { describe, expect, it } from 'vitest'
import { problemOf } from './answerProblem.ts'
import { refusals } from './refusals.ts'
import { Conflict, found, Question, Refused } from './refused.ts'

describe('a refusal', () => {
  it('is named with its figures, and worded for whoever reads it', () => {
    expect(
      problemOf(new Refused('filed_already', { from: '2026-01-01', to: '2026-03-31', agency: 'Revenue' })),
    ).toEqual({
      error: '2026-01-01 to 2026-03-31 is filed with Revenue already.',
      code: 'filed_already',
      figures: { from: '2026-01-01', to: '2026-03-31', agency: 'Revenue' },
    })
    expect(problemOf(new Refused('sides_differ', { difference: -1050, base: 'EUR' })).error).toBe(
      'Debits and credits differ by -10.50: nothing was posted.',
    )
    expect(() => found(null, 'entry')).toThrow('no such entry')
  })

  it('says what is asked about, and that somebody else has saved', () => {
    expect(problemOf(new Question('other_clearing', { accounts: ['1230 (brookpay)'] }))).toMatchObject({
      ask: 'other_clearing',
      error: expect.stringContaining('1230 (brookpay) is the clearing account of another source'),
    })
    expect(problemOf(new Conflict('saved_meanwhile', { by: 'Orla Quill', version: 4, madeFrom: 3 }))).toMatchObject({
      conflict: true,
      code: 'saved_meanwhile',
      figures: { by: 'Orla Quill', version: 4, madeFrom: 3 },
    })
  })

  it('is never a fault of the server', () => {
    for (const [code, { status }] of Object.entries(refusals)) {
      expect(status, code).toBeGreaterThanOrEqual(400)
      expect(status, code).toBeLessThan(500)
    }
  })

  it('that has figures cannot be made without them', () => {
    // @ts-expect-error: what is not there has a name
    expect(() => new Refused('not_found')).not.toThrow()
  })
})
