// @vitest-environment happy-dom
import { clearingEndpoints } from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { afterEach, expect, it } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { CutOverPart } from './CutOverPart.tsx'

afterEach(cleanup)

const account = { account: '1210', name: 'Openhall clearing', currency: 'EUR', reportedOn: '2026-02-28' }

it('holds the opening balance against what the processor held, and says what to do where they are apart', async () => {
  const server = stubServer()
  server.answers(clearingEndpoints.cutOver, {
    cutOver: {
      ...{ lastDay: '2026-02-28', settlements: 8, until: '2026-02-22' },
      accounts: [
        {
          ...account,
          ...{ opening: 100_000, reported: 90_000, difference: 2500, outcome: 'open' },
          causes: [{ cause: 'payout_on_its_way', amount: -12_500 }],
        },
      ],
    },
  })
  drawPage(<CutOverPart source="openhall" />, { path: '/c/:client/sources/openhall', at: '/c/1/sources/openhall' })
  await screen.findByRole('heading', { name: 'Booked elsewhere to 28 Feb 2026' })
  expect(screen.getByRole('link', { name: '8 settlements' }).getAttribute('href')).toContain('state=elsewhere')
  const [, row] = within(screen.getByRole('table', { name: 'Opening balances' })).getAllByRole('row')
  expect(row?.textContent).toMatch(/1,000\.00.*−125\.00.*900\.00.*25\.00.*open/)
  expect(
    within(row as HTMLElement)
      .getByRole('link')
      .getAttribute('href'),
  ).toContain('/clearing/1210?date=2026-02-28')
  expect(screen.getByText(/belongs on an account of its own/)).toBeTruthy()
})

it('asks for what it held where nobody has said it, and is silent where all is booked here', async () => {
  const server = stubServer()
  const unknown = {
    ...account,
    opening: 0,
    reported: null,
    reportedOn: null,
    causes: [],
    difference: null,
    outcome: null,
  }
  server.answers(clearingEndpoints.cutOver, {
    cutOver: { lastDay: '2026-02-28', settlements: 0, until: null, accounts: [unknown] },
  })
  drawPage(<CutOverPart source="openhall" />, { path: '/c/:client/sources/openhall', at: '/c/1/sources/openhall' })
  await screen.findByText('not known')
  expect(screen.getByText(/comes with its balances/)).toBeTruthy()
  cleanup()
  server.answers(clearingEndpoints.cutOver, { cutOver: null })
  drawPage(<CutOverPart source="openhall" />, { path: '/c/:client/sources/openhall', at: '/c/1/sources/openhall' })
  await new Promise(resolve => setTimeout(resolve, 100))
  expect(screen.queryByText(/Booked elsewhere/)).toBeNull()
})
