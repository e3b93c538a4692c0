// @vitest-environment happy-dom
import { cleanup, render, screen } from '@testing-library/react'
import { MemoryRouter } from 'react-router'
import { afterEach, expect, it } from 'vitest'
import { carriedFrom, useListed } from './listed.ts'

afterEach(cleanup)
const Place = () => <output>{JSON.stringify(useListed())}</output>
const placeAt = (pathname: string, state: unknown) => {
  render(
    <MemoryRouter initialEntries={[{ pathname, state }]}>
      <Place />
    </MemoryRouter>,
  )
  return JSON.parse(screen.getByRole('status').textContent ?? '')
}
const list = carriedFrom(['/c/1/s/9?period=2026-03', '/c/1/s/4?period=2026-03', '/c/1/s/7?period=2026-03'])

it('goes on along the list that a page was opened from', () => {
  expect(placeAt('/c/1/s/4', list)).toEqual({
    previous: '/c/1/s/9?period=2026-03',
    next: '/c/1/s/7?period=2026-03',
    index: 1,
    count: 3,
    state: list,
  })
})

it.each([
  ['opened by its address', '/c/1/s/4', null],
  ['not in the list', '/c/1/s/5', list],
  ['with a state of something else', '/c/1/s/4', { saved: true }],
])('is in no list when %s', (_, pathname, state) => {
  expect(placeAt(pathname, state)).toBeNull()
})
