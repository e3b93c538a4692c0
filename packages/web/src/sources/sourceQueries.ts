import {
  sourceEndpoints as at,
  clearingEndpoints as clearing,
  mappingEndpoints as map,
  type NewSource,
  type PersonalScope,
  personalDataEndpoints as personal,
  type SavedSource,
  type SourceOptionsBody,
} from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { useContext } from 'react'
import { JobsContext, stopJob, useJobs } from '../context/JobsContext.tsx'
import { call } from '../context/request.ts'

export const useSourceActs = (clientId: number) => {
  const queries = useQueryClient()
  const { follow } = useContext(JobsContext)
  // Not waited for: a component that goes away with the fresh data would never hear that it was done.
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  return {
    pull: useMutation({
      mutationFn: async (source: string) => {
        const { job } = await call(at.pull, { client: clientId, params: { source } })
        follow(job)
      },
      onSettled,
    }),
    cancel: useMutation({
      mutationFn: (jobId: string) => stopJob(clientId, 'pull', jobId),
      onSettled,
    }),
  }
}

/** The chart of accounts. */
export const accountsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'accounts'],
    queryFn: () => call(map.accounts, { client: clientId }),
  })

/** Adds a source. */
export const useAddSource = (clientId: number) => {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (source: NewSource) => call(at.addSource, { client: clientId, body: source }),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['client', clientId] })
    },
  })
}

export const sourceSettingsQuery = (clientId: number, source: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'sources', source, 'settings'],
    queryFn: () => call(at.sourceSettings, { client: clientId, params: { source } }),
  })

/** Changing what a source is, and removing one that was added by mistake. */
export const useSourceSettings = (clientId: number, source: string) => {
  const queries = useQueryClient()
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  return {
    save: useMutation({
      mutationFn: (body: { version: number; source: SavedSource }) =>
        call(at.saveSource, { client: clientId, params: { source }, body }),
      onSettled,
    }),
    remove: useMutation({
      mutationFn: () => call(at.removeSource, { client: clientId, params: { source } }),
      onSettled,
    }),
  }
}

export const optionsQuery = (clientId: number, source: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'sources', source, 'options'],
    queryFn: () => call(at.options, { client: clientId, params: { source } }),
  })

/** What a source left to other books; null: nothing. */
export const cutOverQuery = (clientId: number, source: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'clearing', 'cut-over', source],
    queryFn: () => call(clearing.cutOver, { client: clientId, params: { source } }),
  })

/** What another day that counts would make of the lines that are stored. */
export const basisQuery = (
  clientId: number,
  source: string,
  { dateBasis, cutOff, timeZone }: Pick<SourceOptionsBody, 'dateBasis' | 'cutOff' | 'timeZone'>,
) =>
  queryOptions({
    queryKey: ['client', clientId, 'sources', source, 'basis', dateBasis, cutOff, timeZone],
    queryFn: () =>
      call(at.basisEffect, {
        client: clientId,
        params: { source },
        query: { basis: dateBasis, ...(cutOff !== null && { cutOff }), ...(timeZone !== null && { timeZone }) },
      }),
    staleTime: 0,
  })

/** Rows of a source's files that were set aside. */
export const asideQuery = (clientId: number, source: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'sources', source, 'aside'],
    queryFn: () => call(at.rowsAside, { client: clientId, params: { source } }),
  })

export const useSayOfAside = (clientId: number, source: string) => {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: { jobId: string; row: number; why: 'nothing' | 'unread' }) =>
      call(at.sayOfRowAside, { client: clientId, params: { source }, body }),
    onSettled: () => void queries.invalidateQueries({ queryKey: ['client', clientId] }),
  })
}

export const useSaveOptions = (clientId: number, source: string) => {
  const queries = useQueryClient()
  const through = useJobs()
  return useMutation({
    mutationFn: (body: { version: number; options: SourceOptionsBody }) =>
      through(at.saveOptions, { client: clientId, params: { source }, body }),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['client', clientId] })
    },
  })
}

export const personalQuery = (clientId: number, source: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'sources', source, 'personal-data'],
    queryFn: () => call(personal.personalOfSource, { client: clientId, params: { source } }),
  })

export const useSetPersonal = (clientId: number, source: string) => {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (scope: PersonalScope) =>
      call(personal.setPersonalScope, { client: clientId, params: { source }, body: { scope } }),
    onSettled: () => void queries.invalidateQueries({ queryKey: ['client', clientId] }),
  })
}

export const customersQuery = (clientId: number, text: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'customers', text.trim()],
    queryFn: () => call(personal.customers, { client: clientId, query: { q: text.trim() } }),
    enabled: text.trim().length > 1,
  })

/** What can be done to what is kept of customers. */
export const useCustomerActs = (clientId: number) => {
  const queries = useQueryClient()
  const onSettled = () => void queries.invalidateQueries({ queryKey: ['client', clientId] })
  return {
    take: useMutation({
      mutationFn: (ids: string[]) => call(personal.exportCustomers, { client: clientId, body: { ids } }),
    }),
    erase: useMutation({
      mutationFn: (ids: string[]) => call(personal.eraseCustomers, { client: clientId, body: { ids } }),
      onSettled,
    }),
  }
}
