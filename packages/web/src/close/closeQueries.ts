import { closePage, monthState } from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { z } from 'zod'
import { request } from '../ui/request.ts'

export const closeQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'close'],
    queryFn: () => request(`/clients/${clientId}/close`, closePage),
  })

/** What is open in one month. */
export const monthQuery = (clientId: number, month: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'close', month],
    queryFn: () => request(`/clients/${clientId}/close/${month}`, monthState),
    // Looked at to decide: never as it was a while ago.
    gcTime: 0,
  })

/** Locks a month, or opens it again. */
export const useLock = (clientId: number) => {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: { month: string; locked: boolean; reason: string }) =>
      request(`/clients/${clientId}/close/lock`, z.object({}), { method: 'PUT', json: body }),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['client', clientId] })
    },
  })
}
