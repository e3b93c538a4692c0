import { bankEndpoints as at } from '@culvert/contract'
import { call } from '../context/request.ts'
import { countText } from '../ui/formats.ts'
import type { Undo } from '../ui/Notice.tsx'
import { useWayBack } from '../ui/useWayBack.ts'

/** The way back of what was decided of bank lines and payouts, by the ids of its pairings. */
export const useApart = (clientId: number) => {
  const wayBack = useWayBack(clientId)
  return (pairings: readonly string[], label = 'Take apart'): Undo | undefined =>
    pairings.length === 0
      ? undefined
      : wayBack(label, async () => {
          const { changed } = await call(at.undoPairings, { client: clientId, body: { pairings: [...pairings] } })
          return `${countText(changed, 'decision')} undone; what ${changed === 1 ? 'it' : 'they'} tied is open again.`
        })
}
