import { paymentEndpoints as at, type DecidePayments } from '@culvert/contract'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { useOneAtATime } from '../context/useOneAtATime.ts'
import { countText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { useWayBack } from '../ui/useWayBack.ts'

type Decided = DecidePayments['decisions'][number]

const takenBackText = ({ undone, reversals }: { readonly undone: number; readonly reversals: number }): string =>
  `Taken back: ${countText(undone, 'decision')}${reversals > 0 ? ` by ${countText(reversals, 'reversal')}` : ''}.`

/** Decides payments and takes decisions back; each says what it came to, and offers the way back. */
export const useDecide = () => {
  const { clientId } = useClient()
  const queries = useQueryClient()
  const notice = useNotice()
  const wayBack = useWayBack(clientId)
  const oneAtATime = useOneAtATime()
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  const deciding = useMutation({
    mutationFn: (decisions: readonly Decided[]) =>
      call(at.decidePayments, { client: clientId, body: { decisions: [...decisions] } }),
    onSettled,
  })
  const undoing = useMutation({
    mutationFn: (of: readonly Decided['of'][]) => call(at.undoPayments, { client: clientId, body: { of: [...of] } }),
    onSettled,
  })
  const undo = (of: readonly Decided['of'][], after?: () => void): void =>
    undoing.mutate(of, {
      onError: notice.refuse,
      onSuccess: outcome => {
        after?.()
        notice.say(takenBackText(outcome))
      },
    })
  const decide = (decisions: readonly Decided[], after?: () => void): void =>
    oneAtATime(over =>
      deciding.mutate(decisions, {
        onError: notice.refuse,
        onSettled: over,
        onSuccess: ({ decided, entries }) => {
          after?.()
          notice.say(
            `Decided: ${countText(decided, 'payment')}${entries.length > 0 ? `, ${countText(entries.length, 'entry', 'entries')}` : ''}.`,
            wayBack('Take back', async () => {
              const of = decisions.map(one => one.of)
              return takenBackText(await call(at.undoPayments, { client: clientId, body: { of } }))
            }),
          )
        },
      }),
    )
  return { decide, undo, busy: deciding.isPending || undoing.isPending }
}
