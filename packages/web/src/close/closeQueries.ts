import { closeEndpoints as at } from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { call } from '../context/request.ts'

export const closeQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'close'],
    queryFn: () => call(at.months, { client: clientId }),
  })

/** What is open in one month. */
export const monthQuery = (clientId: number, month: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'close', month],
    queryFn: () => call(at.month, { client: clientId, params: { month } }),
    // Looked at to decide: never as it was a while ago.
    gcTime: 0,
  })

/** Locks a month, or opens it again. */
export const useLock = (clientId: number) => {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: { month: string; locked: boolean; reason: string }) =>
      call(at.setLocked, { client: clientId, body }),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['client', clientId] })
    },
  })
}
