import {
  changedCount,
  chartPage,
  entryList,
  entryPage,
  type OpeningPage,
  openingPage,
  type RateRow,
  ratesPage,
  registerPage,
} from '@culvert/contract'
import { keepPreviousData, queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { z } from 'zod'
import { queryText, request } from '../ui/request.ts'

interface Range {
  readonly from: string | null
  readonly to: string | null
}

export const chartQuery = (clientId: number, to: string | null) =>
  queryOptions({
    queryKey: ['client', clientId, 'chart', to],
    queryFn: () => request(`/clients/${clientId}/books/chart${queryText({ to })}`, chartPage),
    placeholderData: keepPreviousData,
  })

export const entriesQuery = (clientId: number, range: Range) =>
  queryOptions({
    queryKey: ['client', clientId, 'entries', range],
    queryFn: () => request(`/clients/${clientId}/books/entries${queryText({ ...range, limit: 500 })}`, entryList),
    placeholderData: keepPreviousData,
  })

export const entryQuery = (clientId: number, number: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'entry', number],
    queryFn: () => request(`/clients/${clientId}/books/entries/${number}`, entryPage),
  })

export const registerQuery = (clientId: number, account: string, range: Range & { readonly offset: number }) =>
  queryOptions({
    queryKey: ['client', clientId, 'register', account, range],
    queryFn: () =>
      request(
        `/clients/${clientId}/books/register/${encodeURIComponent(account)}${queryText({ ...range, limit: 200 })}`,
        registerPage,
      ),
    placeholderData: keepPreviousData,
  })

export const ratesQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'rates'],
    queryFn: () => request(`/clients/${clientId}/rates`, ratesPage),
  })

/** What can be done to exchange rates; after it, everything of the client is asked for again. */
export const useRateActs = (clientId: number) => {
  const queries = useQueryClient()
  return {
    saveRates: useMutation({
      mutationFn: (rates: RateRow[]) =>
        request(`/clients/${clientId}/rates`, changedCount, { method: 'PUT', json: { rates } }),
      onSettled: () => {
        void queries.invalidateQueries({ queryKey: ['client', clientId] })
      },
    }),
  }
}

export const openingQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'opening'],
    queryFn: () => request(`/clients/${clientId}/books/opening`, openingPage),
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
        request(`/clients/${clientId}/books/opening`, z.object({ number: z.string() }), { json: body }),
      onSettled,
    }),
    undo: useMutation({
      mutationFn: () => request(`/clients/${clientId}/books/opening/undo`, z.object({}), { json: {} }),
      onSettled,
    }),
  }
}
