import { bookEndpoints as at, type OpeningPage } from '@culvert/contract'
import { keepPreviousData, queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { call } from '../context/request.ts'
import type { PartOf } from '../context/usePages.ts'

interface Range {
  readonly from: string | null
  readonly to: string | null
}

export const chartQuery = (clientId: number, to: string | null) =>
  queryOptions({
    queryKey: ['client', clientId, 'chart', to],
    queryFn: () => call(at.chart, { client: clientId, query: { to } }),
    placeholderData: keepPreviousData,
  })

export const entriesList = (clientId: number, range: Range) => ({
  queryKey: ['client', clientId, 'entries', range] as const,
  load: (part: PartOf) => call(at.entries, { client: clientId, query: { ...range, ...part } }),
})

export const entryQuery = (clientId: number, number: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'entry', number],
    queryFn: () => call(at.entry, { client: clientId, params: { number } }),
  })

export const registerList = (clientId: number, account: string, range: Range) => ({
  queryKey: ['client', clientId, 'register', account, range] as const,
  load: (part: PartOf) => call(at.register, { client: clientId, params: { account }, query: { ...range, ...part } }),
})

export const ratesQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'rates'],
    queryFn: () => call(at.rates, { client: clientId }),
  })

export const openingQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'opening'],
    queryFn: () => call(at.opening, { client: clientId }),
  })

/** Posts opening balances, and takes them back; after it, everything of the client is asked for again. */
export const useOpeningActs = (clientId: number) => {
  const queries = useQueryClient()
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  return {
    post: useMutation({
      mutationFn: (body: Pick<NonNullable<OpeningPage['standing']>, 'date' | 'lines'>) =>
        call(at.postOpening, { client: clientId, body }),
      onSettled,
    }),
    undo: useMutation({
      mutationFn: () => call(at.undoOpening, { client: clientId }),
      onSettled,
    }),
  }
}
