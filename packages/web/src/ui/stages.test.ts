import { type StageName, type StageSummary, stageNames } from '@culvert/contract'
import { describe, expect, it } from 'vitest'
import { stageSaying } from './stages.ts'

const course = (facts: Partial<Record<StageName, Partial<StageSummary>>>): StageSummary[] =>
  stageNames.map(stage => ({ stage, waiting: 0, amount: 0, note: stage === 'close' ? '' : '0', ...facts[stage] }))
const said = (facts: Partial<Record<StageName, Partial<StageSummary>>>) => {
  const all = course(facts)
  return Object.fromEntries(all.map(summary => [summary.stage, stageSaying(summary, all).text]))
}

describe('the course', () => {
  it('says of a new client that nothing is there yet, not that all is done', () => {
    expect(new Set(Object.values(said({})))).toEqual(new Set(['nothing yet']))
    expect(said({ sources: { note: '2' } })).toMatchObject({ sources: '2 connected', mapping: 'nothing yet' })
  })
  it('says nothing of proofs, pairs and locks before anything is posted', () => {
    const early = said({ sources: { note: '2' }, settlements: { waiting: 3 } })
    expect(early).toMatchObject({ mapping: 'all mapped', settlements: '3 to post' })
    expect(early).toMatchObject({ clearing: 'nothing yet', bank: 'nothing yet', close: 'nothing yet' })
  })
  it('says what is done of a client at work', () => {
    const done = { sources: 'in step', mapping: 'all mapped', settlements: 'all posted', clearing: 'proved' }
    const all = said({ sources: { note: '2' }, books: { note: '12' } })
    expect(all).toMatchObject({ ...done, sources: '2 in step', bank: 'all paired', close: 'all locked' })
    expect(said({ books: { note: '12' }, clearing: { waiting: 1, note: '1' } })).toMatchObject({
      clearing: 'unexplained',
    })
  })
})
