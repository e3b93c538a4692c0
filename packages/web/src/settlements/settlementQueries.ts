import { settlementEndpoints as at, type SettlementKeyBody } from '@culvert/contract'
import { keepPreviousData, queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { useJobs } from '../context/JobsContext.tsx'
import { call } from '../context/request.ts'
import type { PartOf } from '../context/usePages.ts'

export interface ListFilter {
  readonly state: string | null
  readonly source: string | null
  readonly from: string | null
  readonly to: string | null
}

export const settlementsList = (clientId: number, filter: ListFilter) => ({
  queryKey: ['client', clientId, 'settlements', filter] as const,
  load: (part: PartOf) => call(at.settlements, { client: clientId, query: { ...filter, ...part } }),
})

export const settlementQuery = (clientId: number, key: SettlementKeyBody) =>
  queryOptions({
    queryKey: ['client', clientId, 'settlement', key],
    queryFn: () => call(at.settlement, { client: clientId, params: key }),
    placeholderData: keepPreviousData,
  })

export const activityQuery = (
  clientId: number,
  key: SettlementKeyBody,
  part: { kind: string; category: string | null },
) =>
  queryOptions({
    queryKey: ['client', clientId, 'activity', key, part],
    queryFn: () => call(at.settlementLines, { client: clientId, params: key, query: part }),
  })

/** What can be done to settlements; after each, everything of the client is asked for again. */
export const useSettlementActs = (clientId: number) => {
  const queries = useQueryClient()
  const through = useJobs()
  // Not waited for: a component that goes away with the fresh data would never hear that it was done.
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  return {
    post: useMutation({
      mutationFn: (keys: SettlementKeyBody[]) => through(at.post, { client: clientId, body: { keys } }),
      onSettled,
    }),
    takeBack: useMutation({
      mutationFn: (keys: SettlementKeyBody[]) => through(at.takeBack, { client: clientId, body: { keys } }),
      onSettled,
    }),
    setAside: useMutation({
      mutationFn: (act: { keys: SettlementKeyBody[]; reason: string }) =>
        call(at.setAside, { client: clientId, body: act }),
      onSettled,
    }),
    sayNoDouble: useMutation({
      mutationFn: (keys: SettlementKeyBody[]) => call(at.sayNoDouble, { client: clientId, body: { keys } }),
      onSettled,
    }),
    takeUp: useMutation({
      mutationFn: (keys: SettlementKeyBody[]) => call(at.takeUp, { client: clientId, body: { keys } }),
      onSettled,
    }),
    correct: useMutation({
      mutationFn: (key: SettlementKeyBody) => call(at.correct, { client: clientId, params: key }),
      onSettled,
    }),
  }
}
