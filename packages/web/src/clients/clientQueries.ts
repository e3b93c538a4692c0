import { clientEndpoints as at, type clientForm, type saveClientBody } from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import type { z } from 'zod'
import { call } from '../context/request.ts'

export const overviewQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'overview'],
    queryFn: () => call(at.overview, { client: clientId }),
    refetchInterval: 30_000,
  })

export const clientSettingsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'settings'],
    queryFn: () => call(at.clientSettings, { client: clientId }),
  })

/** Taking clients on, changing what they are, archiving and removing them. */
export const useClientActs = () => {
  const queries = useQueryClient()
  const onSettled = () => {
    void queries.invalidateQueries()
  }
  return {
    add: useMutation({
      mutationFn: (body: z.output<typeof clientForm>) => call(at.addClient, { body }),
      // Waited for: the page that comes next is of a client that the session has to know.
      onSuccess: () => queries.invalidateQueries({ queryKey: ['session'] }),
    }),
    pullAll: useMutation({ mutationFn: () => call(at.pullAll), onSettled }),
    save: useMutation({
      mutationFn: ({ clientId, body }: { clientId: number; body: z.input<typeof saveClientBody> }) =>
        call(at.saveClient, { client: clientId, body }),
      onSettled,
    }),
    archive: useMutation({
      mutationFn: ({ clientId, archived }: { clientId: number; archived: boolean }) =>
        call(at.archiveClient, { client: clientId, body: { archived } }),
      onSettled,
    }),
    remove: useMutation({
      mutationFn: ({ clientId, name }: { clientId: number; name: string }) =>
        call(at.removeClient, { client: clientId, body: { name } }),
      onSuccess: () => queries.invalidateQueries({ queryKey: ['session'] }),
    }),
  }
}
