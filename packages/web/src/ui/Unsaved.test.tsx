// @vitest-environment happy-dom
import { ChakraProvider } from '@chakra-ui/react'
import { cleanup, render, screen } from '@testing-library/react'
import { userEvent } from '@testing-library/user-event'
import { useState } from 'react'
import { createMemoryRouter, Link, RouterProvider, useNavigate } from 'react-router'
import { afterEach, beforeEach, expect, it } from 'vitest'
import { system } from './theme/system.ts'
import { saved, Unsaved } from './Unsaved.tsx'

const Routes = () => {
  const [text, setText] = useState('')
  const navigate = useNavigate()
  return (
    <>
      <input aria-label="Account" value={text} onChange={event => setText(event.target.value)} />
      <Link to="?sort=name">Sorted</Link>
      <Link to="/bank">Bank</Link>
      <button type="button" onClick={() => void navigate('/bank', saved)}>
        Save
      </button>
      <Unsaved changed={text !== ''} what="1 route" />
    </>
  )
}

beforeEach(() => {
  const router = createMemoryRouter(
    [
      { path: '/mapping', element: <Routes /> },
      { path: '/bank', element: <h1>Bank</h1> },
    ],
    { initialEntries: ['/mapping'] },
  )
  render(
    <ChakraProvider value={system}>
      <RouterProvider router={router} />
    </ChakraProvider>,
  )
})
afterEach(cleanup)
const isAtBank = () => screen.queryByRole('heading', { name: 'Bank' }) !== null

it('with nothing changed a page is left without a word', async () => {
  await userEvent.click(screen.getByRole('link', { name: 'Bank' }))
  expect(isAtBank()).toBe(true)
})

it('what is changed is asked about, and stays when one stays', async () => {
  await userEvent.type(screen.getByRole('textbox', { name: 'Account' }), '4000')
  // The same page, otherwise sorted, loses nothing.
  await userEvent.click(screen.getByRole('link', { name: 'Sorted' }))
  expect(screen.queryByRole('dialog')).toBeNull()
  await userEvent.click(screen.getByRole('link', { name: 'Bank' }))
  expect((await screen.findByRole('dialog')).textContent).toContain('Changed and not saved: 1 route.')
  await userEvent.click(screen.getByRole('button', { name: 'Stay' }))
  expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'Account', hidden: true }).value).toBe('4000')
  await userEvent.click(screen.getByRole('link', { name: 'Bank', hidden: true }))
  await userEvent.click(await screen.findByRole('button', { name: 'Discard and leave' }))
  expect(isAtBank()).toBe(true)
})

it('what was just saved is not asked about', async () => {
  await userEvent.type(screen.getByRole('textbox', { name: 'Account' }), '4000')
  await userEvent.click(screen.getByRole('button', { name: 'Save' }))
  expect(isAtBank()).toBe(true)
})
