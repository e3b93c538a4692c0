import type { Subject } from '@culvert/contract'
import { createContext, useContext } from 'react'

/** Something of a client that notes are about and acts touch. */
export interface About {
  readonly subject: Subject
  readonly key: string
  /** As people know it. */
  readonly title: string
  /** Its page, within the client. */
  readonly link: string
}

interface LookingAt {
  readonly about: About | null
  open(about: About): void
  close(): void
}

export const AboutContext = createContext<LookingAt>({ about: null, open: () => undefined, close: () => undefined })

/** Opens the notes and the history of something in the panel at the right. */
export const useAbout = (): LookingAt => useContext(AboutContext)
