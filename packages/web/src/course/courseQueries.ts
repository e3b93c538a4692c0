import { course, findResult, session, type TraceStart, trace } from '@culvert/contract'
import { keepPreviousData, queryOptions } from '@tanstack/react-query'
import { queryText, request } from '../ui/request.ts'

export const sessionQuery = queryOptions({ queryKey: ['session'], queryFn: () => request('/session', session) })

export const courseQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'course'],
    queryFn: () => request(`/clients/${clientId}/course`, course),
    refetchInterval: 15_000,
  })

export const findQuery = (clientId: number, text: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'find', text],
    queryFn: () => request(`/clients/${clientId}/find${queryText({ q: text })}`, findResult),
    enabled: text.trim() !== '',
    placeholderData: keepPreviousData,
  })

export const traceQuery = (clientId: number, start: TraceStart | null) =>
  queryOptions({
    queryKey: ['client', clientId, 'trace', start],
    queryFn: () => request(`/clients/${clientId}/trace${queryText(start as Record<string, string | number>)}`, trace),
    enabled: start !== null,
  })
