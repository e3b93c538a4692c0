// @vitest-environment happy-dom
import { bookEndpoints, type OpeningPage as Facts } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it, vi } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { OpeningPage } from './OpeningPage.tsx'

afterEach(cleanup)

const accounts = [
  { code: '1000', name: 'Bank', type: 'bank' },
  { code: '2200', name: 'VAT payable', type: 'tax' },
  { code: '3000', name: 'Capital', type: 'equity' },
]
const drawn = async (standing: Facts['standing'] = null) => {
  const server = stubServer()
  server.answers(bookEndpoints.opening, { base: 'EUR', before: '2025-12-31', standing, accounts })
  drawPage(<OpeningPage />, { path: '/c/1/books/opening', at: '/c/1/books/opening' })
  await screen.findByRole('table', { name: 'Opening balances' })
  return server
}
const field = (name: string) => screen.getByLabelText(name)
const post = () => screen.getByRole('button', { name: /^Post/ })

it('adds up both sides as they are typed, and says what is missing until they are even', async () => {
  const server = await drawn()
  const posted = server.answers(bookEndpoints.postOpening, { number: '2025-1' })
  expect(post()).toHaveProperty('disabled', true)
  expect(screen.getByText('at least two accounts hold something')).toBeTruthy()
  await userEvent.type(field('1000 Bank, debit'), '1,200.50')
  await userEvent.type(field('2200 VAT payable, credit'), '200.50')
  expect(screen.getByText('both sides must come to the same')).toBeTruthy()
  expect(screen.getByRole('row', { name: /Total/ }).textContent).toContain('debits are higher by 1,000.00')
  await userEvent.type(field('3000 Capital, credit'), '600+400')
  await userEvent.click(screen.getByRole('button', { name: 'Post 1 entry dated 31 Dec 2025' }))
  await vi.waitFor(() => expect(posted).toHaveLength(1))
  expect(posted[0]?.body).toEqual({
    date: '2025-12-31',
    lines: [
      { account: '1000', amount: 120_050 },
      { account: '2200', amount: -20_050 },
      { account: '3000', amount: -100_000 },
    ],
  })
})

it('a field that holds no amount is told at the field, and nothing is lost when posting is refused', async () => {
  const server = await drawn()
  server.refuses(bookEndpoints.postOpening, 409, 'December 2025 is locked.')
  await userEvent.type(field('1000 Bank, debit'), 'plenty')
  await userEvent.tab()
  const row = screen.getByRole('row', { name: /1000/ })
  await vi.waitFor(() => expect(within(row).getByText(/No amount\./)).toBeTruthy())
  expect(screen.getByText('a field holds no amount')).toBeTruthy()
  await userEvent.clear(field('1000 Bank, debit'))
  await userEvent.type(field('1000 Bank, debit'), '5')
  await userEvent.type(field('3000 Capital, credit'), '5')
  await userEvent.click(post())
  expect((await screen.findByRole('alert')).textContent).toContain('December 2025 is locked.')
  expect(field('1000 Bank, debit')).toHaveProperty('value', '5')
})

it('what stands is shown with its sums, and can be taken back', async () => {
  const lines = [
    { account: '1000', amount: 500 },
    { account: '3000', amount: -500 },
  ]
  const server = await drawn({ number: '2025-1', date: '2025-12-31', by: 'Orla Quill', lines })
  const undone = server.answers(bookEndpoints.undoOpening, {})
  expect(screen.getByRole('row', { name: /1000/ }).textContent).toContain('5.00')
  await userEvent.click(screen.getByRole('button', { name: 'Take them back' }))
  expect((await screen.findByRole('status')).textContent).toContain('They can be entered anew.')
  expect(undone).toHaveLength(1)
})
