import { clearingEndpoints as at, type proofAnswerBody } from '@culvert/contract'
import { keepPreviousData, queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import type { z } from 'zod'
import { call } from '../context/request.ts'

export const clearingQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'clearing'],
    queryFn: () => call(at.clearing, { client: clientId }),
  })

export const proofQuery = (
  clientId: number,
  account: string,
  query: { readonly date: string | null; readonly currency: string | null },
) =>
  queryOptions({
    queryKey: ['client', clientId, 'proof', account, query],
    queryFn: () => call(at.proof, { client: clientId, params: { account }, query }),
    placeholderData: keepPreviousData,
  })

/** Says of a day, a statement or an order that a proof names that it is as it should be. */
export const useProofAnswer = (clientId: number) => {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: z.input<typeof proofAnswerBody>) => call(at.answerProof, { client: clientId, body }),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['client', clientId] })
    },
  })
}

/** States what an account holds at the end of a day, or takes that away. */
export const useStatedBalance = (clientId: number) => {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: ({ account, ...body }: { account: string; currency: string; date: string; amount: number | null }) =>
      call(at.stateBalance, { client: clientId, params: { account }, body }),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['client', clientId] })
    },
  })
}
