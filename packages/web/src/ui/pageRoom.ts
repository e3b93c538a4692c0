import { createContext } from 'react'

/** Where in a page's head its first table puts its filter; null: not drawn yet; undefined: there is no head. */
export const HeadRoom = createContext<HTMLElement | null | undefined>(undefined)
