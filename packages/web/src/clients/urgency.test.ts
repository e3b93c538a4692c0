import type { Session } from '@culvert/contract'
import { expect, it } from 'vitest'
import { byUrgency, sumsOf, waitingIn } from './urgency.ts'

type Stages = Session['clients'][number]['stages']
const stages = (said: Partial<Record<Stages[number]['stage'], [number, number, string?]>>): Stages =>
  (['sources', 'mapping', 'settlements', 'payments', 'clearing', 'bank', 'books', 'close'] as const).map(stage => {
    const [waiting = 0, amount = 0, note = stage === 'books' ? '9' : '0'] = said[stage] ?? []
    return { stage, waiting, amount, note }
  })

it('what is unexplained stands before what is blocked, and that before what waits to be paired, whatever its money', () => {
  const client = { stages: stages({ bank: [4, 900_000], settlements: [3, 50_000, '1'], clearing: [1, 590, '1'] }) }
  const heaviest = [
    { stage: 'settlements' as const, title: 'OH-7', reason: 'unmapped', since: '2026-06-14', link: '/x' },
  ]
  const waiting = waitingIn(client, { heaviest })
  expect(waiting.map(one => one.stage)).toEqual(['clearing', 'settlements', 'bank'])
  expect(waiting[1]).toMatchObject({ since: '2026-06-14', link: '/x' })
  expect(waiting[1]?.heaviest).toMatch(/^OH-7: /)
  expect(waiting[0]?.link).toBe('/clearing')
})

it('clients are ordered by what fails, then by money; one in which nothing waits comes last', () => {
  const of = (said: Parameters<typeof stages>[0]) => waitingIn({ stages: stages(said) }, undefined)
  const quiet = of({})
  const much = of({ bank: [1, 900_000] })
  const little = of({ bank: [1, 100] })
  const failing = of({ clearing: [1, 1, '1'] })
  expect([quiet, little, much, failing].sort(byUrgency)).toEqual([failing, much, little, quiet])
})

it('adds up what waits at a stage', () => {
  const client = (said: Parameters<typeof stages>[0]) => ({ stages: stages(said) }) as Session['clients'][number]
  expect(sumsOf([client({ bank: [2, 100] }), client({ bank: [3, -40] })], 'bank')).toEqual({ waiting: 5, amount: 60 })
})
