// @vitest-environment happy-dom
import { clientEndpoints, type Overview, rightsOfRole, type Session, stageNames } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it, vi } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { ClientsPage } from './ClientsPage.tsx'

afterEach(cleanup)

type Client = Session['clients'][number]
const client = (
  clientId: number,
  name: string,
  waiting: Partial<Record<Client['stages'][number]['stage'], number>>,
): Client => ({
  clientId,
  name,
  base: clientId === 3 ? 'USD' : 'EUR',
  timeZone: 'Europe/Dublin',
  archivedAt: null,
  locale: 'en-IE',
  role: 'bookkeeper',
  rights: [...rightsOfRole.bookkeeper],
  stages: stageNames.map(stage => ({
    stage,
    waiting: waiting[stage] ?? 0,
    amount: (waiting[stage] ?? 0) * 1000,
    // What is unexplained at the clearing accounts is told by a note.
    note: stage === 'books' ? '9' : stage === 'clearing' && waiting.clearing ? '1' : '0',
  })),
})
const overview: Overview = {
  lastCame: '2026-06-21 22:00:00+00',
  running: 0,
  closedTo: null,
  since: { at: '2026-06-20T22:00:00Z', lines: 12, sources: 1, statements: 0, revised: 2 },
  heaviest: [],
}
const clients = [
  client(1, 'Ash Street Pottery', {}),
  client(2, 'Kiln Lane Ceramics', { bank: 4, clearing: 1 }),
  client(3, 'Larkwool Yarns', { bank: 2 }),
]
const drawn = async (all = clients) => {
  const server = stubServer()
  server.answers(clientEndpoints.session, {
    user: { name: 'Orla Quill', email: 'orla@example.test' },
    practice: { name: 'Tern & Tally', role: 'owner', rights: [...rightsOfRole.owner] },
    clients: all,
  })
  server.answers(clientEndpoints.overview, overview)
  const { here } = drawPage(<ClientsPage />, { path: '/', at: '/' })
  return { here, table: await screen.findByRole('table', { name: 'Clients' }) }
}
const names = (table: HTMLElement) =>
  within(table)
    .getAllByRole('row')
    .map(row => /(Ash Street|Kiln Lane|Larkwool)/.exec(row.textContent ?? '')?.[0])
    .filter(Boolean)

it('what needs one first stands first, with its course and what came in', async () => {
  const { table } = await drawn()
  expect(names(table)).toEqual(['Kiln Lane', 'Larkwool', 'Ash Street'])
  expect(within(table).getByRole('row', { name: /Ash Street/ }).textContent).toContain('nothing waits')
  expect((await screen.findByRole('note')).textContent).toContain('36 lines from 3 sources')
  expect(screen.getByRole('note').textContent).toContain('6 lines came back changed')
})

it('sums stand by currency: of two together there are none', async () => {
  const { table } = await drawn()
  const totals = within(table)
    .getAllByRole('row')
    .map(row => row.textContent ?? '')
    .filter(text => text.startsWith('All in'))
  expect(totals).toEqual([expect.stringContaining('4 waiting40.00'), expect.stringContaining('2 waiting20.00')])
})

it('is walked by key: o unfolds all that waits in one, Enter goes where it is most urgent', async () => {
  const { here, table } = await drawn()
  await userEvent.keyboard('j')
  await userEvent.keyboard('o')
  await vi.waitFor(() => expect(within(table).getByRole('row', { name: /^Bank: / })).toBeTruthy())
  await userEvent.keyboard('o')
  await vi.waitFor(() => expect(within(table).queryByRole('row', { name: /^Bank: / })).toBeNull())
  await userEvent.keyboard('{Enter}')
  await vi.waitFor(() => expect(here()).toBe('/c/2/clearing'))
})

it('with no client it says how to begin', async () => {
  const { table } = await drawn([])
  expect(table.textContent).toContain('No clients yet.')
})
