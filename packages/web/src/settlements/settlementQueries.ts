import {
  activityList,
  changedCount,
  postOutcome,
  type SettlementKeyBody,
  settlementList,
  settlementPage,
  takeBackOutcome,
} from '@culvert/contract'
import { keepPreviousData, queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { queryText, request } from '../ui/request.ts'

export interface ListFilter {
  readonly state: string | null
  readonly source: string | null
  readonly from: string | null
  readonly to: string | null
}

export const settlementsQuery = (clientId: number, filter: ListFilter) =>
  queryOptions({
    queryKey: ['client', clientId, 'settlements', filter],
    queryFn: () => request(`/clients/${clientId}/settlements${queryText({ ...filter, limit: 1000 })}`, settlementList),
    placeholderData: keepPreviousData,
  })

export const pathOf = (key: SettlementKeyBody): string =>
  `/settlements/${encodeURIComponent(key.source)}/${encodeURIComponent(key.key)}/${key.currency}`

export const settlementQuery = (clientId: number, key: SettlementKeyBody) =>
  queryOptions({
    queryKey: ['client', clientId, 'settlement', key],
    queryFn: () => request(`/clients/${clientId}${pathOf(key)}`, settlementPage),
    placeholderData: keepPreviousData,
  })

export const activityQuery = (
  clientId: number,
  key: SettlementKeyBody,
  part: { kind: string; category: string | null },
) =>
  queryOptions({
    queryKey: ['client', clientId, 'activity', key, part],
    queryFn: () => request(`/clients/${clientId}${pathOf(key)}/lines${queryText(part)}`, activityList),
  })

/** What can be done to settlements; after each, everything of the client is asked for again. */
export const useSettlementActs = (clientId: number) => {
  const queries = useQueryClient()
  // Not waited for: a component that goes away with the fresh data would never hear that it was done.
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  const base = `/clients/${clientId}/settlements`
  return {
    post: useMutation({
      mutationFn: (keys: SettlementKeyBody[]) => request(`${base}/post`, postOutcome, { json: { keys } }),
      onSettled,
    }),
    takeBack: useMutation({
      mutationFn: (keys: SettlementKeyBody[]) => request(`${base}/take-back`, takeBackOutcome, { json: { keys } }),
      onSettled,
    }),
    setAside: useMutation({
      mutationFn: (act: { keys: SettlementKeyBody[]; reason: string }) =>
        request(`${base}/set-aside`, changedCount, { json: act }),
      onSettled,
    }),
    sayNoDouble: useMutation({
      mutationFn: (keys: SettlementKeyBody[]) => request(`${base}/no-double`, changedCount, { json: { keys } }),
      onSettled,
    }),
    takeUp: useMutation({
      mutationFn: (keys: SettlementKeyBody[]) => request(`${base}/take-up`, changedCount, { json: { keys } }),
      onSettled,
    }),
    correct: useMutation({
      mutationFn: (key: SettlementKeyBody) =>
        request(`/clients/${clientId}${pathOf(key)}/correction`, changedCount, { json: {} }),
      onSettled,
    }),
  }
}
