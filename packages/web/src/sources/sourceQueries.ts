import {
  basisEffect,
  pullLog,
  type SourceOptionsBody,
  sourceList,
  sourceOptionsPage,
  startedPull,
  uploadOutcome,
} from '@culvert/contract'
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

export const optionsQuery = (clientId: number, source: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'sources', source, 'options'],
    queryFn: () => request(`/clients/${clientId}/sources/${source}/options`, sourceOptionsPage),
  })

/** What another day that counts would make of the lines that are stored. */
export const basisQuery = (clientId: number, source: string, basis: SourceOptionsBody['dateBasis'] | null) =>
  queryOptions({
    queryKey: ['client', clientId, 'sources', source, 'basis', basis],
    queryFn: () => request(`/clients/${clientId}/sources/${source}/options/basis${queryText({ basis })}`, basisEffect),
    enabled: basis !== null,
    staleTime: 0,
  })

export const useSaveOptions = (clientId: number, source: string) => {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (json: { version: number; options: SourceOptionsBody }) =>
      request(
        `/clients/${clientId}/sources/${source}/options`,
        z.object({ version: z.number(), counted: z.number() }),
        { method: 'PUT', json },
      ),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['client', clientId] })
    },
  })
}
