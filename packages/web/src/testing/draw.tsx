import { ChakraProvider } from '@chakra-ui/react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { render } from '@testing-library/react'
import type { ReactElement } from 'react'
import { MemoryRouter } from 'react-router'
import { system } from '../ui/theme/system.ts'

/** Draws a part as the application does: in the theme, at an address, with queries of its own. */
export const draw = (part: ReactElement, address = '/') =>
  render(
    <ChakraProvider value={system}>
      <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
        <MemoryRouter initialEntries={[address]}>{part}</MemoryRouter>
      </QueryClientProvider>
    </ChakraProvider>,
  )
