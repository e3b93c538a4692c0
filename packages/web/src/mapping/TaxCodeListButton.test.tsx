// @vitest-environment happy-dom
import { listEndpoints, mappingEndpoints, type TaxList, taxCodeRow } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { TaxCodeListButton } from './TaxCodeListButton.tsx'

afterEach(cleanup)

const row = (name: string, more: Partial<TaxList['codes'][number]> = {}): TaxList['codes'][number] => ({
  code: taxCodeRow.parse({
    ...{ code: name, name: `VAT ${name}`, basis: 'inclusive', use: 'sales', reverseCharge: false, country: 'IE' },
    components: [{ name: 'VAT', account: '2200', inputAccount: null, compound: false, rates: [] }],
  }),
  ...{ state: 'new', rates: [{ from: '2026-05-14', percent: '9' }], unfit: null },
  ...more,
})

it('takes what is new or changed and fits, by the version that it was read under', async () => {
  const server = stubServer()
  drawPage(<TaxCodeListButton version={7} />, { path: '/c/:client/x', at: '/c/1/x' })
  server.answers(listEndpoints.readTaxes, {
    asks: [],
    codes: [row('S9'), row('S23', { state: 'same' }), row('Q', { unfit: 'use' })],
    vanished: [{ code: 'OLD', name: 'Old' }],
  })
  const sent = server.answers(mappingEndpoints.saveTaxCodes, { version: 8 })
  const file = new File(['code,rate\nS9,9\n'], 'codes.csv', { type: 'text/csv' })
  await userEvent.upload(await screen.findByLabelText('Bring in a list'), file)
  const dialog = await screen.findByRole('dialog')
  expect(dialog.textContent).toContain('The list has 2 tax codes new or changed')
  expect(dialog.textContent).toContain('1 code cannot be taken.')
  expect(dialog.textContent).toContain('1 code not in the list stays.')
  const table = within(dialog).getByRole('table', { name: 'Tax codes of the list' })
  expect(within(table).getAllByRole('row')).toHaveLength(3)
  expect(table.textContent).toContain('9 % from 14 May 2026')
  await userEvent.click(within(dialog).getByRole('button', { name: 'Take 1 tax code' }))
  await screen.findByText(/1 tax code taken/)
  expect(sent[0]?.body).toMatchObject({ version: 7, codes: [{ code: 'S9' }] })
})
