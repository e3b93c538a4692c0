// @vitest-environment happy-dom
import { useQuery } from '@tanstack/react-query'
import { cleanup, screen } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it } from 'vitest'
import { draw } from '../testing/draw.tsx'
import { allOf, Instead } from './Instead.tsx'
import { Page } from './Page.tsx'

afterEach(cleanup)

const answers: (() => string)[] = [
  () => {
    throw new Error('The database does not answer.')
  },
  () => 'Openhall',
  () => {
    throw new Error('The server is gone.')
  },
]

const Sources = () => {
  const query = useQuery({ queryKey: ['sources'], queryFn: async () => (answers.shift() ?? (() => 'no more'))() })
  return (
    <Page title="Sources" facts={<span>one source</span>} of={query}>
      <button type="button" onClick={() => void query.refetch()}>
        {query.data}
      </button>
    </Page>
  )
}

it('while data is on its way a page says so; where it fails it says why, and asks again', async () => {
  draw(<Sources />)
  expect(screen.getByRole('status', { name: 'Loading' })).toBeTruthy()
  expect((await screen.findByRole('alert')).textContent).toContain('The database does not answer.')
  await userEvent.click(screen.getByRole('button', { name: 'Try again' }))
  // What was shown once stays, and says that it is not up to date.
  await userEvent.click(await screen.findByRole('button', { name: 'Openhall' }))
  expect((await screen.findByRole('alert')).textContent).toContain('Not up to date: The server is gone.')
  expect(screen.getByRole('button', { name: 'Openhall' })).toBeTruthy()
})

it('of several queries the one that failed is told, and asked again alone', async () => {
  const asked: string[] = []
  const one = (name: string, data: unknown, error: Error | null) => ({
    data,
    error,
    isFetching: false,
    refetch: () => asked.push(name),
  })
  draw(<Instead of={allOf(one('routes', [], null), one('accounts', undefined, new Error('No accounts.')))} />)
  expect(screen.getByRole('alert').textContent).toContain('No accounts.')
  await userEvent.click(screen.getByRole('button', { name: 'Try again' }))
  expect(asked).toEqual(['accounts'])
})
