// @vitest-environment happy-dom
import { type ActRow, actEndpoints, closeEndpoints, settlementEndpoints, subjectKey } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { ActsPage } from './ActsPage.tsx'

afterEach(cleanup)

const ben = { id: 2, name: 'Ben Aster' }
const posted = (actId: string, ...keys: string[]): ActRow => ({
  actId,
  sort: 'post',
  at: '2026-06-03T09:00:00.000Z',
  by: ben,
  note: `${keys.length} settlements`,
  count: keys.length,
  objects: keys.map(key => ({
    subject: 'settlement',
    key: subjectKey('openhall', key, 'EUR'),
    before: { state: 'proposed' },
    after: { state: 'posted' },
  })),
  seq: 4,
})

const drawn = async (acts: readonly ActRow[], at = '/c/1/acts') => {
  const server = stubServer()
  const asked = server.answers(actEndpoints.acts, {
    acts: [...acts],
    count: acts.length,
    people: [ben, { id: 0, name: '' }],
    sorts: ['post', 'set_aside'],
  })
  // A list shows the first objects of an act; its own page all of them.
  server.answers(actEndpoints.act, ({ params }) => acts.find(one => one.actId === params.act) ?? (acts[0] as ActRow))
  drawPage(<ActsPage />, { path: '/c/1/acts', at })
  await screen.findByRole('table', { name: 'Acts' })
  return { server, asked }
}

it('asks for what is chosen, and names the client who came by a link', async () => {
  const { asked } = await drawn([{ ...posted('a', 'OH-1'), by: { id: 0, name: '' }, sort: 'answer' }])
  expect(screen.getByRole('table', { name: 'Acts' }).textContent).toContain('the client, by a link')
  await userEvent.selectOptions(screen.getByRole('combobox', { name: 'Who' }), 'Ben Aster')
  await userEvent.selectOptions(screen.getByRole('combobox', { name: 'What' }), 'posted')
  await expect.poll(() => asked.at(-1)?.query).toMatchObject({ by: '2', sort: 'post' })
})

it('takes a whole batch back: each settlement once, however many acts touched it', async () => {
  const { server } = await drawn([posted('a', 'OH-1', 'OH-2'), posted('b', 'OH-2', 'OH-3')], '/c/1/acts?act=post&by=2')
  const asked = server.answers(settlementEndpoints.takeBack, {
    takenBack: [{ source: 'openhall', key: 'OH-1', currency: 'EUR' }],
    entries: 2,
    refused: [],
    brokenOff: null,
  })
  await userEvent.click(screen.getByRole('button', { name: 'Take back these 2 acts' }))
  const dialog = await screen.findByRole('dialog', { name: 'Take back 3 settlements?' })
  await userEvent.click(within(dialog).getByRole('button', { name: 'Take back' }))
  await screen.findByText('1 settlement taken back.')
  expect(asked[0]?.body).toEqual({
    keys: ['OH-1', 'OH-2', 'OH-3'].map(key => ({ source: 'openhall', key, currency: 'EUR' })),
  })
})

it('offers no way back where there is none, or where not all that was asked for is shown', async () => {
  await drawn([posted('a', 'OH-1'), { ...posted('b', 'OH-2'), sort: 'set_aside' }])
  expect(screen.queryByRole('button', { name: /Take back/ })).toBeNull()
})

it('says what was refused of a way back', async () => {
  const lock: ActRow = {
    ...posted('c'),
    sort: 'lock_period',
    count: 1,
    objects: [{ subject: 'month', key: '2026-05', before: { locked: false }, after: { locked: true } }],
  }
  const { server } = await drawn([lock])
  server.refuses(closeEndpoints.setLocked, 409, 'Jun 2026 is locked: months are opened from the latest back.')
  await userEvent.click(screen.getByText('locked a month', { selector: 'td *' }))
  const dialog = await screen.findByRole('dialog', { name: 'Ben Aster locked a month' })
  expect(dialog.textContent).toContain('locked no → yes')
  await userEvent.click(await within(dialog).findByRole('button', { name: 'Take back' }))
  const asked = await screen.findByRole('dialog', { name: 'Take back the lock?' })
  await userEvent.click(within(asked).getByRole('button', { name: 'Take back' }))
  expect((await screen.findByText(/Jun 2026 is locked/)).textContent).toBeTruthy()
})

it('says where the chain is broken', async () => {
  const { server } = await drawn([posted('a', 'OH-1')])
  server.answers(actEndpoints.checkSeals, {
    acts: 9,
    last: { seq: 9, seal: 'ab'.repeat(32) },
    faults: [
      { seq: 4, actId: 'a', what: 'changed' },
      { seq: 10, actId: null, what: 'cut_off' },
    ],
  })
  await userEvent.click(screen.getByRole('button', { name: 'Check the seals' }))
  const found = await screen.findByText(/Act 4 was changed after it was sealed/)
  expect(found.parentElement?.textContent).toContain('Act 10 the end is cut off')
})
