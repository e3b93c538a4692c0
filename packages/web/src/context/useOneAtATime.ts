import { useRef } from 'react'

/**
 * Lets one act run at a time: what is pressed again before it is over does nothing, also before the page was drawn anew. What is started is handed
 * what says that it is over.
 */
export const useOneAtATime = (): ((start: (over: () => void) => void) => void) => {
  const running = useRef(false)
  return start => {
    if (running.current) return
    running.current = true
    start(() => {
      running.current = false
    })
  }
}
