// @vitest-environment happy-dom
import { type LinkedQuestion, noteEndpoints } from '@culvert/contract'
import { cleanup, screen } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { QuestionPage } from './QuestionPage.tsx'

afterEach(() => {
  cleanup()
  window.location.hash = ''
})

const question: LinkedQuestion = {
  practice: 'Tern & Tally',
  client: 'Kiln Lane Ceramics',
  askedBy: 'Orla Quill',
  askedAt: '2026-06-30T16:00:00.000Z',
  title: 'the deposit of 7 March',
  text: 'What was this for?',
  expiresAt: '2026-07-14T16:00:00.000Z',
  closed: false,
  answers: [],
  evidence: [],
}

const drawn = (
  is: 'unopened' | 'open_here' | 'open_elsewhere' | 'over',
  hash = '#a-token-of-more-than-twenty-signs',
) => {
  window.location.hash = hash
  const server = stubServer()
  const looked = server.answers(noteEndpoints.lookAtQuestion, { is })
  const opened = server.answers(noteEndpoints.openQuestion, question)
  drawPage(<QuestionPage />, { path: '/question', at: '/question' })
  return { server, looked, opened }
}

it('opens on a press alone, shows the question, and sends the answer', async () => {
  const { server, opened } = drawn('unopened')
  const open = await screen.findByRole('button', { name: 'Open the question' })
  expect(opened).toHaveLength(0)
  expect(screen.queryByText('What was this for?')).toBeNull()
  await userEvent.click(open)
  await screen.findByText('What was this for?')
  const answered = server.answers(noteEndpoints.answerByLink, {})
  // Nothing is sent of nothing.
  await userEvent.click(screen.getByRole('button', { name: 'Send' }))
  await screen.findByText('a few words')
  expect(answered).toHaveLength(0)
  await userEvent.type(screen.getByRole('textbox', { name: 'Your answer' }), 'Clay.')
  await userEvent.click(screen.getByRole('button', { name: 'Send' }))
  await screen.findByText('Your answer is sent. Thank you.')
  expect(answered[0]?.body).toMatchObject({ text: 'Clay.' })
})

it('opens by itself where it is open already', async () => {
  const { opened } = drawn('open_here')
  await screen.findByText('What was this for?')
  expect(opened).toHaveLength(1)
})

it.each([
  ['open_elsewhere', 'The question was opened in another browser.'],
  ['over', 'The link is good no more'],
] as const)('shows nothing of it where it is %s', async (is, text) => {
  const { opened } = drawn(is)
  await screen.findByText(new RegExp(text))
  expect(opened).toHaveLength(0)
  expect(screen.queryByRole('button', { name: 'Open the question' })).toBeNull()
})

it('asks nothing of a link without its token', async () => {
  const { looked } = drawn('unopened', '')
  await screen.findByText(/The link is good no more/)
  expect(looked).toHaveLength(0)
})

it('keeps what was written where the server is gone', async () => {
  const { server } = drawn('open_here')
  await userEvent.type(await screen.findByRole('textbox', { name: 'Your answer' }), 'Half an answer')
  server.refuses(noteEndpoints.answerByLink, 503, 'The database does not answer.')
  await userEvent.click(screen.getByRole('button', { name: 'Send' }))
  await screen.findByText('The database does not answer.')
  expect((screen.getByRole('textbox', { name: 'Your answer' }) as HTMLTextAreaElement).value).toBe('Half an answer')
})
