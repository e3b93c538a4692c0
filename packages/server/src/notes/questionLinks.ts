import type { EvidenceRow, LinkedQuestion, Subject } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { type Visitor as Anyone, freshBinding, isBoundTo, type LinkName } from '../access/boundLink.ts'
import { Refused } from '../access/refused.ts'
import { hashOf } from '../access/secrets.ts'
import { recordAct } from '../acts/recordAct.ts'
import { byLink, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { insertAnswer } from './askNotes.ts'
import { type CheckedFile, insertEvidence } from './evidence.ts'
import { evidenceOfNote, evidenceReader } from './loadNotes.ts'

/** Whoever comes by the link of a question. */
export interface Visitor extends Anyone {
  readonly token: string
}

const linkShape = {
  clientId: is.whole,
  noteId: is.text,
  practice: is.text,
  client: is.text,
  askedBy: is.text,
  expiresAt: is.text,
  bound: is.maybe(is.text),
  over: is.yes,
}
type Link = Awaited<ReturnType<typeof findLink>>

const findLink = async (tx: Transaction, link: string) => {
  const [row] = await rowsOf(
    tx,
    linkShape,
    sql`SELECT client_id AS "clientId", note_id AS "noteId", practice_name AS practice, client_name AS client, asked_by AS "askedBy",
      expires_at::text AS "expiresAt", bound_hash AS bound, withdrawn_at IS NOT NULL OR expires_at <= clock_now() AS over
      FROM question_link WHERE token_hash = ${link}`,
  )
  return row ?? null
}

const nameOf = ({ token }: Visitor): LinkName => ({ purpose: 'question', link: hashOf(token) })

/** What became of a link: it opens nothing, and whoever merely follows links changes nothing. */
export const lookAtQuestion = (
  database: Database,
  visitor: Visitor,
): Promise<'unopened' | 'open_here' | 'open_elsewhere' | 'over'> =>
  byLink(database, { link: hashOf(visitor.token), clientId: null }, async tx => {
    const link = await findLink(tx, hashOf(visitor.token))
    if (!link || link.over) return 'over'
    if (link.bound === null) return 'unopened'
    return isBoundTo(visitor, nameOf(visitor), link.bound) ? 'open_here' : 'open_elsewhere'
  })

/**
 * Runs `work` for whoever has the link open in this browser; with `opens` it is bound to this browser where it is bound to none yet. @throws Refused
 */
const throughLink = async <Result>(
  database: Database,
  visitor: Visitor,
  work: (tx: Transaction, link: NonNullable<Link>) => Promise<Result>,
  opens = false,
): Promise<Result> => {
  const hash = hashOf(visitor.token)
  const found = await byLink(database, { link: hash, clientId: null }, tx => findLink(tx, hash))
  if (!found) throw new Refused('link_spent')
  let fresh: ReturnType<typeof freshBinding> | null = null
  const result = await retrying(() =>
    byLink(database, { link: hash, clientId: found.clientId }, async tx => {
      // Held from here on: of two browsers that open it at once one is the first.
      await tx.execute(sql`SELECT FROM question_link WHERE token_hash = ${hash} FOR UPDATE`)
      const link = await findLink(tx, hash)
      if (!link || link.over) throw new Refused('link_spent')
      fresh = null
      if (link.bound === null) {
        if (!opens) throw new Refused('question_unopened')
        fresh = freshBinding(visitor, nameOf(visitor))
        await tx.execute(
          sql`UPDATE question_link SET bound_hash = ${fresh.hash}, bound_at = clock_now() WHERE token_hash = ${hash}`,
        )
      } else if (!isBoundTo(visitor, nameOf(visitor), link.bound)) throw new Refused('question_elsewhere')
      return work(tx, link)
    }),
  )
  ;(fresh as ReturnType<typeof freshBinding> | null)?.give(found.expiresAt)
  return result
}

/** Opens a question by its link, in this browser and from then on in no other. @throws Refused */
export const openQuestion = (database: Database, visitor: Visitor): Promise<LinkedQuestion> =>
  throughLink(database, visitor, loadLinked, true)

const loadLinked = async (tx: Transaction, link: NonNullable<Link>): Promise<LinkedQuestion> => {
  const row = await oneRow(
    tx,
    {
      title: is.text,
      text: is.text,
      at: is.text,
      closed: is.yes,
      answers: is.list(is.record({ own: is.yes, text: is.text, at: is.text })),
      evidence: evidenceReader,
    },
    sql`SELECT n.title, n.text, n.at::text, n.closed_at IS NOT NULL AS closed,
      (SELECT coalesce(json_agg(json_build_object('own', a."by" IS NULL, 'text', a.text, 'at', a.at) ORDER BY a.no), '[]')
        FROM note_answer a WHERE a.client_id = n.client_id AND a.note_id = n.note_id) AS answers, ${evidenceOfNote} AS evidence
      FROM note n WHERE n.client_id = current_client() AND n.note_id = ${link.noteId}`,
  )
  return {
    practice: link.practice,
    client: link.client,
    askedBy: link.askedBy,
    askedAt: new Date(row.at).toISOString(),
    title: row.title,
    text: row.text,
    expiresAt: new Date(link.expiresAt).toISOString(),
    closed: row.closed,
    answers: row.answers.map(one => ({
      ...one,
      by: one.own ? '' : link.practice,
      at: new Date(one.at).toISOString(),
    })),
    evidence: row.evidence.map(one => ({ ...one, at: new Date(one.at).toISOString() })),
  }
}

/** Answers by a link. @throws Refused */
export const answerByLink = (database: Database, visitor: Visitor, text: string): Promise<void> =>
  throughLink(database, visitor, async (tx, link) => {
    const note = await openNote(tx, link)
    await insertAnswer(tx, { noteId: link.noteId, text, by: null })
    await recordAct(tx, nobody(link), {
      sort: 'answer',
      note: text.slice(0, 200),
      touched: [
        { ...note, after: { answered: true } },
        { subject: 'question', key: link.noteId },
      ],
    })
  })

/** Attaches a file by a link. @throws Refused */
export const attachByLink = (
  database: Database,
  visitor: Visitor,
  of: { readonly name: string; readonly file: CheckedFile },
): Promise<EvidenceRow> =>
  throughLink(database, visitor, async (tx, link) => {
    const note = await openNote(tx, link)
    const row = await insertEvidence(tx, { noteId: link.noteId, name: of.name, by: null, file: of.file })
    await recordAct(tx, nobody(link), {
      sort: 'attach',
      note: row.name,
      touched: [
        { ...note, after: { file: row.name, sha256: row.sha256 } },
        { subject: 'question', key: link.noteId },
      ],
    })
    return row
  })

/** Runs `work` on the note of a link that is open in this browser. @throws Refused */
export const readByLink = <Result>(
  database: Database,
  visitor: Visitor,
  work: (tx: Transaction, noteId: string) => Promise<Result>,
): Promise<Result> => throughLink(database, visitor, (tx, link) => work(tx, link.noteId))

/** Whoever comes by a link is nobody who signs in. */
const nobody = ({ clientId }: NonNullable<Link>) => ({ userId: 0, clientId })

const openNote = async (tx: Transaction, link: NonNullable<Link>): Promise<{ subject: Subject; key: string }> => {
  const note = await oneRow(
    tx,
    { subject: is.text, key: is.text, closed: is.yes },
    sql`SELECT subject, key, closed_at IS NOT NULL AS closed FROM note WHERE client_id = current_client() AND note_id = ${link.noteId}`,
  )
  if (note.closed) throw new Refused('question_closed')
  return { subject: note.subject as Subject, key: note.key }
}
