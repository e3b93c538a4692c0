// @vitest-environment happy-dom
import { jobEndpoints, type SettlementRow, type SettlementState, settlementEndpoints } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it, vi } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { SettlementsPage } from './SettlementsPage.tsx'

afterEach(cleanup)

const row = (key: string, state: SettlementState, gross: number, more: Partial<SettlementRow> = {}): SettlementRow => ({
  source: 'openhall',
  key,
  currency: 'EUR',
  name: key,
  sourceName: 'Openhall',
  state,
  from: '2026-06-01',
  to: '2026-06-07',
  entryDate: '2026-06-07',
  payoutDate: null,
  gross,
  fees: -100,
  tax: 0,
  payout: gross - 100,
  balance: 0,
  lines: 3,
  blocks: [],
  corrections: 0,
  correctionAmount: 0,
  setAsideReason: null,
  ...more,
})
const blocks = [{ reason: 'unmapped', amount: 780, concerned: [] }]
const rows = [
  row('OH-1', 'proposed', 10_000),
  row('OH-2', 'proposed', 20_000),
  row('OH-3', 'posted', 30_000),
  row('OH-4', 'blocked', 40_000, { blocks }),
]
const drawn = async () => {
  const server = stubServer()
  const counts = {
    blocked: { count: 1 },
    proposed: { count: 2 },
    posted: { count: 1 },
    set_aside: { count: 0 },
    elsewhere: { count: 0 },
  }
  server.answers(settlementEndpoints.settlements, { rows, counts, more: false })
  server.answers(jobEndpoints.jobs, { jobs: [] })
  drawPage(<SettlementsPage />, { path: '/c/1/settlements', at: '/c/1/settlements' })
  await screen.findByRole('row', { name: /OH-4/ })
  return server
}
const keysOf = (body: unknown) => (body as { keys: { key: string }[] }).keys.map(one => one.key)

it('posts what is shown and proposed, after it was asked with count and money, once however often it is pressed', async () => {
  const server = await drawn()
  const posted = server.answers(settlementEndpoints.post, ({ body }) => ({
    posted: (body as { keys: { source: string; key: string; currency: string }[] }).keys,
    entries: 4,
    notPosted: [],
    brokenOff: null,
  }))
  await userEvent.keyboard('p')
  const dialog = await screen.findByRole('dialog', { name: 'Post 2 settlements?' })
  expect(dialog.textContent).toContain('€ 298.00 after fees')
  const act = within(dialog).getByRole('button', { name: 'Post 2 settlements' })
  await userEvent.dblClick(act)
  expect((await screen.findByRole('status')).textContent).toContain('Posted 2 settlements, 4 entries.')
  expect(posted.map(one => keysOf(one.body))).toEqual([['OH-1', 'OH-2']])
  // The way back stands beside it.
  const back = server.answers(settlementEndpoints.takeBack, {
    takenBack: posted.flatMap(one => (one.body as { keys: { source: string; key: string; currency: string }[] }).keys),
    entries: 4,
    refused: [],
    brokenOff: null,
  })
  await userEvent.click(screen.getByRole('button', { name: 'Take back 2' }))
  await vi.waitFor(() => expect(back.map(one => keysOf(one.body))).toEqual([['OH-1', 'OH-2']]))
})

it('what a filter hides is not posted with the rest', async () => {
  const server = await drawn()
  const posted = server.answers(settlementEndpoints.post, { posted: [], entries: 0, notPosted: [], brokenOff: null })
  await userEvent.type(screen.getByRole('textbox', { name: 'Filter Settlements' }), 'OH-2')
  expect(screen.queryByRole('row', { name: /OH-1/ })).toBeNull()
  await userEvent.click(screen.getByRole('button', { name: 'Post 1 settlement' }))
  await vi.waitFor(() => expect(posted.map(one => keysOf(one.body))).toEqual([['OH-2']]))
})

it('a refusal looks like none of what was done, and leaves what was selected', async () => {
  const server = await drawn()
  server.refuses(settlementEndpoints.takeBack, 409, 'June 2026 is locked.')
  await userEvent.click(screen.getByRole('checkbox', { name: /Select openhall OH-3/ }))
  await userEvent.keyboard('b')
  expect((await screen.findByRole('alert')).textContent).toContain('June 2026 is locked.')
  expect(screen.queryByRole('status', { name: /Took back/ })).toBeNull()
  expect(screen.getByRole('checkbox', { name: /Select openhall OH-3/ })).toHaveProperty('checked', true)
})

it('setting aside asks why, and offers to take up again', async () => {
  const server = await drawn()
  const aside = server.answers(settlementEndpoints.setAside, { changed: 1 })
  const up = server.answers(settlementEndpoints.takeUp, { changed: 1 })
  await userEvent.click(screen.getByRole('checkbox', { name: /Select openhall OH-4/ }))
  await userEvent.click(screen.getByRole('button', { name: /^Set aside/ }))
  const reason = await screen.findByLabelText(/Why it is left out/, {}, { timeout: 10_000 })
  await userEvent.type(reason, 'x{Enter}')
  expect(await screen.findByText(/Say why, in a word or two/)).toBeTruthy()
  expect(aside).toEqual([])
  await userEvent.type(reason, ' sold with the stall{Enter}')
  await userEvent.click(await screen.findByRole('button', { name: 'Take up again' }))
  await vi.waitFor(() => expect([aside.length, up.map(one => keysOf(one.body))]).toEqual([1, [['OH-4']]]))
})
