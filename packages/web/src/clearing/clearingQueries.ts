import { changedCount, clearingList, proofPage } from '@culvert/contract'
import { keepPreviousData, queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { queryText, request } from '../ui/request.ts'

export const clearingQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'clearing'],
    queryFn: () => request(`/clients/${clientId}/clearing`, clearingList),
  })

export const proofQuery = (
  clientId: number,
  account: string,
  at: { readonly date: string | null; readonly currency: string | null },
) =>
  queryOptions({
    queryKey: ['client', clientId, 'proof', account, at],
    queryFn: () => request(`/clients/${clientId}/clearing/${encodeURIComponent(account)}${queryText(at)}`, proofPage),
    placeholderData: keepPreviousData,
  })

/** States what an account holds at the end of a day, or takes that away. */
export const useStatedBalance = (clientId: number) => {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ account, ...body }: { account: string; currency: string; date: string; amount: number | null }) =>
      request(`/clients/${clientId}/clearing/${encodeURIComponent(account)}/stated`, changedCount, {
        method: 'PUT',
        json: body,
      }),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['client', clientId] })
    },
  })
}
