// @vitest-environment happy-dom
import { type ActRow, actEndpoints, type NoteRow, noteEndpoints } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it } from 'vitest'
import { AboutContext } from '../context/AboutContext.tsx'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { AboutPanel } from './AboutPanel.tsx'

afterEach(cleanup)

const about = { subject: 'bank_line', key: '1000/bl-7', title: 'bank line of 7 March', link: '/bank/1000' } as const
const note = (more: Partial<NoteRow> = {}): NoteRow => ({
  ...{ noteId: 'n1', subject: 'bank_line', key: '1000/bl-7', title: about.title, link: about.link },
  sort: 'question',
  text: 'Is this ours?',
  by: { id: 2, name: 'Ben Aster' },
  at: '2026-06-03T09:00:00.000Z',
  to: { id: 1, name: 'Orla Quill' },
  sent: null,
  answers: [],
  evidence: [],
  closedAt: null,
  ...more,
})
const act: ActRow = {
  actId: 'a1',
  sort: 'code_line',
  at: '2026-06-02T09:00:00.000Z',
  by: { id: 2, name: 'Ben Aster' },
  note: '',
  count: 2,
  objects: [
    { subject: 'pairing', key: 'p1', before: null, after: { sort: 'coded' } },
    { subject: 'bank_line', key: '1000/bl-7', before: null, after: { decided: 'coded' } },
  ],
  seq: 3,
}

const drawn = async (notes: readonly NoteRow[] = []) => {
  const server = stubServer()
  server.answers(noteEndpoints.notes, { notes: [...notes] })
  server.answers(noteEndpoints.members, { members: [{ id: 1, name: 'Orla Quill', role: 'owner' }] })
  server.answers(actEndpoints.acts, { acts: [act], count: 1, people: [], sorts: [] })
  server.answers(actEndpoints.act, act)
  drawPage(
    <AboutContext.Provider value={{ about, open: () => undefined, close: () => undefined }}>
      <AboutPanel />
    </AboutContext.Provider>,
    { path: '/c/1/bank/1000', at: '/c/1/bank/1000' },
  )
  await screen.findByRole('heading', { name: about.title })
  return server
}

it('shows what is noted and asked about a thing, and what was done to it', async () => {
  await drawn([note({ answers: [{ by: null, text: 'Clay.', at: '2026-06-04T09:00:00.000Z' }] })])
  const card = await screen.findByRole('article')
  expect(card.textContent).toMatch(/Ben Aster asks Orla Quill.*Is this ours\?.*The client.*Clay\./)
  const history = await screen.findByRole('region', { name: 'History' })
  expect(await within(history).findByText('coded a bank line')).toBeTruthy()
  expect(history.textContent).toContain('decided coded')
})

it('asks the client by a link, which is shown once, and says when no letter went', async () => {
  const server = await drawn()
  const made = server.answers(noteEndpoints.addNote, {
    noteId: 'n2',
    link: 'https://culvert.example/question#secret',
    mailed: false,
  })
  // Nothing is asked with nothing.
  await userEvent.click(screen.getByRole('button', { name: 'Note it' }))
  await screen.findByText('a few words')
  expect(made).toHaveLength(0)
  await userEvent.type(screen.getByRole('textbox', { name: 'Note or question' }), 'What was this for?')
  await userEvent.selectOptions(screen.getByRole('combobox', { name: 'For' }), 'client')
  await userEvent.type(screen.getByRole('textbox', { name: 'Sent to' }), 'mara@')
  await userEvent.click(screen.getByRole('button', { name: 'Ask' }))
  await screen.findByText('an e-mail address, as name@firm.example')
  await userEvent.clear(screen.getByRole('textbox', { name: 'Sent to' }))
  await userEvent.click(screen.getByRole('button', { name: 'Ask' }))
  await screen.findByText('Asked. No letter went: hand the link over.')
  expect(made[0]?.body).toMatchObject({
    ...about,
    text: 'What was this for?',
    ask: { who: 'client', email: null, days: 14 },
  })
  expect((screen.getByRole('textbox', { name: 'Link of the question' }) as HTMLInputElement).value).toContain('#secret')
})

it('keeps what was written where it was refused', async () => {
  const server = await drawn()
  server.refuses(noteEndpoints.addNote, 503, 'The database does not answer.')
  await userEvent.type(screen.getByRole('textbox', { name: 'Note or question' }), 'Half a thought')
  await userEvent.selectOptions(await screen.findByRole('combobox', { name: 'For' }), '1')
  await userEvent.click(screen.getByRole('button', { name: 'Ask' }))
  await screen.findByText('The database does not answer.')
  expect((screen.getByRole('textbox', { name: 'Note or question' }) as HTMLTextAreaElement).value).toBe(
    'Half a thought',
  )
})

it('answers, closes and withdraws what is open, and nothing of what is closed', async () => {
  const sent = { to: 'mara@kilnlane.example', expiresAt: '2026-07-01T09:00:00.000Z', openedAt: null, withdrawnAt: null }
  const server = await drawn([
    note({ sort: 'client_question', to: null, sent }),
    note({ noteId: 'n0', text: 'Long settled', closedAt: '2026-06-01T09:00:00.000Z' }),
  ])
  const [open, closed] = (await screen.findAllByRole('article')) as [HTMLElement, HTMLElement]
  expect(open.textContent).toContain('its link was not opened yet')
  expect(within(closed).queryByRole('button', { name: 'Answer' })).toBeNull()
  const withdrawn = server.answers(noteEndpoints.withdrawLink, {})
  await userEvent.click(within(open).getByRole('button', { name: 'Withdraw the link' }))
  const answered = server.answers(noteEndpoints.answer, {})
  await userEvent.click(within(open).getByRole('button', { name: 'Answer' }))
  await userEvent.type(within(open).getByRole('textbox', { name: 'Answer' }), 'We found it.')
  await userEvent.click(within(open).getByRole('button', { name: 'Answer' }))
  await expect.poll(() => answered[0]?.body).toEqual({ text: 'We found it.' })
  expect(withdrawn[0]?.params).toEqual({ note: 'n1' })
})
