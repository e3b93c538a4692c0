import { clearingList, proofPage } from '@culvert/contract'
import { keepPreviousData, queryOptions } from '@tanstack/react-query'
import { queryText, request } from '../ui/request.ts'

export const clearingQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'clearing'],
    queryFn: () => request(`/clients/${clientId}/clearing`, clearingList),
  })

export const proofQuery = (clientId: number, account: string, date: string | null) =>
  queryOptions({
    queryKey: ['client', clientId, 'proof', account, date],
    queryFn: () =>
      request(`/clients/${clientId}/clearing/${encodeURIComponent(account)}${queryText({ date })}`, proofPage),
    placeholderData: keepPreviousData,
  })
