import {
  settlementEndpoints as at,
  type PostOutcome,
  type SettlementKeyBody,
  type TakeBackOutcome,
} from '@culvert/contract'
import { useQueryClient } from '@tanstack/react-query'
import { useJobs } from '../context/JobsContext.tsx'
import { type Undo, useNotice } from '../ui/Notice.tsx'
import { postedText, takenBackText } from './outcomeText.ts'

/** Says what posting or taking back came to, with the way back; whichever page is open when that is pressed. */
export const useSaid = (clientId: number) => {
  const notice = useNotice()
  const queries = useQueryClient()
  const through = useJobs()
  const undo = (label: string, keys: readonly SettlementKeyBody[], act: () => Promise<void>): Undo | undefined =>
    keys.length === 0
      ? undefined
      : {
          label,
          act: () => {
            void act()
              .catch(notice.refuse)
              .finally(() => queries.invalidateQueries({ queryKey: ['client', clientId] }))
          },
        }
  const posted = (outcome: PostOutcome): void => {
    const keys = outcome.posted
    notice.say(
      postedText(outcome),
      undo(keys.length === 1 ? 'Take it back' : `Take back ${keys.length}`, keys, async () => {
        const back = await through(at.takeBack, { client: clientId, body: { keys: [...keys] } })
        if (back) takenBack(back)
      }),
    )
  }
  const takenBack = (outcome: TakeBackOutcome): void => {
    const keys = outcome.takenBack
    notice.say(
      takenBackText(outcome),
      undo(keys.length === 1 ? 'Post it again' : `Post ${keys.length} again`, keys, async () => {
        const again = await through(at.post, { client: clientId, body: { keys: [...keys] } })
        if (again) posted(again)
      }),
    )
  }
  return { posted, takenBack }
}
