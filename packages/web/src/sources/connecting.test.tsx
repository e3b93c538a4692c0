// @vitest-environment happy-dom
import {
  type Connection,
  type GrantRow,
  grantEndpoints,
  mappingEndpoints,
  type ShopRow,
  type SourceRow,
  sourceEndpoints,
} from '@culvert/contract'
import { cleanup, screen, within } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it, vi } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { ConnectedPage } from './ConnectedPage.tsx'
import { ConnectionPart } from './ConnectionPart.tsx'
import { GrantingPage } from './GrantingPage.tsx'
import { ShopPage } from './ShopPage.tsx'
import { SourcesPage } from './SourcesPage.tsx'

afterEach(() => {
  cleanup()
  vi.restoreAllMocks()
  window.history.replaceState(null, '', '/')
})

const grant: GrantRow = {
  ...{
    grantId: 'g-1',
    service: 'openhall',
    name: 'Openhall',
    sort: 'marketplace',
    askedBy: 'Orla Quill',
    byOwner: false,
  },
  ...{ askedAt: '2026-06-30T16:00:00.000Z', askedUntil: '2026-06-30T16:30:00.000Z', askedOver: false, sentTo: null },
  ...{ login: 'Orla of Tern & Tally', grantedAt: '2026-06-30T16:01:00.000Z', lacking: [] },
  scopes: ['activity', 'settlements', 'balances'],
  ...{ until: '2027-06-30T16:01:00.000Z', endsSoon: false, ended: null, endedAt: null, endedLately: false },
  ...{ forSource: null, sources: [], accounts: [], company: null },
}
const shop = (more: Partial<ShopRow>): ShopRow => ({
  ...{ id: 's-1', name: 'Kiln Lane Seconds', place: 'Galway', country: 'IE', currency: 'EUR', orders: 137 },
  ...{ firstDay: '2026-04-06', lastDay: '2026-06-14', serves: null, fit: ['currency'] },
  ...more,
})
const source: SourceRow = {
  ...{ source: 'openhall', name: 'Openhall', service: 'marketplace', shape: 'combined', connected: true },
  ...{
    bookedFrom: null,
    pulledTo: null,
    first: null,
    lines: 0,
    settlements: 0,
    corrections: 0,
    clearing: [],
    lastPull: null,
  },
  grant: {
    grantId: 'g-1',
    service: 'Openhall',
    by: 'Orla Quill',
    grantedAt: grant.grantedAt ?? '',
    until: null,
    ended: null,
  },
}
const goesTo = () => vi.spyOn(window.location, 'assign').mockImplementation(() => undefined)

it('lists what can be connected and what waits, and goes to a consent page', async () => {
  const server = stubServer()
  server.answers(sourceEndpoints.sources, { sources: [] })
  server.answers(grantEndpoints.services, {
    services: [{ key: 'openhall', name: 'Openhall', sort: 'marketplace', reports: '' }],
  })
  server.answers(grantEndpoints.grants, {
    grants: [
      grant,
      { ...grant, grantId: 'g-2', byOwner: true, grantedAt: null, login: null, sentTo: 'aoife@kilnlane.example' },
      // What ended by itself is nobody's to finish.
      { ...grant, grantId: 'g-3', ended: 'disconnected', endedAt: grant.grantedAt },
    ],
  })
  drawPage(<SourcesPage />, { path: '/c/:client/sources', at: '/c/1/sources' })
  await screen.findByText('◆ Openhall: signed in, shop to choose')
  expect(screen.getByText('◆ Openhall: asked of the owner')).toBeTruthy()
  expect(screen.getAllByText(/◆ Openhall/)).toHaveLength(2)
  const asked = server.answers(grantEndpoints.askGrant, {
    grantId: 'g-4',
    address: 'https://openhall.example/authorize',
  })
  const assign = goesTo()
  await userEvent.click(screen.getByRole('button', { name: 'Connect Openhall' }))
  expect(asked[0]?.body).toEqual({ service: 'openhall' })
  await vi.waitFor(() => expect(assign).toHaveBeenCalledWith('https://openhall.example/authorize'))
})

it('has the free shop chosen, names whom the others serve, and connects it with an account made', async () => {
  const server = stubServer()
  server.answers(grantEndpoints.shops, {
    grant: { ...grant, lacking: ['buyers'] },
    shops: [
      shop({}),
      shop({ id: 's-2', name: 'Kiln Lane', serves: { client: 'Kiln Lane Ceramics', own: false, source: null } }),
    ],
  })
  server.answers(sourceEndpoints.sources, { sources: [] })
  server.answers(mappingEndpoints.accounts, {
    accounts: [
      {
        code: '1000',
        name: 'Bank',
        type: 'bank',
        currency: 'EUR',
        archived: false,
        takesPayments: true,
        bankNumber: null,
      },
    ],
  })
  drawPage(<ShopPage />, { path: '/c/:client/sources/connect/:grant', at: '/c/1/sources/connect/g-1' })
  const free = (await screen.findByRole('radio', { name: /Kiln Lane Seconds/ })) as HTMLInputElement
  expect(free.checked).toBe(true)
  expect((screen.getByRole('radio', { name: /serves Kiln Lane Ceramics/ }) as HTMLInputElement).disabled).toBe(true)
  expect(screen.getByText(/Was not granted: of buyers the name and country/)).toBeTruthy()
  const used = server.answers(grantEndpoints.connectShop, { pull: 'j-1' })
  await userEvent.click(screen.getByRole('button', { name: 'Use Kiln Lane Seconds' }))
  await vi.waitFor(() => expect(used).toHaveLength(1))
  expect(used[0]?.body).toMatchObject({
    ...{ source: 'openhall', name: 'Openhall', service: 'marketplace', shape: 'combined', shop: 's-1' },
    ...{ personalData: 'none', make: [{ type: 'clearing', currency: 'EUR' }] },
  })
})

it('takes what came back once, out of the address bar, and says what was refused', async () => {
  const server = stubServer()
  const done = server.answers(grantEndpoints.completeGrant, {
    ...{ grantId: 'g-1', name: 'Openhall', outcome: 'refused', reconnected: null },
  })
  window.history.replaceState(null, '', '/connected?state=1.a-state-of-more-than-twenty&error=access_denied')
  drawPage(<ConnectedPage />, { path: '/connected', at: '/connected' })
  await screen.findByText('Access was refused at Openhall. Nothing was connected.')
  expect(done.map(one => one.body)).toEqual([
    { state: '1.a-state-of-more-than-twenty', code: null, error: 'access_denied', iss: null },
  ])
  expect(window.location.search).toBe('')
  cleanup()
  window.history.replaceState(null, '', '/connected')
  drawPage(<ConnectedPage />, { path: '/connected', at: '/connected' })
  await screen.findByText('▲ Nothing came along from a service.')
})

const connection: Connection = {
  ...{ grant, shop: 'openhall/s-1', lines: 442, posted: 3, open: 2, pulledTo: null, alsoServes: [] },
}

it('says before it is disconnected what stops, stays and is open, and that the service was not told', async () => {
  const server = stubServer()
  server.answers(grantEndpoints.connection, connection)
  drawPage(<ConnectionPart row={source} />, { path: '/c/:client', at: '/c/1' })
  await userEvent.click(await screen.findByRole('button', { name: 'Disconnect' }))
  const dialog = await screen.findByRole('dialog')
  for (const text of [/nothing more is pulled of Openhall/, /442 lines and 3 posted settlements/, /2 settlements wait/])
    expect(within(dialog).getByText(text)).toBeTruthy()
  server.answers(grantEndpoints.disconnect, { told: false })
  await userEvent.click(within(dialog).getByRole('button', { name: 'Disconnect' }))
  await screen.findByText('Openhall is disconnected here; Openhall did not answer. End it there too.')
})

it('shows the way out of a grant that has ended', async () => {
  const server = stubServer()
  server.answers(grantEndpoints.connection, {
    ...connection,
    grant: { ...grant, ended: 'withdrawn', endedAt: '2026-07-01T08:00:00.000Z' },
  })
  drawPage(<ConnectionPart row={source} />, { path: '/c/:client', at: '/c/1' })
  await screen.findByText(/What Openhall granted was withdrawn there/)
  const asked = server.answers(grantEndpoints.askGrant, {
    grantId: 'g-9',
    address: 'https://openhall.example/authorize',
  })
  goesTo()
  await userEvent.click(screen.getByRole('button', { name: 'Connect again' }))
  await vi.waitFor(() => expect(asked).toHaveLength(1))
  expect(asked[0]?.body).toEqual({ service: 'openhall', forSource: 'openhall', personalData: 'none' })
})

it('tells the owner what is asked of them, and opens nothing where the link is over', async () => {
  window.location.hash = '#a-token-of-more-than-twenty-signs'
  const server = stubServer()
  const linked = {
    ...{ practice: 'Tern & Tally', client: 'Kiln Lane Ceramics', askedBy: 'Orla Quill', name: 'Openhall' },
    ...{ askedAt: grant.askedAt, expiresAt: grant.askedUntil, scopes: grant.scopes },
  }
  server.answers(grantEndpoints.lookAtGrant, { ...linked, state: 'asked' })
  drawPage(<GrantingPage />, { path: '/granting', at: '/granting' })
  await screen.findByRole('heading', { name: 'Let Tern & Tally see Openhall' })
  server.refuses(grantEndpoints.beginGranting, 410, 'The link was used.')
  await userEvent.click(screen.getByRole('button', { name: 'Go to Openhall' }))
  await screen.findByText('▲ The link was used.')
  cleanup()
  server.answers(grantEndpoints.lookAtGrant, { ...linked, state: 'over' })
  window.location.hash = '#another-token-of-more-than-twenty-signs'
  drawPage(<GrantingPage />, { path: '/granting', at: '/granting' })
  await screen.findByRole('heading', { name: 'The link is good no more' })
  expect(screen.queryByRole('button', { name: /Go to/ })).toBeNull()
})
