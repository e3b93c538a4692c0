import {
  type AddNoteBody,
  type ConsentRow,
  consentEndpoints as consents,
  noteEndpoints as notes,
} from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { call } from '../context/request.ts'

export const notesQuery = (clientId: number, of: { readonly subject: string; readonly key: string }) =>
  queryOptions({
    queryKey: ['client', clientId, 'notes', of.subject, of.key],
    queryFn: () => call(notes.notes, { client: clientId, query: { ...of } }),
  })

export const membersQuery = (clientId: number) =>
  queryOptions({ queryKey: ['client', clientId, 'members'], queryFn: () => call(notes.members, { client: clientId }) })

export const askedQuery = (clientId: number) =>
  queryOptions({ queryKey: ['client', clientId, 'asked'], queryFn: () => call(notes.asked, { client: clientId }) })

/** What can be done to notes and questions. */
export const useNoteActs = (clientId: number) => {
  const queries = useQueryClient()
  const onSettled = () => void queries.invalidateQueries({ queryKey: ['client', clientId] })
  const of = (note: string) => ({ client: clientId, params: { note } })
  return {
    add: useMutation({
      mutationFn: (body: AddNoteBody) => call(notes.addNote, { client: clientId, body }),
      onSettled,
    }),
    answer: useMutation({
      mutationFn: ({ note, text }: { note: string; text: string }) =>
        call(notes.answer, { ...of(note), body: { text } }),
      onSettled,
    }),
    attach: useMutation({
      mutationFn: ({ note, file }: { note: string; file: File }) =>
        call(notes.attach, { ...of(note), query: { name: file.name }, file }),
      onSettled,
    }),
    close: useMutation({ mutationFn: (note: string) => call(notes.closeQuestion, of(note)), onSettled }),
    withdraw: useMutation({ mutationFn: (note: string) => call(notes.withdrawLink, of(note)), onSettled }),
  }
}

/** What can be done to what waits for consent. */
export const useConsentActs = (clientId: number) => {
  const queries = useQueryClient()
  const onSettled = () => void queries.invalidateQueries({ queryKey: ['client', clientId] })
  const of = ({ consentId }: ConsentRow) => ({ client: clientId, params: { consent: consentId } })
  return {
    give: useMutation({ mutationFn: (row: ConsentRow) => call(consents.giveConsent, of(row)), onSettled }),
    refuse: useMutation({
      mutationFn: ({ row, reason }: { row: ConsentRow; reason: string }) =>
        call(consents.refuseConsent, { ...of(row), body: { reason } }),
      onSettled,
    }),
    withdraw: useMutation({ mutationFn: (row: ConsentRow) => call(consents.withdrawConsent, of(row)), onSettled }),
  }
}

/** What whoever has the link of a question can do. Nothing of it is asked for anew by itself. */
export const useQuestionActs = (token: string) => ({
  look: useMutation({ mutationFn: () => call(notes.lookAtQuestion, { body: { token } }) }),
  open: useMutation({ mutationFn: () => call(notes.openQuestion, { body: { token } }) }),
  answer: useMutation({ mutationFn: (text: string) => call(notes.answerByLink, { body: { token, text } }) }),
  attach: useMutation({
    mutationFn: (file: File) =>
      call(notes.attachByLink, { query: { name: file.name }, file, headers: { 'x-question': token } }),
  }),
})
