import { clientEndpoints as at } from '@culvert/contract'
import { queryOptions } from '@tanstack/react-query'
import { call } from '../context/request.ts'

export const overviewQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'overview'],
    queryFn: () => call(at.overview, { client: clientId }),
    refetchInterval: 30_000,
  })
