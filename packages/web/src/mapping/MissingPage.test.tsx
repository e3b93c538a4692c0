// @vitest-environment happy-dom
import { type MissingPage as Missing, type MissingNames, missingEndpoints } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { MissingPage } from './MissingPage.tsx'
import { missingCsv } from './missingCsv.ts'
import { emptyDraft } from './missingDraft.ts'

afterEach(cleanup)

const missing: Missing = {
  ...{
    version: 3,
    base: 'EUR',
    from: '2026-03-16',
    to: '2026-06-14',
    unfitRoutes: [],
    unlikeRates: [],
    unfit: [],
    taxCodes: [],
    taxByRows: true,
  },
  chart: [
    {
      code: '1000',
      name: 'Skerrymoor',
      type: 'bank',
      currency: 'EUR',
      archived: false,
      takesPayments: true,
      bankNumber: null,
    },
    {
      code: '4000',
      name: 'Sales',
      type: 'income',
      currency: 'EUR',
      archived: false,
      takesPayments: false,
      bankNumber: null,
    },
  ],
  banks: [],
  clearings: [],
  rounding: null,
  accounts: [
    {
      ...{ key: 'sale', kind: 'sale', kinds: ['sale'], label: null, amount: 90_000, asks: [] },
      sources: [{ source: 'openhall', name: 'Openhall', lines: 12, kinds: ['sale'] }],
      use: { account: '4000', sure: true, reason: { named: [], called: ['sales'], onlyOfType: false } },
      make: { code: '4010', name: 'Sales', type: 'income' },
    },
    {
      ...{ key: 'fee', kind: 'selling_fee', kinds: ['selling_fee', 'fee_refund'], label: null, amount: -8000 },
      asks: ['openhall/charged'],
      sources: [{ source: 'openhall', name: 'Openhall', lines: 12, kinds: ['selling_fee', 'fee_refund'] }],
      ...{ use: null, make: { code: '6010', name: 'Selling fees', type: 'expense' } },
    },
  ],
  taxes: [
    {
      ...{ key: 'ie', region: 'IE', class: '', sources: ['openhall'], amount: 90_000, lines: 12, seenPercent: null },
      ...{ use: null, make: { code: 'IE', name: 'Ireland', country: 'IE', percent: null } },
    },
  ],
  taxAccount: { use: null, make: { code: '2200', name: 'VAT on sales', type: 'tax' } },
  feeTaxes: [
    {
      ...{ key: 'openhall/charged', of: 'charged', source: 'openhall', name: 'Openhall', kinds: ['selling_fee'] },
      ...{ amount: -8000, lines: 12 },
    },
  ],
}

const names: MissingNames = {
  version: 3,
  chart: missing.chart,
  known: [
    { code: 'S-1', name: 'Brook Pay' },
    { code: 'S-2', name: 'Somebody' },
  ],
  contacts: [
    {
      ...{ key: 'source openhall', of: 'source', name: 'Openhall', sort: 'both', use: null },
      make: { code: 'Openhall', name: 'Openhall' },
    },
    {
      ...{ key: 'source brookpay', of: 'source', name: 'Brookpay', sort: 'supplier' },
      use: { code: 'S-1', name: 'Brook Pay', why: 'like_it' },
      make: { code: 'Brookpay', name: 'Brookpay' },
    },
  ],
  items: [
    {
      ...{ sku: 'MUG', name: 'Mug', otherNames: ['Mug, blue'], sources: ['Openhall'], amount: 1850, lines: 2 },
      account: '4000',
    },
  ],
  untold: 1,
}

const drawn = (page: Missing = missing, of: MissingNames = { ...names, contacts: [], items: [] }) => {
  const server = stubServer()
  server.answers(missingEndpoints.missing, page)
  server.answers(missingEndpoints.missingNames, of)
  drawPage(<MissingPage />, { path: '/c/:client/mapping/missing', at: '/c/1/mapping/missing' })
  return server
}

it('takes what is sure, waits for what only a person can say, and makes it all in one act', async () => {
  const server = drawn()
  const table = await screen.findByRole('table', { name: 'What is missing' })
  expect(screen.getByRole('button', { name: 'Use 1 that exists' })).toBeTruthy()
  const fee = within(table).getByRole('checkbox', { name: 'Take selling fee' }) as HTMLInputElement
  expect([fee.checked, fee.disabled]).toEqual([false, true])
  await userEvent.selectOptions(screen.getByRole('combobox', { name: 'Tax on what Openhall charges' }), 'none')
  expect(fee.checked).toBe(true)
  await userEvent.type(screen.getByRole('textbox', { name: 'Rate for IE, %' }), '23')
  const sent = server.answers(missingEndpoints.makeMissing, {
    ...{ version: 4, accounts: 2, routes: 3, taxCodes: 1, unblocked: 5 },
  })
  await userEvent.click(screen.getByRole('button', { name: 'Make 2 accounts, 1 tax code' }))
  await screen.findByText(/5 settlements no longer blocked/)
  expect(sent[0]?.body).toMatchObject({
    version: 3,
    accounts: [
      { key: 'sale', use: '4000', make: null },
      { key: 'fee', use: null, make: { code: '6010', name: 'Selling fees', type: 'expense' } },
    ],
    taxes: [{ key: 'ie', use: null, make: { code: 'IE23', name: 'Ireland, 23 %', percent: 23 } }],
    feeTaxes: [{ key: 'openhall/charged', code: null }],
  })
})

it('names what is there and does not fit, and goes out as a file', async () => {
  drawn({
    ...missing,
    unfitRoutes: [
      {
        ...{ route: 4, source: 'openhall', title: 'Shipping', account: '1000', name: 'Skerrymoor', type: 'bank' },
        why: 'type',
      },
    ],
    unlikeRates: [{ region: 'DE', class: '', code: 'DE19', mapped: [19, 19], seen: 7, amount: 5000, lines: 2 }],
  })
  await screen.findByText('Shipping to 1000 Skerrymoor')
  screen.getByText(/of a type unlike what goes there: bank/)
  screen.getByText(/has 19 %, and 7.00 % was charged: 2 lines/)
  expect(
    missingCsv({ ...missing, accounts: missing.accounts.map(one => ({ ...one, label: '=1+1' })) }, emptyDraft),
  ).toBe(
    [
      'stage,missing,sources,currency,amount,lines,use,make,name,type',
      'Mapping,"Sale, =1+1",Openhall,EUR,900.00,12,4000,,,',
      'Mapping,"Selling fee, =1+1",Openhall,EUR,-80.00,12,,6010,Selling fees,expense',
      'Tax,tax of IE,openhall,EUR,900.00,12,,IE,Ireland, %',
      '',
    ].join('\n'),
  )
})

it('says so where nothing is missing, and where nothing was reported yet', async () => {
  drawn({ ...missing, accounts: [], taxes: [], feeTaxes: [] })
  await screen.findByText(/Nothing is missing/)
  cleanup()
  drawn({ ...missing, accounts: [], taxes: [], feeTaxes: [], from: null, to: null })
  await screen.findByText(/once a source has reported something/)
})

it('keeps what was chosen where somebody saved meanwhile', async () => {
  const server = drawn()
  await screen.findByRole('table', { name: 'What is missing' })
  await userEvent.type(screen.getByRole('textbox', { name: 'Rate for IE, %' }), '9')
  server.refuses(missingEndpoints.makeMissing, 409, 'Somebody saved meanwhile.')
  await userEvent.click(screen.getByRole('button', { name: /^Make/ }))
  await screen.findByText('Somebody saved meanwhile.')
  expect((screen.getByRole('textbox', { name: 'Rate for IE, %' }) as HTMLInputElement).value).toBe('9')
})

it('keeps what documents will name folded away, and makes of it what is taken: never whom it only guesses', async () => {
  const server = drawn(missing, names)
  await userEvent.click(await screen.findByRole('button', { name: 'Show 2 contacts and 1 item' }))
  const table = screen.getByRole('table', { name: 'Contacts and items that are missing' })
  const guessed = within(table).getByRole('checkbox', { name: 'Take contact Brookpay' }) as HTMLInputElement
  expect(guessed.checked).toBe(false)
  within(table).getByText(/called nearly so: look at it/)
  within(table).getByText(/also sold as Mug, blue/)
  screen.getByText(/1 product without a SKU or an account stands at/)
  await userEvent.clear(screen.getByRole('textbox', { name: 'Name of contact Openhall' }))
  expect(screen.getByRole('button', { name: 'Take 1 item' })).toBeTruthy()
  await userEvent.type(screen.getByRole('textbox', { name: 'Name of contact Openhall' }), 'Openhall Europe')
  await userEvent.selectOptions(screen.getByRole('combobox', { name: 'Which is contact Brookpay' }), 'S-2')
  const sent = server.answers(missingEndpoints.makeNames, { contacts: 2, items: 1 })
  await userEvent.click(screen.getByRole('button', { name: 'Take 2 contacts and 1 item' }))
  await screen.findByText('2 contacts and 1 item taken.')
  expect(sent[0]?.body).toEqual({
    version: 3,
    contacts: [
      { key: 'source openhall', use: null, make: { code: 'Openhall Europe', name: 'Openhall Europe' } },
      { key: 'source brookpay', use: 'S-2', make: null },
    ],
    items: [{ sku: 'MUG', name: 'Mug', account: '4000' }],
  })
})
