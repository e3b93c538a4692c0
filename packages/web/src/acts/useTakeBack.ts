import type { ActRow } from '@culvert/contract'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { useNotice } from '../ui/Notice.tsx'
import { actQuery } from './actQueries.ts'
import { keysToTakeBack, wayBackOf } from './takeBackActs.ts'

/** What is to be taken back, once it is known whole. */
export interface ToTakeBack {
  readonly acts: readonly ActRow[]
  readonly keys: readonly string[]
}

/** Finds out what some acts of one sort did, whole, and takes it back. */
export const useTakeBack = () => {
  const { clientId } = useClient()
  const queries = useQueryClient()
  const notice = useNotice()
  return {
    /** A list shows the first objects of an act; all of them are asked for. */
    gather: useMutation({
      mutationFn: async (acts: readonly ActRow[]): Promise<ToTakeBack> => {
        const whole = await Promise.all(acts.map(act => queries.fetchQuery(actQuery(clientId, act.actId))))
        return { acts: whole, keys: keysToTakeBack(whole) }
      },
      onError: notice.refuse,
    }),
    run: useMutation({
      mutationFn: async ({ acts, keys }: ToTakeBack): Promise<string> => {
        const way = wayBackOf(acts[0]?.sort ?? '')
        if (!way) throw new Error('This is not taken back from here.')
        return way.run(clientId, keys)
      },
      onSuccess: said => notice.say(said),
      onError: notice.refuse,
      onSettled: () => void queries.invalidateQueries({ queryKey: ['client', clientId] }),
    }),
  }
}
