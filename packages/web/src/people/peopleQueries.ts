import {
  type AcceptBody,
  actEndpoints as acts,
  type InviteBody,
  type NewTokenBody,
  type PersonBody,
  peopleEndpoints as people,
} from '@culvert/contract'
import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { call } from '../context/request.ts'

export const signInChoicesQuery = queryOptions({
  queryKey: ['sign-in'],
  queryFn: () => call(people.signInChoices),
  staleTime: Number.POSITIVE_INFINITY,
})

export const invitationQuery = (token: string) =>
  queryOptions({
    queryKey: ['invitation', token],
    queryFn: () => call(people.lookAtInvitation, { body: { token } }),
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
  })

export const accountQuery = queryOptions({ queryKey: ['account'], queryFn: () => call(people.account) })
export const practiceActsQuery = queryOptions({
  queryKey: ['people', 'acts'],
  queryFn: () => call(acts.practiceActs),
})
export const peopleQuery = queryOptions({ queryKey: ['people'], queryFn: () => call(people.people) })

/** Signing in and out, and the ways in; after each, everything is asked for again as whoever it is now. */
export const useSignInActs = (onIn?: () => void) => {
  const queries = useQueryClient()
  const anew = () => {
    void queries.invalidateQueries()
    onIn?.()
  }
  return {
    signIn: useMutation({
      mutationFn: (body: { email: string; password: string }) => call(people.signIn, { body }),
      onSuccess: ({ next }) => (next === 'in' ? anew() : undefined),
    }),
    secondFactor: useMutation({
      mutationFn: (body: { code: string }) => call(people.secondFactor, { body }),
      onSuccess: anew,
    }),
    accept: useMutation({
      mutationFn: (body: AcceptBody) => call(people.acceptInvitation, { body }),
      onSuccess: anew,
    }),
    forgotten: useMutation({ mutationFn: (body: { email: string }) => call(people.forgotten, { body }) }),
    reset: useMutation({
      mutationFn: (body: { token: string; password: string }) => call(people.resetPassword, { body }),
    }),
    confirmAddress: useMutation({
      mutationFn: (token: string) => call(people.confirmAddress, { body: { token } }),
    }),
    signOut: useMutation({
      mutationFn: () => call(people.signOut),
      // Nothing of theirs stays in this window for whoever comes next.
      onSuccess: () => window.location.assign('/'),
    }),
  }
}

/** What can be done to one’s own account. */
export const useAccountActs = () => {
  const queries = useQueryClient()
  const onSettled = () => void queries.invalidateQueries({ queryKey: ['account'] })
  return {
    endSession: useMutation({
      mutationFn: (session: string) => call(people.endSession, { params: { session } }),
      onSettled,
    }),
    changePassword: useMutation({
      mutationFn: (body: { current: string; password: string }) => call(people.changePassword, { body }),
      onSettled,
    }),
    beginSecondFactor: useMutation({
      mutationFn: (body: { password: string }) => call(people.beginSecondFactor, { body }),
    }),
    confirmSecondFactor: useMutation({
      mutationFn: (body: { code: string }) => call(people.confirmSecondFactor, { body }),
      onSettled,
    }),
    endSecondFactor: useMutation({
      mutationFn: (body: { password: string }) => call(people.endSecondFactor, { body }),
      onSettled,
    }),
    changeAddress: useMutation({
      mutationFn: (body: { password: string; email: string }) => call(people.changeAddress, { body }),
      onSettled,
    }),
    addToken: useMutation({ mutationFn: (body: NewTokenBody) => call(people.addToken, { body }), onSettled }),
    withdrawToken: useMutation({
      mutationFn: (token: number) => call(people.withdrawToken, { params: { token: String(token) } }),
      onSettled,
    }),
  }
}

/** What an owner can do about the people of the practice. */
export const usePeopleActs = () => {
  const queries = useQueryClient()
  const onSettled = () => void queries.invalidateQueries({ queryKey: ['people'] })
  return {
    invite: useMutation({ mutationFn: (body: InviteBody) => call(people.invite, { body }), onSettled }),
    withdraw: useMutation({
      mutationFn: (invitation: number) =>
        call(people.withdrawInvitation, { params: { invitation: String(invitation) } }),
      onSettled,
    }),
    set: useMutation({
      mutationFn: ({ person, body }: { person: number; body: PersonBody }) =>
        call(people.setPerson, { params: { person: String(person) }, body }),
      onSettled,
    }),
    endFactor: useMutation({
      mutationFn: (person: number) => call(people.endFactorOf, { params: { person: String(person) } }),
      onSettled,
    }),
    keepFactor: useMutation({
      mutationFn: (person: number) => call(people.keepFactorOf, { params: { person: String(person) } }),
      onSettled,
    }),
    remove: useMutation({
      mutationFn: (person: number) => call(people.removePerson, { params: { person: String(person) } }),
      onSettled,
    }),
  }
}
