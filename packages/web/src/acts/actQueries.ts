import { actEndpoints } from '@culvert/contract'
import { keepPreviousData, queryOptions } from '@tanstack/react-query'
import { call } from '../context/request.ts'

/** Which acts are asked for; what is left out is not asked about. */
export interface ActsAsked {
  readonly subject?: string
  readonly key?: string
  readonly by?: string | null
  readonly sort?: string | null
  readonly from?: string | null
  readonly to?: string | null
  readonly limit: number
}

export const actsQuery = (clientId: number, asked: ActsAsked) =>
  queryOptions({
    queryKey: ['client', clientId, 'acts', asked],
    queryFn: () => call(actEndpoints.acts, { client: clientId, query: { ...asked } }),
    placeholderData: keepPreviousData,
  })

export const actQuery = (clientId: number, actId: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'act', actId],
    queryFn: () => call(actEndpoints.act, { client: clientId, params: { act: actId } }),
  })

export const sealsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'act-seals'],
    queryFn: () => call(actEndpoints.checkSeals, { client: clientId }),
    // It is asked for by a press, and each press works it out anew.
    enabled: false,
    gcTime: 0,
  })
