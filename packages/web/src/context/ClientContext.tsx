import type { ClientFacts } from '@culvert/contract'
import { lastDayOfMonth } from '@culvert/core'
import { createContext, useContext } from 'react'
import { useSearchParams } from 'react-router'

export interface ClientInPage extends ClientFacts {
  /** Last local date that the client's data reaches; null without data. */
  readonly latest: string | null
  /** The first one. */
  readonly earliest: string | null
}

const nobody: ClientInPage = {
  clientId: 0,
  name: '',
  base: 'EUR',
  timeZone: 'UTC',
  archivedAt: null,
  locale: 'en-IE',
  role: 'guest',
  rights: [],
  latest: null,
  earliest: null,
}
const Context = createContext<ClientInPage>(nobody)
export const ClientProvider = Context.Provider

/** The client whose pages these are. */
export const useClient = (): ClientInPage => useContext(Context)

/** The month chosen in the top bar, as its first and last day; nulls for all time. */
export const usePeriod = (): { month: string | null; from: string | null; to: string | null } => {
  const [search] = useSearchParams()
  const month = search.get('period')
  if (month === null || !/^\d{4}-\d\d$/.test(month)) return { month: null, from: null, to: null }
  return { month, from: `${month}-01`, to: lastDayOfMonth(month) }
}

/** Address of a page of this client, keeping the chosen month. */
export const useHref = (): ((path: string) => string) => {
  const { clientId } = useClient()
  const { month } = usePeriod()
  return path => {
    const [place = '', query] = path.split('?')
    const search = new URLSearchParams(query)
    if (month !== null) search.set('period', month)
    const text = search.toString()
    return `/c/${clientId}${place}${text ? `?${text}` : ''}`
  }
}
