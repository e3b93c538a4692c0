import type { AskedOf, NoteRow } from '@culvert/contract'
import { type SQL, sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

const iso = (text: string): string => new Date(text).toISOString()
const maybeIso = (text: string | null): string | null => (text === null ? null : iso(text))

const mediaType = is.oneOf('image/png', 'image/jpeg', 'image/webp', 'image/gif', 'application/pdf')
const person = is.record({ id: is.whole, name: is.text })
const evidenceShape = is.record({
  id: is.text,
  name: is.text,
  mediaType,
  size: is.whole,
  sha256: is.text,
  by: is.maybe(is.text),
  at: is.text,
})
const noteShape = {
  noteId: is.text,
  subject: is.text,
  key: is.text,
  title: is.text,
  link: is.text,
  sort: is.oneOf('note', 'question', 'client_question'),
  text: is.text,
  by: person,
  at: is.text,
  to: is.maybe(person),
  sent: is.maybe(
    is.record({
      to: is.maybe(is.text),
      expiresAt: is.text,
      openedAt: is.maybe(is.text),
      withdrawnAt: is.maybe(is.text),
    }),
  ),
  answers: is.list(is.record({ by: is.maybe(is.text), text: is.text, at: is.text })),
  evidence: is.list(evidenceShape),
  closedAt: is.maybe(is.text),
}

/** What was attached to note `n`. */
export const evidenceOfNote = sql`(SELECT coalesce(json_agg(json_build_object('id', e.evidence_id, 'name', e.name, 'mediaType', e.media_type, 'size', e.size,
    'sha256', e.sha256, 'by', (SELECT name FROM app_user u WHERE u.user_id = e."by"), 'at', e.at) ORDER BY e.at, e.evidence_id), '[]')
  FROM evidence e WHERE e.client_id = n.client_id AND e.note_id = n.note_id)`
/** How it is read. */
export const evidenceReader = is.list(evidenceShape)

/** What was answered to note `n`. */
const answers = sql`(SELECT coalesce(json_agg(json_build_object('by', (SELECT name FROM app_user u WHERE u.user_id = a."by"), 'text', a.text, 'at', a.at)
    ORDER BY a.no), '[]') FROM note_answer a WHERE a.client_id = n.client_id AND a.note_id = n.note_id)`

/** Notes and questions, the latest first. */
export const loadNotes = async (tx: Transaction, which: SQL): Promise<NoteRow[]> => {
  const rows = await rowsOf(
    tx,
    noteShape,
    sql`SELECT n.note_id AS "noteId", n.subject, n.key, n.title, n.link, n.sort, n.text, json_build_object('id', n."by", 'name', u.name) AS by, n.at::text,
      CASE WHEN t.user_id IS NOT NULL THEN json_build_object('id', t.user_id, 'name', t.name) END AS to,
      CASE WHEN l.note_id IS NOT NULL THEN json_build_object('to', l.sent_to, 'expiresAt', l.expires_at, 'openedAt', l.bound_at,
        'withdrawnAt', l.withdrawn_at) END AS sent,
      ${answers} AS answers, ${evidenceOfNote} AS evidence, n.closed_at::text AS "closedAt"
    FROM note n JOIN app_user u ON u.user_id = n."by" LEFT JOIN app_user t ON t.user_id = n.to_user
    LEFT JOIN question_link l ON l.client_id = n.client_id AND l.note_id = n.note_id
    WHERE n.client_id = current_client() AND ${which} ORDER BY n.at DESC, n.note_id LIMIT 500`,
  )
  return rows.map(({ sent, ...row }) => ({
    ...row,
    at: iso(row.at),
    closedAt: maybeIso(row.closedAt),
    sent: sent && {
      to: sent.to,
      expiresAt: iso(sent.expiresAt),
      openedAt: maybeIso(sent.openedAt),
      withdrawnAt: maybeIso(sent.withdrawnAt),
    },
    answers: row.answers.map(one => ({ ...one, at: iso(one.at) })),
    evidence: row.evidence.map(one => ({ ...one, at: iso(one.at) })),
  }))
}

/** Whether question `n` waits for a person to answer it. */
const waitsFor = (userId: number): SQL => sql`n.closed_at IS NULL AND n.to_user = ${userId}
  AND NOT EXISTS (SELECT FROM note_answer a WHERE a.client_id = n.client_id AND a.note_id = n.note_id AND a."by" = ${userId})`
/** Whether question `n` of a person was answered and is not closed. */
const answeredFor = (userId: number): SQL => sql`n.closed_at IS NULL AND n.sort <> 'note' AND n."by" = ${userId}
  AND (EXISTS (SELECT FROM note_answer a WHERE a.client_id = n.client_id AND a.note_id = n.note_id)
    OR EXISTS (SELECT FROM evidence e WHERE e.client_id = n.client_id AND e.note_id = n.note_id AND e."by" IS DISTINCT FROM ${userId}))`

/** Questions that wait for a person, and theirs that were answered. */
export const loadAskedNotes = async (
  tx: Transaction,
  userId: number,
): Promise<Pick<AskedOf, 'questions' | 'answered'>> => ({
  // Also those one has answered, until who asked closes them.
  questions: await loadNotes(tx, sql`n.closed_at IS NULL AND n.to_user = ${userId}`),
  answered: await loadNotes(tx, answeredFor(userId)),
})

/** How many notes wait for a person: an expression for the course. */
export const notesWaitingFor = (userId: number): SQL =>
  sql`(SELECT count(*)::int FROM note n WHERE n.client_id = current_client() AND ((${waitsFor(userId)}) OR (${answeredFor(userId)})))`
