import { createContext } from 'react'

/** Whether the right end of a page's head is free: then its first table puts its filter there. */
export const HeadRoom = createContext(true)
