import { bankPage, changedCount, confirmOutcome, startedPull, statementList, statementOutcome } from '@culvert/contract'
import { keepPreviousData, queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { queryText, request } from '../ui/request.ts'

export const bankAccountsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'bank'],
    queryFn: () => request(`/clients/${clientId}/bank`, statementList),
  })

export const tideQuery = (clientId: number, account: string, range: { from: string | null; to: string | null }) =>
  queryOptions({
    queryKey: ['client', clientId, 'tide', account, range],
    queryFn: () => request(`/clients/${clientId}/bank/${encodeURIComponent(account)}${queryText(range)}`, bankPage),
    enabled: account !== '',
    placeholderData: keepPreviousData,
  })

export interface Group {
  readonly transfers: string[]
  readonly bankLines: string[]
}

export const useBankActs = (clientId: number) => {
  const queries = useQueryClient()
  // Not waited for: a component that goes away with the fresh data would never hear that it was done.
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  const base = `/clients/${clientId}/bank`
  return {
    upload: useMutation({
      mutationFn: (file: File) =>
        request(`${base}/statements${queryText({ name: file.name })}`, statementOutcome, { file }),
      onSettled,
    }),
    pull: useMutation({
      mutationFn: (account: string) =>
        request(`${base}/${encodeURIComponent(account)}/pull`, startedPull, { json: {} }),
      onSettled,
    }),
    confirm: useMutation({
      mutationFn: (body: { account: string; groups: Group[] }) =>
        request(`${base}/confirm`, confirmOutcome, { json: body }),
      onSettled,
    }),
    confirmCertain: useMutation({
      mutationFn: (account: string) =>
        request(`${base}/${encodeURIComponent(account)}/confirm-certain`, confirmOutcome, { json: {} }),
      onSettled,
    }),
    undo: useMutation({
      mutationFn: (pairings: string[]) => request(`${base}/undo`, changedCount, { json: { pairings } }),
      onSettled,
    }),
  }
}
