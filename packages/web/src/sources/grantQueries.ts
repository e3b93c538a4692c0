import {
  type AskGrantBody,
  type AskOwnerBody,
  type GrantAnswer,
  grantEndpoints as grants,
  type SourceOfShop,
} from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { useContext } from 'react'
import { JobsContext } from '../context/JobsContext.tsx'
import { call } from '../context/request.ts'

export const servicesQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'services'],
    queryFn: () => call(grants.services, { client: clientId }),
    staleTime: 5 * 60_000,
  })

export const grantsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'grants'],
    queryFn: () => call(grants.grants, { client: clientId }),
  })

/** The shops of a login, asked of the service itself. */
export const shopsQuery = (clientId: number, grant: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'grants', grant, 'shops'],
    queryFn: () => call(grants.shops, { client: clientId, params: { grant } }),
    retry: false,
    staleTime: 60_000,
  })

export const connectionQuery = (clientId: number, source: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'sources', source, 'connection'],
    queryFn: () => call(grants.connection, { client: clientId, params: { source } }),
  })

/** Takes what came back from a consent page, once: asked again it gives what was said. */
export const comingBackQuery = (clientId: number | null, body: GrantAnswer) =>
  queryOptions({
    queryKey: ['coming-back', body.state],
    queryFn: async () =>
      clientId === null
        ? { ...(await call(grants.completeByLink, { body })), byLink: true as const }
        : { ...(await call(grants.completeGrant, { client: clientId, body })), byLink: false as const },
    enabled: body.state !== '',
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
  })

export const linkedGrantQuery = (token: string) =>
  queryOptions({
    queryKey: ['linked-grant', token],
    queryFn: () => call(grants.lookAtGrant, { body: { token } }),
    enabled: token.length >= 20,
    retry: false,
  })

/** What can be done about being let in by services. */
export const useGrantActs = (clientId: number) => {
  const queries = useQueryClient()
  const { follow } = useContext(JobsContext)
  const onSettled = () => void queries.invalidateQueries({ queryKey: ['client', clientId] })
  const of = (grant: string) => ({ client: clientId, params: { grant } })
  return {
    ask: useMutation({ mutationFn: (body: AskGrantBody) => call(grants.askGrant, { client: clientId, body }) }),
    askOwner: useMutation({
      mutationFn: (body: AskOwnerBody) => call(grants.askOwner, { client: clientId, body }),
      onSettled,
    }),
    end: useMutation({ mutationFn: (grant: string) => call(grants.endGrant, of(grant)), onSettled }),
    use: useMutation({
      mutationFn: async ({ grant, source }: { grant: string; source: SourceOfShop }) => {
        const { pull } = await call(grants.connectShop, { ...of(grant), body: source })
        follow(pull)
      },
      onSettled,
    }),
    attach: useMutation({
      mutationFn: ({ grant, ...body }: { grant: string; source: string; shop: string }) =>
        call(grants.attachShop, { ...of(grant), body }),
      onSettled,
    }),
    useBank: useMutation({
      mutationFn: ({ grant, ...body }: { grant: string; account: string; shop: string }) =>
        call(grants.connectBank, { ...of(grant), body }),
      onSettled,
    }),
    useLedger: useMutation({
      mutationFn: ({ grant, shop }: { grant: string; shop: string }) =>
        call(grants.connectLedger, { ...of(grant), body: { shop } }),
      onSettled,
    }),
    dropBank: useMutation({
      mutationFn: (account: string) => call(grants.disconnectBank, { client: clientId, params: { account } }),
      onSettled,
    }),
    dropLedger: useMutation({
      mutationFn: () => call(grants.disconnectLedger, { client: clientId }),
      onSettled,
    }),
    disconnect: useMutation({
      mutationFn: (source: string) => call(grants.disconnect, { client: clientId, params: { source } }),
      onSettled,
    }),
  }
}

/** Goes to a service's consent page as whoever was asked by a link. */
export const useBeginGranting = (token: string) =>
  useMutation({ mutationFn: () => call(grants.beginGranting, { body: { token } }) })
