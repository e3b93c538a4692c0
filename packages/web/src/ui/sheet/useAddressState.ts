import { useEffect, useRef, useState } from 'react'
import { useSearchParams } from 'react-router'

/** Sorting, filter and hidden columns of a table, as the address says them. */
export interface AddressState {
  readonly sort: { readonly id: string; readonly desc: boolean } | null
  readonly filter: string
  readonly hidden: ReadonlySet<string>
  /** Sorts by a column upwards, then downwards, then not. */
  sortBy(id: string): void
  setFilter(text: string): void
  toggle(id: string): void
}

/**
 * `isTyping` says whether the filter is being typed into: then it is the address that follows. `scope` tells a page's further tables apart from its first.
 */
export const useAddressState = (isTyping: () => boolean, scope = ''): AddressState => {
  const [search, setSearch] = useSearchParams()
  const inAddress = search.get(`${scope}q`) ?? ''
  // What is typed is kept here: the address follows, and would lose letters that come faster than it changes.
  const [filter, setFilter] = useState(inAddress)
  useEffect(() => {
    if (!isTyping()) setFilter(inAddress)
  }, [inAddress, isTyping])
  // What was asked of the address and does not stand there yet: the router hands over the address as it was drawn last, so that of two changes that come
  // faster than it is drawn the first would be lost.
  const asked = useRef(new Map<string, string>())
  useEffect(() => {
    for (const [name, value] of asked.current) if ((search.get(name) ?? '') === value) asked.current.delete(name)
  }, [search])
  const set = (name: string, value: string): void => {
    asked.current.set(scope + name, value)
    setSearch(
      before => {
        const next = new URLSearchParams(before)
        for (const [one, to] of asked.current)
          if (to === '') next.delete(one)
          else next.set(one, to)
        return next
      },
      { replace: true },
    )
  }
  const said = search.get(`${scope}sort`) ?? ''
  const sort = said === '' ? null : { id: said.replace(/^-/, ''), desc: said.startsWith('-') }
  const hidden = new Set((search.get(`${scope}hide`) ?? '').split(' ').filter(Boolean))
  return {
    sort,
    filter,
    hidden,
    sortBy: id => set('sort', sort?.id !== id ? id : sort.desc ? '' : `-${id}`),
    setFilter: text => {
      setFilter(text)
      set('q', text)
    },
    toggle: id => {
      const next = new Set(hidden)
      if (!next.delete(id)) next.add(id)
      set('hide', [...next].join(' '))
    },
  }
}
