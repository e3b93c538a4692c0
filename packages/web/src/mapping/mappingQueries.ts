import {
  activityList,
  type ItemRow,
  itemsPage,
  mappingPage,
  type NewAccount,
  productsPage,
  type RuleBody,
  rulesPage,
  type SaveRoutes,
  type SaveTaxRows,
  savedRoutes,
  savedTaxRows,
  starterPage,
  type TaxCodeRow,
  type TaxFilingBody,
  taxCheckPage,
  taxFilingList,
  taxGridPage,
  touchedLines,
} from '@culvert/contract'
import { keepPreviousData, queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { z } from 'zod'
import { queryText, request } from '../ui/request.ts'
import type { TaxLinesOf } from './TaxLines.tsx'

export const mappingQuery = (clientId: number, source: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'mapping', source],
    queryFn: () => request(`/clients/${clientId}/mapping/${encodeURIComponent(source)}`, mappingPage),
    enabled: source !== '',
  })

export const starterQuery = (clientId: number, source: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'starter', source],
    queryFn: () => request(`/clients/${clientId}/mapping/${encodeURIComponent(source)}/starter`, starterPage),
    enabled: source !== '',
  })

export const rulesQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'rules'],
    queryFn: () => request(`/clients/${clientId}/rules`, rulesPage),
  })

/** What rules would touch, in the order given; null: nothing is asked. */
export const touchedQuery = (clientId: number, rules: readonly RuleBody[] | null) =>
  queryOptions({
    queryKey: ['client', clientId, 'touched', rules],
    queryFn: () => request(`/clients/${clientId}/rules/touched`, touchedLines, { json: { rules } }),
    enabled: rules !== null && rules.length > 0,
    retry: false,
    placeholderData: keepPreviousData,
  })

export const itemsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'items'],
    queryFn: () => request(`/clients/${clientId}/items`, itemsPage),
  })

export const productsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'products'],
    queryFn: () => request(`/clients/${clientId}/items/products`, productsPage),
  })

export const taxCheckQuery = (clientId: number, month: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'tax-check', month],
    queryFn: () => request(`/clients/${clientId}/tax-check?month=${month}`, taxCheckPage),
    placeholderData: keepPreviousData,
  })

export const taxLinesQuery = (clientId: number, month: string, of: TaxLinesOf) =>
  queryOptions({
    queryKey: ['client', clientId, 'tax-lines', month, of],
    queryFn: () =>
      request(
        `/clients/${clientId}/tax-check/lines${queryText({ month, currency: of.currency, hanging: of.hanging, ...of.place })}`,
        activityList,
      ),
  })

export const taxFilingsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'tax-filings'],
    queryFn: () => request(`/clients/${clientId}/tax-filings`, taxFilingList),
  })

export const taxGridQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'tax-grid'],
    queryFn: () => request(`/clients/${clientId}/tax-grid`, taxGridPage),
  })

const savedVersion = z.object({ version: z.number() })

/** What can be done to the mapping; after each, everything of the client is asked for again. */
export const useMappingActs = (clientId: number) => {
  const queries = useQueryClient()
  // Not waited for: a component that goes away with the fresh data would never hear that it was done.
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  // What is saved names the version that it was made from: one that somebody else saved meanwhile is a conflict.
  const put = <Body extends { readonly version: number }>(path: string) => ({
    mutationFn: (json: Body) => request(`/clients/${clientId}/${path}`, savedVersion, { method: 'PUT', json }),
    onSettled,
  })
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
    fileTax: useMutation({
      mutationFn: (json: TaxFilingBody) => request(`/clients/${clientId}/tax-filings`, z.object({}), { json }),
      onSettled,
    }),
    withdrawFiling: useMutation({
      mutationFn: ({ id, reason }: { id: number; reason: string }) =>
        request(`/clients/${clientId}/tax-filings/${id}/withdraw`, z.object({}), { json: { reason } }),
      onSettled,
    }),
    saveTaxCodes: useMutation(put<{ codes: TaxCodeRow[]; version: number }>('tax-codes')),
    saveTaxRows: useMutation({
      mutationFn: (body: SaveTaxRows) =>
        request(`/clients/${clientId}/tax-grid`, savedTaxRows, { method: 'PUT', json: body }),
      onSettled,
    }),
    saveRules: useMutation(put<{ rules: RuleBody[]; version: number }>('rules')),
    saveItems: useMutation(put<{ items: ItemRow[]; version: number }>('items')),
  }
}
