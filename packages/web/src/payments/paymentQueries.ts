import { tieOutPage } from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { z } from 'zod'
import { request } from '../ui/request.ts'

export const tieOutQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'tie-out'],
    queryFn: () => request(`/clients/${clientId}/tie-out`, tieOutPage),
  })

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
