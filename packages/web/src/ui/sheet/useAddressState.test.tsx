// @vitest-environment happy-dom
import { act, cleanup, renderHook } from '@testing-library/react'
import type { ReactNode } from 'react'
import { createMemoryRouter, RouterProvider } from 'react-router'
import { afterEach, expect, it } from 'vitest'
import { useAddressState } from './useAddressState.ts'

afterEach(cleanup)

const drawn = () => {
  let router = createMemoryRouter([{ path: '/', element: null }])
  const wrapper = ({ children }: { readonly children: ReactNode }) => {
    router = createMemoryRouter([{ path: '/', element: children }], { initialEntries: ['/?period=2026-05'] })
    return <RouterProvider router={router} />
  }
  const { result } = renderHook(() => useAddressState(() => false), { wrapper })
  return { result, address: () => router.state.location.search }
}

it('of changes that come faster than the address is drawn none is lost', async () => {
  const { result, address } = drawn()
  const { setFilter, sortBy, toggle } = result.current
  await act(async () => {
    setFilter('OH-261')
    sortBy('gross')
    toggle('lines')
  })
  expect(address()).toBe('?period=2026-05&q=OH-261&sort=gross&hide=lines')
  // What was asked stands there: it is not asked for again once somebody goes elsewhere.
  await act(async () => result.current.setFilter(''))
  await act(async () => result.current.sortBy('gross'))
  expect(address()).toBe('?period=2026-05&sort=-gross&hide=lines')
})
