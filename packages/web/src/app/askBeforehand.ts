import type { QueryClient } from '@tanstack/react-query'
import { overviewQuery } from '../clients/clientQueries.ts'
import { sessionQuery } from '../context/sessionQuery.ts'

/** Asks for what the first view shows while it is still being drawn: else the answers are waited for once more when it stands. */
export const askBeforehand = async (queries: QueryClient, path: string): Promise<void> => {
  if (path !== '/' && !path.startsWith('/c/')) return
  await queries.prefetchQuery(sessionQuery)
  const session = queries.getQueryData(sessionQuery.queryKey)
  if (path === '/' && session)
    await Promise.all(session.clients.map(({ clientId }) => queries.prefetchQuery(overviewQuery(clientId))))
}
