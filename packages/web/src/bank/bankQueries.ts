import { bankEndpoints as at } from '@culvert/contract'
import { keepPreviousData, queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { useJobs } from '../context/JobsContext.tsx'
import { call } from '../context/request.ts'

export const tideQuery = (clientId: number, account: string, range: { from: string | null; to: string | null }) =>
  queryOptions({
    queryKey: ['client', clientId, 'tide', account, range],
    queryFn: () => call(at.bank, { client: clientId, params: { account }, query: range }),
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
    queryFn: () => call(at.wordings, { client: clientId }),
  })

export const useBankActs = (clientId: number) => {
  const queries = useQueryClient()
  const through = useJobs()
  // Not waited for: a component that goes away with the fresh data would never hear that it was done.
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  return {
    pull: useMutation({
      mutationFn: (account: string) => call(at.pullBank, { client: clientId, params: { account } }),
      onSettled,
    }),
    confirm: useMutation({
      mutationFn: (body: { account: string; groups: Group[] }) => through(at.confirm, { client: clientId, body }),
      onSettled,
    }),
    confirmCertain: useMutation({
      mutationFn: (account: string) => through(at.confirmCertain, { client: clientId, params: { account } }),
      onSettled,
    }),
    code: useMutation({
      mutationFn: ({
        bank,
        ...body
      }: {
        bank: string
        bankLine: string
        account: string
        taxCode: string | null
        memo: string
      }) => call(at.code, { client: clientId, params: { account: bank }, body }),
      onSettled,
    }),
    setAside: useMutation({
      mutationFn: ({ bank, ...body }: { bank: string; transfers: string[]; bankLines: string[]; reason: string }) =>
        call(at.setAsideItems, { client: clientId, params: { account: bank }, body }),
      onSettled,
    }),
    wording: useMutation({
      mutationFn: (body: { source: string; wording: string; known: boolean }) =>
        call(at.saveWording, { client: clientId, body }),
      onSettled,
    }),
    undo: useMutation({
      mutationFn: (pairings: string[]) => call(at.undoPairings, { client: clientId, body: { pairings } }),
      onSettled,
    }),
  }
}
