import {
  settlementEndpoints as at,
  type PostOutcome,
  type SettlementKeyBody,
  type TakeBackOutcome,
} from '@culvert/contract'
import { useJobs } from '../context/JobsContext.tsx'
import { call } from '../context/request.ts'
import { countText } from '../ui/formats.ts'
import { type Undo, useNotice } from '../ui/Notice.tsx'
import { useWayBack } from '../ui/useWayBack.ts'
import { postedText, takenBackText } from './outcomeText.ts'

/** Says what posting, taking back or setting aside came to, with the way back; whichever page is open when that is pressed. */
export const useSaid = (clientId: number) => {
  const notice = useNotice()
  const through = useJobs()
  const wayBack = useWayBack(clientId)
  const undo = (label: string, keys: readonly SettlementKeyBody[], act: () => Promise<void>): Undo | undefined =>
    keys.length === 0 ? undefined : wayBack(label, () => act().then(() => null))
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
  const setAside = (keys: readonly SettlementKeyBody[]): void =>
    notice.say(
      `Set ${countText(keys.length, 'settlement')} aside; the proof keeps counting ${keys.length === 1 ? 'it' : 'them'}.`,
      undo('Take up again', keys, async () => {
        await call(at.takeUp, { client: clientId, body: { keys: [...keys] } })
        notice.say(`${countText(keys.length, 'settlement')} taken up again.`)
      }),
    )
  return { posted, takenBack, setAside }
}
