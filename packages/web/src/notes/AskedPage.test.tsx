// @vitest-environment happy-dom
import { type AskedOf, type ConsentRow, consentEndpoints, noteEndpoints } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { AskedPage } from './AskedPage.tsx'

afterEach(cleanup)

const consent = (more: Partial<ConsentRow> = {}): ConsentRow => ({
  consentId: 'c1',
  wanted: { sort: 'post', keys: [{ source: 'openhall', key: 'OH-1', currency: 'EUR' }] },
  askedBy: { id: 2, name: 'Ben Aster' },
  askedAt: '2026-06-30T16:00:00.000Z',
  note: 'As agreed',
  count: 1,
  amount: 12_345,
  outcome: null,
  decidedBy: null,
  decidedAt: null,
  reason: '',
  stands: true,
  ...more,
})

const drawn = async (asked: Partial<AskedOf>) => {
  const server = stubServer()
  server.answers(noteEndpoints.asked, { questions: [], answered: [], consents: [], wanted: [], ...asked })
  drawPage(<AskedPage />, { path: '/c/1/asked', at: '/c/1/asked' })
  await screen.findByRole('heading', { name: 'For your consent' })
  return server
}
const part = () => screen.getByRole('region', { name: 'For your consent' })

it('tells what is asked for, its money and its words, and consents once it was asked', async () => {
  const server = await drawn({ consents: [consent()] })
  expect(part().textContent).toMatch(/Ben Aster asks to post 1 settlement.*123\.45.*OH-1.*“As agreed”/)
  const given = server.answers(consentEndpoints.giveConsent, { done: 1 })
  await userEvent.click(within(part()).getByRole('button', { name: 'Consent' }))
  expect(given).toHaveLength(0)
  const dialog = await screen.findByRole('dialog', { name: 'Consent to post 1 settlement?' })
  await userEvent.click(within(dialog).getByRole('button', { name: 'Consent' }))
  await screen.findByText('Done as Ben Aster asked: 1 of 1.')
  expect(given[0]?.params).toEqual({ consent: 'c1' })
})

it('does not offer consent to what has changed since', async () => {
  await drawn({ consents: [consent({ stands: false })] })
  expect(part().textContent).toContain('it must be asked for again')
  expect((within(part()).getByRole('button', { name: 'Consent' }) as HTMLButtonElement).disabled).toBe(true)
})

it('does not consent without a reason', async () => {
  const server = await drawn({ consents: [consent()] })
  const refused = server.answers(consentEndpoints.refuseConsent, {})
  await userEvent.click(within(part()).getByRole('button', { name: 'Do not consent' }))
  const dialog = await screen.findByRole('dialog')
  await userEvent.click(within(dialog).getByRole('button', { name: 'Do not consent' }))
  await within(dialog).findByText('the reason')
  expect(refused).toHaveLength(0)
  await userEvent.type(within(dialog).getByRole('textbox', { name: 'Reason' }), 'The refund is missing')
  await userEvent.click(within(dialog).getByRole('button', { name: 'Do not consent' }))
  await expect.poll(() => refused[0]?.body).toEqual({ reason: 'The refund is missing' })
})

it('says what became of what one asked for oneself', async () => {
  await drawn({
    wanted: [
      consent({ consentId: 'c2', outcome: 'given', decidedBy: 'Orla Quill', stands: null }),
      consent({ consentId: 'c3', outcome: 'refused', decidedBy: 'Orla Quill', reason: 'not yet', stands: null }),
      consent({ consentId: 'c4', outcome: 'moved', decidedBy: 'Orla Quill', stands: null }),
    ],
  })
  const own = screen.getByRole('region', { name: 'What you asked consent for' }).textContent
  expect(own).toContain('done with the consent of Orla Quill')
  expect(own).toContain('Orla Quill did not consent: not yet')
  expect(own).toContain('was something else by then, and was not done')
})
