import { type DecideDispute, disputesPage, tieOutPage } from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { z } from 'zod'
import { request } from '../ui/request.ts'

export const tieOutQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'tie-out'],
    queryFn: () => request(`/clients/${clientId}/tie-out`, tieOutPage),
  })

export const disputesQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'disputes'],
    queryFn: () => request(`/clients/${clientId}/disputes`, disputesPage),
  })

/** What can be done to disputed payments; after each, everything of the client is asked for again. */
export const useDisputeActs = (clientId: number) => {
  const queries = useQueryClient()
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  return {
    decide: useMutation({
      mutationFn: (json: DecideDispute) => request(`/clients/${clientId}/disputes/decide`, z.object({}), { json }),
      onSettled,
    }),
    undo: useMutation({
      mutationFn: (json: { source: string; lineId: string }) =>
        request(`/clients/${clientId}/disputes/undo`, z.object({}), { json }),
      onSettled,
    }),
  }
}

/** Says which source each label of a means of payment stands for. */
export const useSaveLabels = (clientId: number) => {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: { labels: readonly { label: string; source: string }[]; version: number }) =>
      request(`/clients/${clientId}/tie-out/labels`, z.object({ version: z.number() }), {
        method: 'PUT',
        json: body,
      }),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['client', clientId] })
    },
  })
}
