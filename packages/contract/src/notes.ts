import { z } from 'zod'
import { subject } from './acts.ts'
import { consentRow } from './consents.ts'
import { endpoint, nothing } from './endpoint.ts'

// Notes and questions on anything of a client.

/** In bytes. */
export const largestEvidence = 10_000_000
export const evidenceTypes = ['image/png', 'image/jpeg', 'image/webp', 'image/gif', 'application/pdf'] as const

const words = z.string().trim().min(1, 'a few words').max(4000)
const about = z.object({ subject, key: z.string().min(1).max(500) })

export const evidenceRow = z.object({
  id: z.string(),
  name: z.string(),
  mediaType: z.enum(evidenceTypes),
  /** In bytes. */
  size: z.number(),
  sha256: z.string(),
  /** Who brought it; null: the client’s own person. */
  by: z.string().nullable(),
  at: z.string(),
})
export type EvidenceRow = z.infer<typeof evidenceRow>
export const noteRow = z.object({
  noteId: z.string(),
  subject: z.string(),
  key: z.string(),
  title: z.string(),
  link: z.string(),
  sort: z.enum(['note', 'question', 'client_question']),
  text: z.string(),
  by: z.object({ id: z.number(), name: z.string() }),
  at: z.string(),
  /** Who is asked. */
  to: z.object({ id: z.number(), name: z.string() }).nullable(),
  /** Of a question by a link: to whom it was sent, and what became of the link. */
  sent: z
    .object({
      to: z.string().nullable(),
      expiresAt: z.string(),
      openedAt: z.string().nullable(),
      withdrawnAt: z.string().nullable(),
    })
    .nullable(),
  /** Null: the client’s own person. */
  answers: z.array(z.object({ by: z.string().nullable(), text: z.string(), at: z.string() })),
  evidence: z.array(evidenceRow),
  closedAt: z.string().nullable(),
})
export type NoteRow = z.infer<typeof noteRow>

export const addNoteBody = about.extend({
  /** As people know what it is about, and the way to its page within the client. */
  title: z.string().trim().min(1).max(300),
  link: z
    .string()
    .regex(/^\/(?![/\\])[^\s\\]*$/, 'a path within the client')
    .max(600),
  text: words,
  /** Nobody: a note. */
  ask: z.discriminatedUnion('who', [
    z.object({ who: z.literal('nobody') }),
    z.object({ who: z.literal('person'), person: z.number().int().positive() }),
    z.object({
      who: z.literal('client'),
      /** Where the link is sent; null: it is handed over otherwise. */
      email: z
        .string()
        .trim()
        .toLowerCase()
        .max(254)
        .pipe(z.email('an e-mail address, as name@firm.example'))
        .nullable(),
      /** How long the link is good for. */
      days: z.number().int().min(1).max(90),
    }),
  ]),
})
export type AddNoteBody = z.infer<typeof addNoteBody>
export const answerBody = z.object({ text: words })

const fileName = z.object({ name: z.string().trim().min(1).max(200).default('file') })
/** A file as it is handed over: never as a page of its own. */
export const evidenceContent = z.object({
  name: z.string(),
  mediaType: z.enum(evidenceTypes),
  base64: z.string(),
})
export type EvidenceContent = z.infer<typeof evidenceContent>

/** What the page that a link opens shows. */
export const linkedQuestion = z.object({
  practice: z.string(),
  client: z.string(),
  askedBy: z.string(),
  askedAt: z.string(),
  title: z.string(),
  text: z.string(),
  expiresAt: z.string(),
  closed: z.boolean(),
  answers: z.array(z.object({ own: z.boolean(), by: z.string(), text: z.string(), at: z.string() })),
  evidence: z.array(evidenceRow),
})
export type LinkedQuestion = z.infer<typeof linkedQuestion>

/** What waits for the person who asks. */
export const askedOf = z.object({
  /** Questions put to them that are not closed. */
  questions: z.array(noteRow),
  /** Questions of theirs that were answered and are not closed. */
  answered: z.array(noteRow),
  /** What others want done with their consent. */
  consents: z.array(consentRow),
  /** What they asked for themselves, lately. */
  wanted: z.array(consentRow),
})
export type AskedOf = z.infer<typeof askedOf>

const token = z.object({ token: z.string().min(20).max(200) })
/** Of whoever has the link: no account is asked for. */
const byLink = { of: 'practice', right: 'anyone', method: 'POST' } as const

export const noteEndpoints = {
  notes: endpoint({
    method: 'GET',
    path: '/notes',
    right: 'read',
    does: 'Notes and questions about one thing.',
    query: about,
    answer: z.object({ notes: z.array(noteRow) }),
  }),
  addNote: endpoint({
    method: 'POST',
    path: '/notes',
    right: 'comment',
    does: 'Notes something, or asks: somebody of the practice, or the client by a link.',
    body: addNoteBody,
    answer: z.object({ noteId: z.string(), link: z.string().nullable(), mailed: z.boolean() }),
    status: 201,
  }),
  members: endpoint({
    method: 'GET',
    path: '/members',
    right: 'comment',
    does: 'Who is of the client, and can be asked.',
    answer: z.object({ members: z.array(z.object({ id: z.number(), name: z.string(), role: z.string() })) }),
  }),
  asked: endpoint({
    method: 'GET',
    path: '/asked',
    right: 'asked',
    does: 'What waits for whoever asks: questions, and consents.',
    answer: askedOf,
  }),
  answer: endpoint({
    method: 'POST',
    path: '/notes/:note/answers',
    right: 'asked',
    does: 'Answers a question.',
    body: answerBody,
    answer: nothing,
    status: 201,
  }),
  attach: endpoint({
    method: 'POST',
    path: '/notes/:note/files',
    right: 'asked',
    does: 'Attaches a picture or a PDF to a note or a question.',
    query: fileName,
    body: 'file',
    answer: evidenceRow,
    status: 201,
  }),
  evidence: endpoint({
    method: 'GET',
    path: '/notes/:note/files/:file',
    right: 'asked',
    does: 'A file that was attached.',
    answer: evidenceContent,
  }),
  closeQuestion: endpoint({
    method: 'POST',
    path: '/notes/:note/close',
    right: 'comment',
    does: 'Closes a question.',
    answer: nothing,
  }),
  withdrawLink: endpoint({
    method: 'POST',
    path: '/notes/:note/withdraw',
    right: 'comment',
    does: 'Withdraws the link of a question.',
    answer: nothing,
  }),
  lookAtQuestion: endpoint({
    ...byLink,
    path: '/questions/look',
    does: 'What became of the link of a question; it opens nothing.',
    body: token,
    answer: z.object({ is: z.enum(['unopened', 'open_here', 'open_elsewhere', 'over']) }),
  }),
  openQuestion: endpoint({
    ...byLink,
    path: '/questions/open',
    does: 'Opens a question by its link: from then on it is open in this browser, and in no other.',
    body: token,
    answer: linkedQuestion,
  }),
  answerByLink: endpoint({
    ...byLink,
    path: '/questions/answer',
    does: 'Answers a question that is open in this browser.',
    body: token.extend({ text: words }),
    answer: nothing,
    status: 201,
  }),
  attachByLink: endpoint({
    ...byLink,
    path: '/questions/files',
    does: 'Attaches a picture or a PDF to a question that is open in this browser; its token is told in the header x-question.',
    query: fileName,
    body: 'file',
    answer: evidenceRow,
    status: 201,
  }),
  evidenceByLink: endpoint({
    ...byLink,
    path: '/questions/file',
    does: 'A file that is attached to a question that is open in this browser.',
    body: token.extend({ file: z.string().max(100) }),
    answer: evidenceContent,
  }),
}
