// @vitest-environment happy-dom
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it, vi } from 'vitest'
import { RequestRefused } from '../context/request.ts'
import { draw } from '../testing/draw.tsx'
import { NoticeProvider, useNotice } from './Notice.tsx'

afterEach(cleanup)
const undone = vi.fn()
const Acts = () => {
  const notice = useNotice()
  return (
    <>
      <button type="button" onClick={() => notice.say('Posted 1 settlement.', { label: 'Take it back', act: undone })}>
        Post
      </button>
      <button type="button" onClick={() => notice.tellOfJob('Pulled: 12 new.')}>
        Pull
      </button>
      <button
        type="button"
        onClick={() =>
          notice.refuse(
            new RequestRefused(422, {
              error: 'The file was refused.',
              faults: [{ row: 3, column: 'amount', value: '1e9', expected: 'an amount' }],
              count: 40,
            }),
          )
        }
      >
        Bring in
      </button>
    </>
  )
}
const press = (name: string) => userEvent.click(screen.getByRole('button', { name }))

it('what a job came to does not hide what was done, and each is put away by itself', async () => {
  draw(
    <NoticeProvider>
      <Acts />
    </NoticeProvider>,
  )
  await press('Post')
  await press('Pull')
  const shown = () =>
    screen
      .queryAllByRole('status')
      .map(one => one.textContent)
      .filter(Boolean)
      .sort()
  await vi.waitFor(() =>
    expect(shown()).toEqual([
      expect.stringContaining('Posted 1 settlement.'),
      expect.stringContaining('Pulled: 12 new.'),
    ]),
  )
  const pulled = screen.getAllByRole('status').find(one => one.textContent?.includes('Pulled'))
  await userEvent.click(within(pulled ?? expect.fail('it is there')).getByRole('button', { name: 'Put away' }))
  await vi.waitFor(() => expect(shown()).toEqual([expect.stringContaining('Posted 1 settlement.')]))
  await press('Take it back')
  await vi.waitFor(() => expect([undone.mock.calls.length, shown()]).toEqual([1, []]))
})

it('what is done next takes the place of what was done', async () => {
  draw(
    <NoticeProvider>
      <Acts />
    </NoticeProvider>,
  )
  await press('Post')
  await press('Post')
  await press('Bring in')
  expect(await screen.findByRole('alert')).toBeTruthy()
  expect(screen.queryByText(/Posted/)).toBeNull()
})

it('a refusal is an alert, with the faults of the file and how many more there are', async () => {
  draw(
    <NoticeProvider>
      <Acts />
    </NoticeProvider>,
  )
  await press('Bring in')
  const alert = await screen.findByRole('alert')
  expect(alert.textContent).toContain('The file was refused.')
  expect(within(alert).getByRole('table', { name: 'Faults of the file' }).textContent).toContain('and 39 more')
})
