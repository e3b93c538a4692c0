// @vitest-environment happy-dom
import { bookEndpoints, listEndpoints, type RateList } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { OpeningPage } from './OpeningPage.tsx'
import { RatesPage } from './RatesPage.tsx'

afterEach(cleanup)

const bring = (name: string) =>
  userEvent.upload(document.querySelector('input[type=file]') as HTMLInputElement, new File(['x'], name))

it('asks what could be read two ways, shows what a list of rates changes, and takes that alone', async () => {
  const server = stubServer()
  server.answers(bookEndpoints.rates, { rates: [] })
  const read = server.answers(
    listEndpoints.readRates,
    (request): RateList =>
      request.query.order
        ? {
            asks: [],
            rates: [
              { date: '2026-03-05', from: 'EUR', to: 'USD', rate: '1.08', state: 'new', was: null },
              { date: '2026-03-04', from: 'EUR', to: 'USD', rate: '1.07', state: 'same', was: '1.07' },
            ],
            vanished: 3,
          }
        : { asks: [{ what: 'order', value: '05/03/2026' }], rates: [], vanished: 0 },
  )
  drawPage(<RatesPage />, { path: '/c/:client/books/rates', at: '/c/1/books/rates' })
  await screen.findByText(/No rates/)
  await bring('rates.csv')
  await screen.findByText(/“05\/03\/2026” could be read two ways/)
  await userEvent.click(screen.getByRole('radio', { name: /day, month, year/ }))
  await screen.findByRole('table', { name: 'Rates of the list' })
  expect(read.map(one => one.query)).toEqual([{}, { order: 'dmy' }])
  expect(within(screen.getByRole('table', { name: 'Rates of the list' })).getAllByRole('row')).toHaveLength(2)
  expect(screen.getByText(/3 that stand are not in the list, and stay/)).toBeTruthy()
  const saved = server.answers(bookEndpoints.saveRates, { changed: 1 })
  await userEvent.click(screen.getByRole('button', { name: 'Take 1 new rate' }))
  await screen.findByText(/1 rate taken/)
  expect(saved[0]?.body).toEqual({ rates: [{ date: '2026-03-05', from: 'EUR', to: 'USD', rate: '1.08' }] })
})

it('fills opening balances in from a list, and posts nothing by it', async () => {
  const server = stubServer()
  server.answers(bookEndpoints.opening, {
    ...{ base: 'EUR', before: '2025-12-28', standing: null },
    accounts: [
      { code: '1000', name: 'Bank', type: 'bank' },
      { code: '3000', name: 'Capital', type: 'equity' },
    ],
  })
  server.answers(listEndpoints.readBalances, {
    asks: [],
    balances: [
      { row: 2, account: '1000', amount: 150_050, unfit: null },
      { row: 3, account: '3000', amount: -150_050, unfit: null },
    ],
  })
  drawPage(<OpeningPage />, { path: '/c/:client/books/opening', at: '/c/1/books/opening' })
  await screen.findByRole('button', { name: 'Post opening balances' })
  await bring('opening.csv')
  await userEvent.click(await screen.findByRole('button', { name: 'Fill in 2 balances' }))
  await screen.findByRole('button', { name: 'Post 1 entry dated 28 Dec 2025' })
  const typed = screen.getAllByRole('textbox').map(one => (one as HTMLInputElement).value)
  expect(typed.filter(value => value === '1,500.50')).toHaveLength(2)
})
