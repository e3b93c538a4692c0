import { listEndpoints as at, type ContactRow, type OpenItemRow } from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { call } from '../context/request.ts'

export const openItemsQuery = (clientId: number) =>
  queryOptions({
    queryKey: ['client', clientId, 'open-items'],
    queryFn: () => call(at.openItems, { client: clientId }),
  })

interface OpenItemsSave {
  items: OpenItemRow[]
  gone: Pick<OpenItemRow, 'sort' | 'contact' | 'number'>[]
  contacts: ContactRow[]
}

/** Contacts, and what is open with them. */
export const useContactActs = (clientId: number) => {
  const queries = useQueryClient()
  const onSettled = () => {
    void queries.invalidateQueries({ queryKey: ['client', clientId] })
  }
  return {
    save: useMutation({
      mutationFn: (contacts: ContactRow[]) => call(at.saveContacts, { client: clientId, body: { contacts } }),
      onSettled,
    }),
    remove: useMutation({
      mutationFn: (contact: string) => call(at.removeContact, { client: clientId, params: { contact } }),
      onSettled,
    }),
    saveItems: useMutation({
      mutationFn: (body: OpenItemsSave) => call(at.saveOpenItems, { client: clientId, body }),
      onSettled,
    }),
  }
}
