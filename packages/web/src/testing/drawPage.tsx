import { ChakraProvider } from '@chakra-ui/react'
import { rightsOfRole, type TraceStart } from '@culvert/contract'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { render } from '@testing-library/react'
import { type ReactElement, useMemo, useState } from 'react'
import { createMemoryRouter, Outlet, RouterProvider } from 'react-router'
import { ClientProvider } from '../context/ClientContext.tsx'
import { TraceContext } from '../context/TraceContext.tsx'
import { sayFaultsPlainly } from '../ui/form/faultWords.ts'
import { NoticeProvider } from '../ui/Notice.tsx'
import { system } from '../ui/theme/system.ts'

sayFaultsPlainly()
const client = {
  clientId: 1,
  name: 'Kiln Lane Ceramics',
  base: 'EUR',
  timeZone: 'Europe/Dublin',
  archivedAt: null,
  locale: 'en-IE',
  role: 'bookkeeper' as const,
  rights: [...rightsOfRole.bookkeeper],
  latest: '2026-06-21',
  earliest: '2025-12-29',
}

const Framed = ({ trace }: { readonly trace: TraceStart | null }) => {
  const [start, setStart] = useState<TraceStart | null>(trace)
  const tracing = useMemo(() => ({ start, open: setStart, close: () => setStart(null) }), [start])
  return (
    <ClientProvider value={client}>
      <TraceContext.Provider value={tracing}>
        <Outlet />
      </TraceContext.Provider>
    </ClientProvider>
  )
}

interface Place {
  /** The pattern of its address, and an address of it. */
  readonly path: string
  readonly at: string
  readonly trace?: TraceStart
}

/** Draws a page as the application does: of a client, at an address, with a way to leave it; gives where one is. */
export const drawPage = (page: ReactElement, { path, at, trace }: Place) => {
  const { happyDOM } = window as { happyDOM?: { setViewport(size: { width: number; height: number }): void } }
  happyDOM?.setViewport({ width: 1280, height: 800 })
  const router = createMemoryRouter(
    [
      {
        element: <Framed trace={trace ?? null} />,
        children: [
          { path, element: page },
          { path: '*', element: <h1>elsewhere</h1> },
        ],
      },
    ],
    { initialEntries: [at] },
  )
  render(
    <ChakraProvider value={system}>
      <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
        <NoticeProvider>
          <RouterProvider router={router} />
        </NoticeProvider>
      </QueryClientProvider>
    </ChakraProvider>,
  )
  return { here: () => router.state.location.pathname + router.state.location.search }
}
