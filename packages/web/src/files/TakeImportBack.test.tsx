// @vitest-environment happy-dom
import { type ImportPage, type PullRow, sourceEndpoints } from '@culvert/contract'
import { cleanup, screen } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { TakeImportBack } from './TakeImportBack.tsx'

afterEach(cleanup)

const pull = (more: Partial<PullRow> = {}): PullRow => ({
  ...{ jobId: 'j', sort: 'upload', subject: 'openhall', state: 'done', by: 'Orla Quill', message: 'wrong.csv' },
  ...{ startedAt: '2026-06-30T16:00:00Z', endedAt: null, done: 0, total: null, added: 2, revised: 0, same: 0 },
  takenBackAt: null,
  ...more,
})
const page = (more: Partial<ImportPage> = {}): ImportPage => ({
  ...{ jobId: 'j', name: 'wrong.csv', sort: 'activity', rows: 2, restored: 1, from: '2026-06-20', to: '2026-06-21' },
  ...{ sums: [{ currency: 'EUR', amount: 2400 }], settlements: 1, accounts: [], holds: [] },
  ...more,
})
const drawn = (row: PullRow) => {
  const server = stubServer()
  drawPage(<TakeImportBack pull={row} />, { path: '/c/:client/x', at: '/c/1/x' })
  return server
}

it('says what goes and what comes back, and does it once it is pressed', async () => {
  const server = drawn(pull())
  server.answers(sourceEndpoints.importedFile, page())
  const sent = server.answers(sourceEndpoints.takeImportBack, page())
  await userEvent.click(await screen.findByRole('button', { name: 'Take back wrong.csv' }))
  const dialog = await screen.findByRole('dialog')
  expect(dialog.textContent).toContain('2 lines of 20 Jun 2026 to 21 Jun 2026 go.')
  expect(dialog.textContent).toContain('1 line that it had changed is again what it was.')
  expect(dialog.textContent).toContain('Its lines come to EUR 24.00')
  expect(sent).toEqual([])
  await userEvent.click(screen.getByRole('button', { name: 'Take back 2 lines' }))
  await screen.findByText('wrong.csv is taken back.')
  expect(sent).toHaveLength(1)
})

it('says what rests on it, with what to do first, and offers no act', async () => {
  const server = drawn(pull())
  server.answers(
    sourceEndpoints.importedFile,
    page({ holds: [{ code: 'posted', count: 22, names: ['OH-2601', 'OH-2602'] }] }),
  )
  await userEvent.click(await screen.findByRole('button', { name: 'Take back wrong.csv' }))
  const dialog = await screen.findByRole('dialog')
  expect(dialog.textContent).toContain('Posted with it: 22')
  expect(dialog.textContent).toContain('OH-2601, OH-2602 …')
  expect(screen.queryByRole('button', { name: /^Take back \d/ })).toBeNull()
})

it('is offered for files that came in and stand, and for nothing else', async () => {
  for (const row of [pull({ state: 'failed' }), pull({ sort: 'pull' }), pull({ state: 'running' })]) {
    drawn(row)
    expect(screen.queryByRole('button', { name: /Take back/ })).toBeNull()
    cleanup()
  }
  drawn(pull({ takenBackAt: '2026-06-30T16:00:00Z' }))
  await screen.findByText(/^taken back 30 Jun 2026/)
})
