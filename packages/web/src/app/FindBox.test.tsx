// @vitest-environment happy-dom
import { clientEndpoints, type FoundItem } from '@culvert/contract'
import { cleanup, screen } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { afterEach, expect, it, vi } from 'vitest'
import { drawPage } from '../testing/drawPage.tsx'
import { stubServer } from '../testing/stubServer.ts'
import { FindBox } from './FindBox.tsx'

afterEach(cleanup)

/** Written in at once: letters one by one come here before what the one before changed is drawn, as in no browser. */
const typeIn = async (field: HTMLElement, text: string): Promise<void> => {
  await userEvent.click(field)
  await userEvent.paste(text)
}

const item = (sort: FoundItem['sort'], title: string, link: string, amount: number | null = null): FoundItem => ({
  sort,
  title,
  detail: '2026-03-05',
  amount,
  currency: amount === null ? null : 'EUR',
  link,
})
const drawn = (items: readonly FoundItem[]) => {
  const server = stubServer()
  const asked = server.answers(clientEndpoints.find, ({ query }) => ({
    items: items.filter(one => one.title.toLowerCase().includes((query.q ?? '').toLowerCase())),
  }))
  const { here } = drawPage(<FindBox />, { path: '/c/1/settlements', at: '/c/1/settlements' })
  return { here, asked, field: screen.getByRole('combobox', { name: 'Find' }) }
}
const options = () => screen.queryAllByRole('option').map(one => one.textContent)

it('offers pages at once, then what is found, and Enter goes to the first', async () => {
  const { here, field, asked } = drawn([
    item('settlement', 'OH-2611', '/settlements/openhall/OH-2611/EUR', 681_200),
    item('entry', 'Entry for OH-2611', '/books/entries/2026-12'),
  ])
  await userEvent.click(field)
  await vi.waitFor(() => expect(options().length).toBeGreaterThan(15))
  await typeIn(field, 'OH-2611')
  await vi.waitFor(() => expect(options()).toHaveLength(2))
  expect(options()[0]).toContain('6,812.00')
  expect(options()[0]).toContain('5 Mar 2026')
  expect(asked.at(-1)?.query).toEqual({ q: 'OH-2611' })
  await userEvent.keyboard('{Enter}')
  await vi.waitFor(() => expect(here()).toBe('/c/1/settlements/openhall/OH-2611/EUR'))
})

it('asks for days as they are typed, and says what is not found', async () => {
  const { field, asked } = drawn([])
  await typeIn(field, '5 Mar 2026')
  await vi.waitFor(() => expect(asked.at(-1)?.query).toEqual({ q: '2026-03-05' }))
  expect(await screen.findByText('Nothing found for “5 Mar 2026”.')).toBeTruthy()
})

it('goes to an order whose number holds a space by its trace, and stays where it is', async () => {
  const { field, here } = drawn([item('order', 'Order KL 1004', 'trace:order:KL 1004')])
  await typeIn(field, 'KL 1004')
  await vi.waitFor(() => expect(options()).toHaveLength(1))
  await userEvent.click(screen.getByRole('option'))
  await vi.waitFor(() => expect(field).toHaveProperty('value', ''))
  expect(here()).toBe('/c/1/settlements')
})
