import {
  bankPage,
  changedCount,
  confirmOutcome,
  startedPull,
  statementList,
  statementOutcome,
  wordingList,
} from '@culvert/contract'
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
  readonly difference?: { account: string }
}

export const wordingsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'wordings'],
    queryFn: () => request(`/clients/${clientId}/bank-wordings`, wordingList),
  })

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
    code: useMutation({
      mutationFn: ({
        at,
        ...body
      }: {
        at: string
        bankLine: string
        account: string
        taxCode: string | null
        memo: string
      }) => request(`${base}/${encodeURIComponent(at)}/code`, changedCount, { json: body }),
      onSettled,
    }),
    setAside: useMutation({
      mutationFn: ({ at, ...body }: { at: string; transfers: string[]; bankLines: string[]; reason: string }) =>
        request(`${base}/${encodeURIComponent(at)}/set-aside`, changedCount, { json: body }),
      onSettled,
    }),
    wording: useMutation({
      mutationFn: (body: { source: string; wording: string; known: boolean }) =>
        request(`/clients/${clientId}/bank-wordings`, changedCount, { json: body }),
      onSettled,
    }),
    undo: useMutation({
      mutationFn: (pairings: string[]) => request(`${base}/undo`, changedCount, { json: { pairings } }),
      onSettled,
    }),
  }
}
