import {
  bankEndpoints as bank,
  bookEndpoints as books,
  isUnderWay,
  listEndpoints as lists,
  mappingEndpoints as map,
  missingEndpoints as missing,
  type NewAccount,
  type RateRow,
  type SaveRoutes,
  sourceEndpoints as sources,
} from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { call } from './request.ts'

// What pages of several stages ask for and do: a stage imports no other.

export const sourcesQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'sources'],
    queryFn: () => call(sources.sources, { client: clientId }),
    refetchInterval: query =>
      query.state.data?.sources.some(source => source.lastPull && isUnderWay(source.lastPull.state)) ? 400 : false,
  })

export const pullsQuery = (clientId: number, source: string | null) =>
  queryOptions({
    queryKey: ['client', clientId, 'pulls', source],
    queryFn: () => call(sources.pulls, { client: clientId, query: { source } }),
    refetchInterval: query => (query.state.data?.pulls.some(pull => isUnderWay(pull.state)) ? 400 : false),
  })

export const bankAccountsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'bank'],
    queryFn: () => call(bank.bankAccounts, { client: clientId }),
  })

export const mappingQuery = (clientId: number, source: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'mapping', source],
    queryFn: () => call(map.mapping, { client: clientId, params: { source } }),
    enabled: source !== '',
  })

/** What booking lacks for what the sources reported. */
export const missingQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'missing'],
    queryFn: () => call(missing.missing, { client: clientId }),
  })

export const itemsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'items'],
    queryFn: () => call(map.items, { client: clientId }),
  })

/** What can be done to the map from wherever it is missing; after each, everything of the client is asked for again. */
export const useMapActs = (clientId: number) => {
  const queries = useQueryClient()
  // Not waited for: a component that goes away with the fresh data would never hear that it was done.
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  return {
    save: useMutation({
      mutationFn: (body: SaveRoutes) => call(map.saveRoutes, { client: clientId, body }),
      onSettled,
    }),
    addAccount: useMutation({
      mutationFn: (body: NewAccount) => call(map.addAccounts, { client: clientId, body }),
      onSettled,
    }),
    saveRates: useMutation({
      mutationFn: (rates: RateRow[]) => call(books.saveRates, { client: clientId, body: { rates } }),
      onSettled,
    }),
  }
}

/** Whom the client sells to and buys from. */
export const contactsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'contacts'],
    queryFn: () => call(lists.contacts, { client: clientId }),
  })
