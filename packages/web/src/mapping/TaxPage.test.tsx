// @vitest-environment happy-dom
import { type MappingPage, mappingEndpoints, type SourceRow, sourceEndpoints, type TaxCodeRow } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it, vi } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { TaxPage } from './TaxPage.tsx'

afterEach(cleanup)

const account = (code: string, name: string) => ({
  code,
  name,
  type: 'tax',
  currency: 'EUR',
  archived: false,
  takesPayments: false,
  bankNumber: null,
})
const reduced: TaxCodeRow = {
  code: 'S13',
  name: 'VAT, reduced rate',
  treatment: 'taxed',
  basis: 'inclusive',
  use: 'sales',
  reverseCharge: false,
  country: 'IE',
  recovery: [],
  components: [
    {
      name: 'VAT',
      account: '2200',
      inputAccount: null,
      compound: false,
      rates: [
        { from: '2020-01-01', percent: '13.5' },
        { from: '2026-05-14', percent: '9' },
      ],
    },
  ],
}
const source: SourceRow = {
  source: 'openhall',
  name: 'Openhall',
  service: null,
  shape: 'combined',
  connected: true,
  grant: null,
  bookedFrom: null,
  pulledTo: null,
  first: null,
  lines: 0,
  settlements: 0,
  corrections: 0,
  clearing: [],
  lastPull: null,
}
const page: MappingPage = {
  source: 'openhall',
  sourceName: 'Openhall',
  currency: 'EUR',
  from: null,
  to: null,
  version: 7,
  rows: [],
  unseen: [],
  accounts: [account('2200', 'VAT payable'), account('2210', 'VAT on purchases')],
  taxCodes: [reduced],
  items: [],
  routes: [],
  waiting: { settlements: 0, amount: 0 },
  taxByRows: true,
}
const drawn = async () => {
  const server = stubServer()
  server.answers(sourceEndpoints.sources, { sources: [source] })
  server.answers(mappingEndpoints.mapping, page)
  drawPage(<TaxPage />, { path: '/c/1/mapping/tax/codes', at: '/c/1/mapping/tax/codes' })
  await screen.findByRole('row', { name: /13\.5/ })
  return server
}

it('shows each rate with the day it holds from, and its code by every one of them', async () => {
  await drawn()
  const rows = within(screen.getByRole('table', { name: 'Tax codes' })).getAllByRole('row', { name: /S13/ })
  expect(rows.map(row => /(13\.5|9)(1 Jan 2020|14 May 2026)/.exec(row.textContent ?? '')?.[0])).toEqual([
    '13.51 Jan 2020',
    '914 May 2026',
  ])
  expect(screen.getAllByRole('button', { name: 'Change S13' })).toHaveLength(1)
})

it('a rate is added from a later day; nothing is said of it before it was tried to save, and nothing wrong is saved', async () => {
  const server = await drawn()
  const saved = server.answers(mappingEndpoints.saveTaxCodes, { version: 8 })
  await userEvent.click(screen.getByRole('button', { name: 'Change S13' }))
  const dialog = await screen.findByRole('dialog', { name: 'Tax code S13' })
  await userEvent.click(within(dialog).getByRole('button', { name: 'Add a rate from a later date' }))
  expect(within(dialog).queryByText(/A percentage/)).toBeNull()
  await userEvent.click(within(dialog).getByRole('button', { name: 'Save tax code' }))
  expect(await within(dialog).findByText(/A percentage, like 13\.5/)).toBeTruthy()
  expect(within(dialog).getByText(/Write a day/)).toBeTruthy()
  expect(saved).toEqual([])
  await userEvent.type(within(dialog).getAllByLabelText('Rate, %')[2] ?? expect.fail('three rates'), '13,5')
  const day = within(dialog).getAllByLabelText('From')[2] ?? expect.fail('three days')
  await userEvent.type(day, '1 Jan 2027')
  await userEvent.tab()
  await userEvent.click(within(dialog).getByRole('button', { name: 'Save tax code' }))
  await vi.waitFor(() => expect(saved).toHaveLength(1))
  const [component] = reduced.components
  expect(saved[0]?.body).toEqual({
    version: 7,
    codes: [
      {
        ...reduced,
        components: [{ ...component, rates: [...(component?.rates ?? []), { from: '2027-01-01', percent: '13.5' }] }],
      },
    ],
  })
})

it('what somebody else saved meanwhile keeps the dialog open, with what was written', async () => {
  const server = await drawn()
  server.refuses(mappingEndpoints.saveTaxCodes, 409, 'Somebody saved version 8 of the map meanwhile.')
  await userEvent.click(screen.getByRole('button', { name: 'Change S13' }))
  const dialog = await screen.findByRole('dialog', { name: 'Tax code S13' })
  await userEvent.type(within(dialog).getByLabelText('Name'), ' of 2026{Enter}')
  expect((await screen.findByRole('alert')).textContent).toContain('Somebody saved version 8')
  expect(within(dialog).getByLabelText('Name')).toHaveProperty('value', 'VAT, reduced rate of 2026')
})
