import { Button } from '@chakra-ui/react'
import { useEffect } from 'react'
import { useBlocker } from 'react-router'
import { Modal } from './Modal.tsx'

/** Given to a navigation that follows a save: what is changed until the fresh state is here is saved already. */
export const saved = { state: { saved: true } } as const

const isSaved = (state: unknown): boolean => typeof state === 'object' && state !== null && 'saved' in state

interface UnsavedProps {
  readonly changed: boolean
  /** What would be lost: “3 routes”. */
  readonly what: string
}

/** Asks before a page with changes that are not saved is left, by a link, a key, or the browser. */
export const Unsaved = ({ changed, what }: UnsavedProps) => {
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) =>
      changed && currentLocation.pathname !== nextLocation.pathname && !isSaved(nextLocation.state),
  )
  useEffect(() => {
    if (!changed) return
    const ask = (event: BeforeUnloadEvent): void => event.preventDefault()
    window.addEventListener('beforeunload', ask)
    return () => window.removeEventListener('beforeunload', ask)
  }, [changed])
  const stay = (): void => blocker.reset?.()
  return (
    <Modal
      open={blocker.state === 'blocked'}
      title="Leave without saving?"
      onClose={stay}
      foot={
        <>
          <Button variant="solid" autoFocus onClick={stay}>
            Stay
          </Button>
          <Button onClick={() => blocker.proceed?.()}>Discard and leave</Button>
        </>
      }
    >
      Changed and not saved: {what}.
    </Modal>
  )
}
