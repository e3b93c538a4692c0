// @vitest-environment happy-dom
import { type CloseMonth, closeEndpoints, type MonthState } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it, vi } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { ClosePage } from './ClosePage.tsx'

afterEach(cleanup)

const month = (name: string, more: Partial<CloseMonth> = {}): CloseMonth => ({
  month: name,
  locked: false,
  blocked: 0,
  proposed: 0,
  unpaired: 0,
  corrections: 0,
  waitingAmount: 0,
  ready: true,
  ...more,
})
const state = (more: Partial<MonthState> = {}): MonthState => ({
  month: '2026-05',
  locked: false,
  reason: '',
  blocked: 0,
  proposed: 0,
  corrections: 0,
  unpairedPayouts: 0,
  openBankLines: 0,
  unproved: [],
  taxOff: [],
  open: false,
  before: null,
  ...more,
})
const drawn = async (of: MonthState) => {
  const server = stubServer()
  const months = [month('2026-06', { blocked: 3, waitingAmount: 12_345, ready: false }), month('2026-05')]
  server.answers(closeEndpoints.months, { months })
  server.answers(closeEndpoints.month, of)
  drawPage(<ClosePage />, { path: '/c/1/close', at: '/c/1/close' })
  await screen.findByRole('row', { name: /Jun 2026/ })
  return server
}
const lock = (dialog: HTMLElement) => within(dialog).getByRole('button', { name: 'Lock the month' })

it('shows what waits in each month as links to it, with its money', async () => {
  await drawn(state())
  const june = screen.getByRole('row', { name: /Jun 2026/ })
  expect(within(june).getByRole('link', { name: '3' }).getAttribute('href')).toBe(
    '/c/1/settlements?state=blocked&period=2026-06',
  )
  expect(within(june).getByRole('link', { name: '123.45' }).getAttribute('href')).toBe(
    '/c/1/settlements?state=waiting&period=2026-06',
  )
  expect(screen.getByRole('row', { name: /May 2026/ }).textContent).toContain('ready to lock')
})

it('a month in which something is open is locked with a reason only, and can be opened again from the notice', async () => {
  const server = await drawn(state({ openBankLines: 2, open: true }))
  const set = server.answers(closeEndpoints.setLocked, {})
  await userEvent.click(screen.getByRole('button', { name: 'Lock May 2026' }))
  const dialog = await screen.findByRole('dialog', { name: 'Lock May 2026' })
  expect(await within(dialog).findByText('2 bank lines not decided')).toBeTruthy()
  expect(lock(dialog)).toHaveProperty('disabled', true)
  expect(within(dialog).getByText('Say why, as something is open.')).toBeTruthy()
  await userEvent.type(within(dialog).getByLabelText('Why it is locked all the same'), 'the bank is closed{Enter}')
  await vi.waitFor(() => expect(set).toHaveLength(1))
  expect(set[0]?.body).toEqual({ month: '2026-05', locked: true, reason: 'the bank is closed' })
  await userEvent.click(await screen.findByRole('button', { name: 'Open it again' }))
  await vi.waitFor(() => expect(set[1]?.body).toEqual({ month: '2026-05', locked: false, reason: '' }))
})

it('a month that is not the next says which comes first, and cannot be locked', async () => {
  await drawn(state({ month: '2026-06', before: '2026-05' }))
  await userEvent.click(screen.getByRole('button', { name: 'Lock Jun 2026' }))
  const dialog = await screen.findByRole('dialog', { name: 'Lock Jun 2026' })
  expect(await within(dialog).findByText(/May 2026 is still open/)).toBeTruthy()
  expect(within(dialog).getByText('Another month comes first.')).toBeTruthy()
  expect(lock(dialog)).toHaveProperty('disabled', true)
})
