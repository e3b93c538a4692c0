import { bookEndpoints as books, clientEndpoints as clients, type TraceStart } from '@culvert/contract'
import { keepPreviousData, queryOptions } from '@tanstack/react-query'
import { call } from '../context/request.ts'

export const courseQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'course'],
    queryFn: () => call(clients.course, { client: clientId }),
    refetchInterval: 15_000,
  })

export const findQuery = (clientId: number, text: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'find', text],
    queryFn: () => call(clients.find, { client: clientId, query: { q: text } }),
    enabled: text.trim() !== '',
    placeholderData: keepPreviousData,
  })

export const traceQuery = (clientId: number, start: TraceStart | null) =>
  queryOptions({
    queryKey: ['client', clientId, 'trace', start],
    queryFn: () => call(books.trace, { client: clientId, query: start ?? {} }),
    enabled: start !== null,
  })

/** What can be asked of the server, as its programs see it. */
export const descriptionQuery = queryOptions({
  queryKey: ['description'],
  queryFn: () => call(clients.description),
  staleTime: Number.POSITIVE_INFINITY,
})
