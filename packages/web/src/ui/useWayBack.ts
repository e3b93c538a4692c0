import { useQueryClient } from '@tanstack/react-query'
import { type Undo, useNotice } from './Notice.tsx'

/**
 * Makes the way back of what was just done, whichever page is open when it is pressed: what it comes to is said, or why it was refused, and everything
 * of the client is asked for again.
 */
export const useWayBack = (clientId: number) => {
  const notice = useNotice()
  const queries = useQueryClient()
  return (label: string, act: () => Promise<string | null>): Undo => ({
    label,
    act: () => {
      void act()
        .then(said => (said === null ? undefined : notice.say(said)))
        .catch(notice.refuse)
        .finally(() => queries.invalidateQueries({ queryKey: ['client', clientId] }))
    },
  })
}
