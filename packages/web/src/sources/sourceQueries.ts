import { pullLog, sourceList, startedPull, uploadOutcome } from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { z } from 'zod'
import { queryText, request } from '../ui/request.ts'

const underWay = new Set(['waiting', 'running', 'cancelling'])

export const sourcesQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'sources'],
    queryFn: () => request(`/clients/${clientId}/sources`, sourceList),
    refetchInterval: query =>
      query.state.data?.sources.some(source => source.lastPull && underWay.has(source.lastPull.state)) ? 400 : false,
  })

export const pullsQuery = (clientId: number, source: string | null) =>
  queryOptions({
    queryKey: ['client', clientId, 'pulls', source],
    queryFn: () => request(`/clients/${clientId}/pulls${queryText({ source })}`, pullLog),
    refetchInterval: query => (query.state.data?.pulls.some(pull => underWay.has(pull.state)) ? 400 : false),
  })

export const useSourceActs = (clientId: number) => {
  const queries = useQueryClient()
  // Not waited for: a component that goes away with the fresh data would never hear that it was done.
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  return {
    pull: useMutation({
      mutationFn: (source: string) => request(`/clients/${clientId}/sources/${source}/pull`, startedPull, { json: {} }),
      onSettled,
    }),
    cancel: useMutation({
      mutationFn: (pullId: string) =>
        request(`/clients/${clientId}/pulls/${pullId}/cancel`, z.object({}), { json: {} }),
      onSettled,
    }),
    upload: useMutation({
      mutationFn: (upload: { source: string; file: File }) =>
        request(
          `/clients/${clientId}/sources/${upload.source}/files${queryText({ name: upload.file.name })}`,
          uploadOutcome,
          { file: upload.file },
        ),
      onSettled,
    }),
  }
}
