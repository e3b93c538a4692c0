import { z } from 'zod'
import { endpoint, type Right, rights } from './endpoint.ts'

// People: signing in, what they may do, and who is of the practice.

/**
 * What a person is of a client, or of the practice: its `owner` may do everything; a `bookkeeper` everything but people; a `junior` prepares, maps and pairs,
 * and does not post; an `accountant` reads and files tax; a `guest` is the client's own person, who sees what they are asked.
 */
export const roles = ['owner', 'bookkeeper', 'junior', 'accountant', 'guest'] as const
export const role = z.enum(roles)
export type Role = z.infer<typeof role>

/** What each role may do, of a client and beside all of them. */
export const rightsOfRole: Readonly<Record<Role, ReadonlySet<Right>>> = {
  owner: new Set(rights),
  bookkeeper: new Set(rights.filter(right => right !== 'people' && right !== 'erase')),
  junior: new Set<Right>(['anyone', 'enter', 'own', 'read', 'bring', 'map', 'settle', 'pair', 'comment', 'asked']),
  accountant: new Set<Right>(['anyone', 'enter', 'own', 'read', 'file', 'comment', 'asked']),
  guest: new Set<Right>(['anyone', 'enter', 'own', 'asked']),
}

const email = z.string().trim().toLowerCase().max(254).pipe(z.email('an e-mail address, as name@firm.example'))
const newPassword = z.string().min(12, 'at least 12 characters').max(128, 'at most 128 characters')
const token = z.string().min(20).max(200)
const ofClients = z.array(z.object({ clientId: z.number().int().positive(), role: role.exclude(['owner']) })).max(5000)
const done = z.object({})

export const signInChoices = z.object({
  /** Persons of the demo, with what they sign in by; empty elsewhere. */
  demo: z.array(z.object({ name: z.string(), email: z.string(), password: z.string(), role })),
})
export type SignInChoices = z.infer<typeof signInChoices>
export const signInBody = z.object({ email, password: z.string().min(1, 'your password').max(128) })
export const secondFactorBody = z.object({
  /** Six digits of the authenticator, or one of the recovery codes. */
  code: z.string().trim().min(6, 'the six digits, or a recovery code').max(40),
})
export const forgottenBody = z.object({ email })
export const resetPasswordBody = z.object({ token, password: newPassword })
export const passwordBody = z.object({ password: z.string().min(1, 'your password').max(128) })
export const changePasswordBody = z.object({
  current: z.string().min(1, 'the password of now').max(128),
  password: newPassword,
})
export const changeAddressBody = z.object({ password: z.string().min(1, 'your password').max(128), email })
export const acceptBody = z.object({
  token,
  name: z.string().trim().min(1, 'your name').max(200),
  password: newPassword,
  /** Of the first person only: their address, and what the practice is called. */
  email: email.optional(),
  practice: z.string().trim().min(1, 'what the practice is called').max(200).optional(),
})
export type AcceptBody = z.infer<typeof acceptBody>

export const invitationFacts = z.object({
  /** Null: the first person says theirs. */
  email: z.string().nullable(),
  /** Null: the first person founds it. */
  practice: z.string().nullable(),
  role,
  invitedBy: z.string().nullable(),
  expiresAt: z.string(),
})
export type InvitationFacts = z.infer<typeof invitationFacts>

export const personRow = z.object({
  id: z.number(),
  name: z.string(),
  email: z.string(),
  role,
  clients: z.array(z.object({ clientId: z.number(), role })),
  secondFactor: z.boolean(),
  /** Said to be lost: from then on it is asked for no more. */
  factorEndsAt: z.string().nullable(),
  lastSeen: z.string().nullable(),
  /** Has left; their name stays on what they did. */
  endedAt: z.string().nullable(),
})
export type PersonRow = z.infer<typeof personRow>
export const peoplePage = z.object({
  practice: z.string(),
  people: z.array(personRow),
  clients: z.array(z.object({ clientId: z.number(), name: z.string() })),
  invitations: z.array(
    z.object({
      id: z.number(),
      email: z.string(),
      role,
      clients: ofClients,
      invitedBy: z.string(),
      createdAt: z.string(),
      expiresAt: z.string(),
    }),
  ),
})
export type PeoplePage = z.infer<typeof peoplePage>
export const inviteBody = z.object({ email, role, clients: ofClients.default([]) })
export type InviteBody = z.input<typeof inviteBody>
export const personBody = z.object({ role, clients: ofClients })
export type PersonBody = z.infer<typeof personBody>

export const accountPage = z.object({
  name: z.string(),
  email: z.string(),
  secondFactor: z.boolean(),
  sessions: z.array(
    z.object({
      id: z.string(),
      /** The browser that asks. */
      here: z.boolean(),
      agent: z.string(),
      address: z.string(),
      createdAt: z.string(),
      lastSeen: z.string(),
    }),
  ),
  tokens: z.array(
    z.object({
      id: z.number(),
      name: z.string(),
      begins: z.string(),
      rights: z.array(z.enum(rights)),
      clients: z.array(z.number()).nullable(),
      expiresAt: z.string(),
      lastUsedAt: z.string().nullable(),
    }),
  ),
})
export type AccountPage = z.infer<typeof accountPage>
export const newTokenBody = z.object({
  name: z.string().trim().min(1, 'what it is for').max(100),
  rights: z.array(z.enum(rights).exclude(['anyone', 'enter', 'own', 'people'])).min(1, 'at least one right'),
  clients: z.array(z.number().int().positive()).max(5000).nullable(),
  /** How long it is good for. */
  days: z.number().int().min(1).max(366),
})
export type NewTokenBody = z.infer<typeof newTokenBody>

/** Of the practice, and open to whoever is not signed in. */
const open = { of: 'practice', right: 'anyone', method: 'POST' } as const
/** Of whoever is signed in. */
const own = { of: 'practice', right: 'own', method: 'POST' } as const
/** Of those who say who may do what. */
const people = { of: 'practice', right: 'people', method: 'POST' } as const

export const peopleEndpoints = {
  signInChoices: endpoint({
    ...open,
    method: 'GET',
    path: '/sign-in',
    does: 'What the page for signing in offers.',
    answer: signInChoices,
  }),
  signIn: endpoint({
    ...open,
    path: '/sign-in',
    does: 'Signs in by address and password; where there is a second factor, it is asked for next.',
    body: signInBody,
    answer: z.object({ next: z.enum(['in', 'second_factor']) }),
  }),
  secondFactor: endpoint({
    ...open,
    path: '/sign-in/second-factor',
    does: 'Goes on signing in, by a time code or a recovery code.',
    body: secondFactorBody,
    answer: done,
  }),
  forgotten: endpoint({
    ...open,
    path: '/password/forgotten',
    does: 'Sends a link for a new password, where the address is known.',
    body: forgottenBody,
    answer: done,
  }),
  resetPassword: endpoint({
    ...open,
    path: '/password/reset',
    does: 'Sets a new password by a link; whoever was signed in with the old one is no more.',
    body: resetPasswordBody,
    answer: done,
  }),
  lookAtInvitation: endpoint({
    ...open,
    path: '/invitations/look',
    does: 'What an invitation is for.',
    body: z.object({ token }),
    answer: invitationFacts,
  }),
  acceptInvitation: endpoint({
    ...open,
    path: '/invitations/accept',
    does: 'Takes an invitation, once.',
    body: acceptBody,
    answer: done,
  }),
  signOut: endpoint({ ...own, path: '/sign-out', does: 'Signs out.', answer: done }),
  account: endpoint({
    ...own,
    method: 'GET',
    path: '/account',
    does: 'One’s own sessions, second factor and tokens.',
    answer: accountPage,
  }),
  endSession: endpoint({
    ...own,
    path: '/account/sessions/:session/end',
    does: 'Ends a session of one’s own.',
    answer: done,
  }),
  changePassword: endpoint({
    ...own,
    path: '/account/password',
    does: 'Changes the password; other sessions end.',
    body: changePasswordBody,
    answer: done,
  }),
  beginSecondFactor: endpoint({
    ...own,
    path: '/account/second-factor',
    does: 'Begins a second factor: its secret, and codes for when it is lost, shown once.',
    body: passwordBody,
    answer: z.object({ uri: z.string(), secret: z.string(), recoveryCodes: z.array(z.string()) }),
  }),
  confirmSecondFactor: endpoint({
    ...own,
    path: '/account/second-factor/confirm',
    does: 'Confirms a second factor by its first code; from now on it is asked for.',
    body: secondFactorBody,
    answer: done,
  }),
  endSecondFactor: endpoint({
    ...own,
    path: '/account/second-factor/end',
    does: 'Ends the second factor.',
    body: passwordBody,
    answer: done,
  }),
  changeAddress: endpoint({
    ...own,
    path: '/account/address',
    does: 'Begins to change the address: a link goes to the one of now and to the new one, and both must be opened.',
    body: changeAddressBody,
    answer: z.object({ mailed: z.boolean() }),
  }),
  confirmAddress: endpoint({
    ...open,
    path: '/address/confirm',
    does: 'Confirms a change of address, at one of the two.',
    body: z.object({ token }),
    answer: z.object({
      /** What is still to be confirmed; null: it is done. */
      left: z.enum(['old', 'new']).nullable(),
    }),
  }),
  addToken: endpoint({
    ...own,
    path: '/account/tokens',
    does: 'Makes a token for a program; it is told once.',
    body: newTokenBody,
    answer: z.object({ token: z.string() }),
    status: 201,
  }),
  withdrawToken: endpoint({
    ...own,
    path: '/account/tokens/:token/withdraw',
    does: 'Withdraws a token.',
    answer: done,
  }),
  people: endpoint({
    ...people,
    method: 'GET',
    path: '/people',
    does: 'Who is of the practice, and what they may do.',
    answer: peoplePage,
  }),
  invite: endpoint({
    ...people,
    path: '/people/invite',
    does: 'Invites somebody, by a link that is good once.',
    body: inviteBody,
    answer: z.object({ link: z.string(), mailed: z.boolean() }),
    status: 201,
  }),
  withdrawInvitation: endpoint({
    ...people,
    path: '/people/invitations/:invitation/withdraw',
    does: 'Withdraws an invitation.',
    answer: done,
  }),
  setPerson: endpoint({
    ...people,
    method: 'PUT',
    path: '/people/:person',
    does: 'Says what somebody may do, of the practice and of each client.',
    body: personBody,
    answer: done,
  }),
  endFactorOf: endpoint({
    ...people,
    path: '/people/:person/second-factor/end',
    does: 'Ends a second factor that somebody lost, in a day; they are told, and using it keeps it.',
    answer: z.object({ at: z.string() }),
  }),
  keepFactorOf: endpoint({
    ...people,
    path: '/people/:person/second-factor/keep',
    does: 'Takes it back that a second factor ends.',
    answer: done,
  }),
  removePerson: endpoint({
    ...people,
    path: '/people/:person/remove',
    does: 'Lets somebody go: they are signed out everywhere, and their tokens end.',
    answer: done,
  }),
}
