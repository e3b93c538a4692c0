// @vitest-environment happy-dom
import { bookEndpoints, type Trace } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it, vi } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { TracePanel } from './TracePanel.tsx'

afterEach(cleanup)

const line = (at: number) => ({ title: `OH-${at}`, detail: '2026-03-05', amount: at, link: `line:openhall/OH-${at}` })
const trace = (named: number): Trace => ({
  title: 'OH-2611',
  amount: 681_200,
  currency: 'EUR',
  steps: [
    {
      sort: 'order',
      here: false,
      title: '30 orders',
      detail: '',
      count: 30,
      amount: 681_200,
      currency: 'EUR',
      link: null,
      items: [],
    },
    {
      sort: 'line',
      here: true,
      title: '30 activity lines',
      detail: 'the heaviest first',
      count: 30,
      amount: 681_200,
      currency: 'EUR',
      link: '/settlements/openhall/OH-2611/EUR',
      items: Array.from({ length: named }, (_, at) => line(at + 1)),
    },
  ],
})
const drawn = () => {
  const server = stubServer()
  const start = { at: 'settlement', source: 'openhall', key: 'OH-2611', currency: 'EUR' } as const
  const draw = () => drawPage(<TracePanel />, { path: '/c/1/settlements', at: '/c/1/settlements', trace: start })
  return { server, draw }
}

it('shows the way with the place one stands at, and names the rest where more are asked for', async () => {
  const { server, draw } = drawn()
  const asked = server.answers(bookEndpoints.trace, ({ query }) => trace(query.named ? 30 : 4))
  draw()
  const panel = await screen.findByRole('dialog', { name: 'Trace' })
  await vi.waitFor(() => expect(within(panel).getAllByRole('listitem')).toHaveLength(2))
  expect(within(panel).getByRole('heading', { level: 3 }).textContent).toBe('OH-2611')
  expect(within(panel).getByText('Activity, you are here')).toBeTruthy()
  await userEvent.click(within(panel).getByRole('button', { name: 'and 26 more, smaller' }))
  await vi.waitFor(() => expect(within(panel).getByRole('button', { name: 'OH-30' })).toBeTruthy())
  expect(asked.at(-1)?.query).toMatchObject({ at: 'settlement', named: '500' })
  // A part is traced on from there.
  await userEvent.click(within(panel).getByRole('button', { name: 'OH-3' }))
  await vi.waitFor(() => expect(asked.at(-1)?.query).toEqual({ at: 'line', source: 'openhall', lineId: 'OH-3' }))
})

it('says what kept the way from being shown, and tries again', async () => {
  const { server, draw } = drawn()
  server.refuses(bookEndpoints.trace, 500, 'The database does not answer.')
  draw()
  expect((await screen.findByRole('alert')).textContent).toContain('The database does not answer.')
  server.answers(bookEndpoints.trace, trace(4))
  await userEvent.click(screen.getByRole('button', { name: 'Try again' }))
  expect(await screen.findByText('30 activity lines')).toBeTruthy()
})

it('Close and Escape put it away', async () => {
  const { server, draw } = drawn()
  server.answers(bookEndpoints.trace, trace(4))
  draw()
  await userEvent.click(await screen.findByRole('button', { name: /^Close/ }))
  await vi.waitFor(() => expect(screen.queryByRole('dialog', { name: 'Trace' })).toBeNull())
})
