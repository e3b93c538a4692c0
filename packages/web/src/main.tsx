import '@fontsource/ibm-plex-sans/latin-400.css'
import '@fontsource/ibm-plex-sans/latin-500.css'
import '@fontsource/ibm-plex-sans/latin-600.css'
import '@fontsource/ibm-plex-mono/latin-400.css'
import { ChakraProvider } from '@chakra-ui/react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { ThemeProvider } from 'next-themes'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { App } from './app/App.tsx'
import { askBeforehand } from './app/askBeforehand.ts'
import { sayFaultsPlainly } from './ui/form/faultWords.ts'
import { NoticeProvider } from './ui/Notice.tsx'
import { system } from './ui/theme/system.ts'

sayFaultsPlainly()
const queries = new QueryClient({
  defaultOptions: { queries: { staleTime: 5_000, retry: 1, refetchOnWindowFocus: true } },
})
void askBeforehand(queries, window.location.pathname)
const root = document.getElementById('root')
if (!root) throw new Error('the page has no root')
createRoot(root).render(
  <StrictMode>
    <ThemeProvider attribute="class" defaultTheme="system" disableTransitionOnChange>
      <ChakraProvider value={system}>
        <QueryClientProvider client={queries}>
          <NoticeProvider>
            <App />
          </NoticeProvider>
        </QueryClientProvider>
      </ChakraProvider>
    </ThemeProvider>
  </StrictMode>,
)
