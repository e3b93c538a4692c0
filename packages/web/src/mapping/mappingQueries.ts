import { mappingPage, type NewAccount, type SaveRoutes, savedRoutes, type TaxCodeRow } from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { z } from 'zod'
import { request } from '../ui/request.ts'

export const mappingQuery = (clientId: number, source: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'mapping', source],
    queryFn: () => request(`/clients/${clientId}/mapping/${encodeURIComponent(source)}`, mappingPage),
    enabled: source !== '',
  })

/** What can be done to the mapping; after each, everything of the client is asked for again. */
export const useMappingActs = (clientId: number) => {
  const queries = useQueryClient()
  // Not waited for: a component that goes away with the fresh data would never hear that it was done.
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  return {
    save: useMutation({
      mutationFn: (body: SaveRoutes) =>
        request(`/clients/${clientId}/routes`, savedRoutes, { method: 'PUT', json: body }),
      onSettled,
    }),
    addAccount: useMutation({
      mutationFn: (body: NewAccount) => request(`/clients/${clientId}/accounts`, z.object({}), { json: body }),
      onSettled,
    }),
    saveTaxCodes: useMutation({
      mutationFn: (codes: TaxCodeRow[]) =>
        request(`/clients/${clientId}/tax-codes`, z.object({ version: z.number() }), {
          method: 'PUT',
          json: { codes },
        }),
      onSettled,
    }),
  }
}
