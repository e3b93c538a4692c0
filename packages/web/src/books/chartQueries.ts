import { type AccountForm, bookEndpoints as at, type NewAccount } from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { call } from '../context/request.ts'

export const accountQuery = (clientId: number, account: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'account', account],
    queryFn: () => call(at.chartAccount, { client: clientId, params: { account } }),
  })

export const startingChartQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'starting-chart'],
    queryFn: () => call(at.startingChart, { client: clientId }),
  })

/** Changing accounts, and bringing in lists of them. */
export const useChartActs = (clientId: number) => {
  const queries = useQueryClient()
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  return {
    save: useMutation({
      mutationFn: ({ code, ...body }: { code: string } & { account: AccountForm; version: number }) =>
        call(at.saveAccount, {
          client: clientId,
          params: { account: code },
          body: { ...body.account, version: body.version },
        }),
      onSettled,
    }),
    read: useMutation({ mutationFn: (file: File) => call(at.readChart, { client: clientId, file }) }),
    take: useMutation({
      mutationFn: (accounts: NewAccount[]) => call(at.takeChart, { client: clientId, body: { accounts } }),
      onSettled,
    }),
  }
}
