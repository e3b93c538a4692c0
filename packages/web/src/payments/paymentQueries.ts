import { paymentEndpoints as at, type DecideDispute } from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { call } from '../context/request.ts'

export const tieOutQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'tie-out'],
    queryFn: () => call(at.tieOut, { client: clientId }),
  })

export const disputesQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'disputes'],
    queryFn: () => call(at.disputes, { client: clientId }),
  })

/** What can be done to disputed payments; after each, everything of the client is asked for again. */
export const useDisputeActs = (clientId: number) => {
  const queries = useQueryClient()
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  return {
    decide: useMutation({
      mutationFn: (body: DecideDispute) => call(at.decideDispute, { client: clientId, body }),
      onSettled,
    }),
    undo: useMutation({
      mutationFn: (body: { source: string; lineId: string }) => call(at.undoDispute, { client: clientId, body }),
      onSettled,
    }),
  }
}

/** Says which source each label of a means of payment stands for. */
export const useSaveLabels = (clientId: number) => {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: { labels: { label: string; source: string }[]; version: number }) =>
      call(at.saveLabels, { client: clientId, body }),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['client', clientId] })
    },
  })
}

/** Says up to how much of one payment may be written off. */
export const useSaveWriteOff = (clientId: number) => {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: { upTo: number | null; from: number | null }) =>
      call(at.saveWriteOff, { client: clientId, body }),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: ['client', clientId] })
    },
  })
}
