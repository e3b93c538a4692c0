// @vitest-environment happy-dom
import { listEndpoints, type OpenItemList } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { ContactsPage } from './ContactsPage.tsx'
import { OpenItemsPage } from './OpenItemsPage.tsx'

afterEach(cleanup)

const item = { sort: 'invoice', date: '2026-03-15', due: null, currency: 'EUR', amount: 12_000, open: 12_000 } as const
const held = { sort: 'invoice' as const, open: 12_000, opened: 10_000, accounts: ['1100'], others: 0 }

it('shows what is open beside the opening balance, and takes a list with the contacts that it needs', async () => {
  const server = stubServer()
  server.answers(listEndpoints.openItems, {
    items: [{ ...item, contact: '1', number: 'R-1', name: 'Harbour Café' }],
    held: [{ ...held }],
  })
  const list: OpenItemList = {
    asks: [],
    items: [
      { ...item, row: 2, contact: 'Somebody New', number: 'R-2', state: 'new', makes: true, unfit: null },
      { ...item, row: 3, contact: 'Fitch', number: 'R-3', state: 'new', makes: false, unfit: 'two_contacts' },
    ],
    vanished: [{ ...item, contact: '1', number: 'R-1' }],
  }
  const read = server.answers(listEndpoints.readOpenItems, list)
  drawPage(<OpenItemsPage />, { path: '/c/:client/books/open-items', at: '/c/1/books/open-items' })
  await screen.findByText(/EUR apart/)
  await userEvent.upload(document.querySelector('input[type=file]') as HTMLInputElement, new File(['x'], 'open.csv'))
  const table = await screen.findByRole('table', { name: 'Items of the list' })
  expect(read[0]?.query).toEqual({ sort: 'invoice' })
  expect(within(table).getByText(/two contacts are called so/)).toBeTruthy()
  expect(within(table).getByText(/no longer open/)).toBeTruthy()
  const saved = server.answers(listEndpoints.saveOpenItems, { changed: 2 })
  await userEvent.click(
    screen.getByRole('button', { name: 'Take 1 item, with 1 new contact, take out 1 no longer open' }),
  )
  await screen.findByText(/1 open item taken, 1 taken out/)
  expect(saved[0]?.body).toEqual({
    items: [{ ...item, contact: 'Somebody New', number: 'R-2' }],
    gone: [{ sort: 'invoice', contact: '1', number: 'R-1' }],
    contacts: [
      { code: 'Somebody New', name: 'Somebody New', sort: 'customer', email: null, taxNumber: null, country: null },
    ],
  })
})

it('adds a contact, and names at the field what is wrong', async () => {
  const server = stubServer()
  server.answers(listEndpoints.contacts, { contacts: [] })
  drawPage(<ContactsPage />, { path: '/c/:client/books/contacts', at: '/c/1/books/contacts' })
  await screen.findByText(/Nobody yet/)
  await userEvent.click(screen.getByRole('button', { name: 'Add a contact' }))
  await userEvent.type(screen.getByLabelText('Name'), 'Harbour Café')
  await userEvent.type(screen.getByLabelText(/^Number/), '70001')
  await userEvent.type(screen.getByLabelText('E-mail'), 'nobody')
  await userEvent.click(screen.getByRole('button', { name: 'Add' }))
  await screen.findByText('an e-mail address')
  const saved = server.answers(listEndpoints.saveContacts, { changed: 1 })
  await userEvent.clear(screen.getByLabelText('E-mail'))
  await userEvent.click(screen.getByRole('button', { name: 'Add' }))
  await screen.findByText(/Harbour Café is saved/)
  expect(saved[0]?.body).toEqual({
    contacts: [{ code: '70001', name: 'Harbour Café', sort: 'customer', email: null, taxNumber: null, country: null }],
  })
})
