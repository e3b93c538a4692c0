// @vitest-environment happy-dom
import { type CustomerRow, personalDataEndpoints } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { CustomersPage } from './CustomersPage.tsx'
import { PersonalData } from './PersonalData.tsx'

afterEach(cleanup)

const marten: CustomerRow = {
  personId: '7d0e3a4c-1f2b-9c3d-0e4f-5a6b7c8d9e0f',
  source: 'openhall',
  customer: 'Marten Holm',
  email: null,
  shipTo: null,
  lines: 3,
  first: '2026-03-01',
  last: '2026-03-04',
}

it('looks for nobody before a name begins, and erases nobody: that is an owner’s', async () => {
  const server = stubServer()
  const asked = server.answers(personalDataEndpoints.customers, { customers: [marten], more: true })
  drawPage(<CustomersPage />, { path: '/c/1/sources/customers', at: '/c/1/sources/customers' })
  await screen.findByText('Write how a name or an e-mail begins.')
  const name = screen.getByRole('textbox', { name: 'Name or e-mail of a customer' })
  await userEvent.type(name, 'M')
  expect(asked).toHaveLength(0)
  await userEvent.type(name, 'ar')
  await screen.findByText('Marten Holm')
  expect(screen.getByText('More than are shown: say more of the name.')).toBeTruthy()
  expect(screen.queryByRole('button', { name: 'Erase' })).toBeNull()
  expect(screen.getByText(/This is for the owner/)).toBeTruthy()
  const taken = server.answers(personalDataEndpoints.exportCustomers, { name: 'customer-data.json', text: '{}' })
  await userEvent.click(screen.getByRole('checkbox', { name: `Select ${marten.personId}` }))
  await userEvent.click(screen.getByRole('button', { name: 'Save as a file' }))
  await expect.poll(() => taken[0]?.body).toEqual({ ids: [marten.personId] })
})

const kept = { scope: 'all', persons: 12, names: 8, more: 5, erased: 1 } as const

it('asks before less is kept of customers, and not before more is', async () => {
  const server = stubServer()
  server.answers(personalDataEndpoints.personalOfSource, kept)
  const saved = server.answers(personalDataEndpoints.setPersonalScope, kept)
  drawPage(<PersonalData source="openhall" name="Openhall" />, { path: '/c/1/x', at: '/c/1/x' })
  await userEvent.click(await screen.findByRole('radio', { name: /the name alone/ }))
  await userEvent.click(screen.getByRole('button', { name: 'Change it' }))
  const dialog = await screen.findByRole('dialog', { name: 'Keep less of customers?' })
  expect(dialog.textContent).toContain('of 5 rows')
  expect(saved).toHaveLength(0)
  await userEvent.click(within(dialog).getByRole('button', { name: 'Save and erase' }))
  await expect.poll(() => saved[0]?.body).toEqual({ scope: 'name' })
})
