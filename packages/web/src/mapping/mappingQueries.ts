import {
  type GridLinesBody,
  type ItemRow,
  type MakeMissing,
  type MakeNames,
  mappingEndpoints as map,
  missingEndpoints as missing,
  type RegistrationBody,
  type RuleBody,
  type SaveTaxRows,
  type TaxCodeRow,
  type TaxFilingBody,
  taxEndpoints as tax,
} from '@culvert/contract'
import { keepPreviousData, queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { call } from '../context/request.ts'
import type { TaxLinesOf } from './taxPlaceText.ts'

export const starterQuery = (clientId: number, source: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'starter', source],
    queryFn: () => call(map.starter, { client: clientId, params: { source } }),
    enabled: source !== '',
  })

/** Makes what is missing in one act. */
export const useMakeMissing = (clientId: number) => {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: MakeMissing) => call(missing.makeMissing, { client: clientId, body }),
    onSettled: () => void queries.invalidateQueries({ queryKey: ['client', clientId] }),
  })
}

/** Contacts and items that documents will need. */
export const missingNamesQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'missing', 'names'],
    queryFn: () => call(missing.missingNames, { client: clientId }),
  })

export const useMakeNames = (clientId: number) => {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: MakeNames) => call(missing.makeNames, { client: clientId, body }),
    onSettled: () => void queries.invalidateQueries({ queryKey: ['client', clientId] }),
  })
}

export const rulesQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'rules'],
    queryFn: () => call(map.rules, { client: clientId }),
  })

/** What rules would touch, in the order given; null: nothing is asked. */
export const touchedQuery = (clientId: number, rules: readonly RuleBody[] | null) =>
  queryOptions({
    queryKey: ['client', clientId, 'touched', rules],
    queryFn: () => call(map.touchedByRules, { client: clientId, body: { rules: [...(rules ?? [])] } }),
    enabled: rules !== null && rules.length > 0,
    retry: false,
    placeholderData: keepPreviousData,
  })

/** The lines that a rule meets; null: nothing is asked. */
export const ruleLinesQuery = (clientId: number, rule: RuleBody | null) =>
  queryOptions({
    queryKey: ['client', clientId, 'rule-lines', rule],
    queryFn: () => call(map.ruleLines, { client: clientId, body: { rule: rule as RuleBody } }),
    enabled: rule !== null,
  })

export const productsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'products'],
    queryFn: () => call(map.products, { client: clientId }),
  })

export const taxCheckQuery = (clientId: number, month: string) =>
  queryOptions({
    queryKey: ['client', clientId, 'tax-check', month],
    queryFn: () => call(tax.taxCheck, { client: clientId, query: { month } }),
    placeholderData: keepPreviousData,
  })

export const taxLinesQuery = (clientId: number, month: string, of: TaxLinesOf) =>
  queryOptions({
    queryKey: ['client', clientId, 'tax-lines', month, of],
    queryFn: () =>
      call(tax.taxLines, {
        client: clientId,
        query: { month, currency: of.currency, hanging: of.hanging, code: of.code, ...of.place, ...of.charged },
      }),
  })

export const taxFilingsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'tax-filings'],
    queryFn: () => call(tax.taxFilings, { client: clientId }),
  })

export const registrationsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'registrations'],
    queryFn: () => call(tax.registrations, { client: clientId }),
  })

export const taxGridQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'tax-grid'],
    queryFn: () => call(tax.taxGrid, { client: clientId }),
  })

/** The lines behind a sum of the grid. */
export const gridLinesQuery = (clientId: number, of: GridLinesBody) =>
  queryOptions({
    queryKey: ['client', clientId, 'grid-lines', of],
    queryFn: () => call(tax.gridLines, { client: clientId, body: of }),
  })

/** What can be done to the mapping; after each, everything of the client is asked for again. */
export const useMappingActs = (clientId: number) => {
  const queries = useQueryClient()
  // Not waited for: a component that goes away with the fresh data would never hear that it was done.
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  return {
    fileTax: useMutation({
      mutationFn: (body: TaxFilingBody) => call(tax.fileTax, { client: clientId, body }),
      onSettled,
    }),
    saveRegistration: useMutation({
      mutationFn: async ({ id, ...body }: RegistrationBody & { id: number | null }) => {
        if (id === null) await call(tax.addRegistration, { client: clientId, body })
        else await call(tax.saveRegistration, { client: clientId, params: { id: String(id) }, body })
      },
      onSettled,
    }),
    withdrawFiling: useMutation({
      mutationFn: ({ id, reason }: { id: number; reason: string }) =>
        call(tax.withdrawFiling, { client: clientId, params: { id: String(id) }, body: { reason } }),
      onSettled,
    }),
    // What is saved names the version that it was made from: one that somebody else saved meanwhile is a conflict.
    saveTaxCodes: useMutation({
      mutationFn: (body: { codes: TaxCodeRow[]; version: number }) =>
        call(map.saveTaxCodes, { client: clientId, body }),
      onSettled,
    }),
    saveTaxRows: useMutation({
      mutationFn: (body: SaveTaxRows) => call(tax.saveTaxGrid, { client: clientId, body }),
      onSettled,
    }),
    saveRules: useMutation({
      mutationFn: (body: { rules: RuleBody[]; version: number }) => call(map.saveRules, { client: clientId, body }),
      onSettled,
    }),
    saveItems: useMutation({
      mutationFn: (body: { items: ItemRow[]; version: number }) => call(map.saveItems, { client: clientId, body }),
      onSettled,
    }),
  }
}
