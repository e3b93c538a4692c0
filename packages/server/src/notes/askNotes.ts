import { randomUUID } from 'node:crypto'
import type { AddNoteBody, Subject } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import type { Letters } from '../access/letters.ts'
import { Refused } from '../access/refused.ts'
import { hashOf, randomToken } from '../access/secrets.ts'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, asClient, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'

const factsOfLink = (tx: Transaction, userId: number) =>
  oneRow(
    tx,
    { client: is.text, practice: is.text, by: is.text },
    sql`SELECT c.name AS client, p.name AS practice, u.name AS by FROM client c JOIN practice p USING (practice_id)
      JOIN app_user u ON u.user_id = ${userId} WHERE c.client_id = current_client()`,
  )

/** @throws Refused where somebody is asked who is not of the client */
const refuseStranger = async (tx: Transaction, person: number): Promise<void> => {
  const [member] = await rowsOf(
    tx,
    {},
    sql`SELECT FROM membership WHERE client_id = current_client() AND user_id = ${person}`,
  )
  if (!member) throw new Refused('not_found', { what: 'person' })
}

const askedText = { nobody: 'nobody: a note', person: 'a colleague', client: 'the client' } as const

/** Notes something of a client, or asks about it. A link is told to who asks, and sent where letters can be. @throws Refused */
export const addNote = async (
  database: Database,
  actor: Actor,
  letters: Letters,
  body: AddNoteBody,
): Promise<{ noteId: string; link: string | null; mailed: boolean }> => {
  const { ask } = body
  const sort = ask.who === 'nobody' ? 'note' : ask.who === 'person' ? 'question' : 'client_question'
  const noteId = randomUUID()
  const token = ask.who === 'client' ? randomToken() : null
  const told = await retrying(() =>
    asClient(database, actor, async tx => {
      if (ask.who === 'person') await refuseStranger(tx, ask.person)
      await tx.execute(sql`INSERT INTO note (client_id, note_id, subject, key, title, link, sort, text, "by", at, to_user)
        VALUES (current_client(), ${noteId}, ${body.subject}, ${body.key}, ${body.title}, ${body.link}, ${sort}, ${body.text}, ${actor.userId}, clock_now(),
          ${ask.who === 'person' ? ask.person : null})`)
      const facts = await factsOfLink(tx, actor.userId)
      if (ask.who === 'client')
        await tx.execute(sql`INSERT INTO question_link (client_id, note_id, token_hash, practice_name, client_name, asked_by, sent_to, expires_at)
          VALUES (current_client(), ${noteId}, ${hashOf(token ?? '')}, ${facts.practice}, ${facts.client}, ${facts.by}, ${ask.email},
            clock_now() + ${ask.days} * interval '1 day')`)
      await recordAct(tx, actor, {
        sort: 'ask',
        note: body.text.slice(0, 200),
        touched: [{ subject: body.subject, key: body.key, after: { asked: askedText[ask.who] } }, about(noteId)],
      })
      return facts
    }),
  )
  if (token === null) return { noteId, link: null, mailed: false }
  // What follows the # is sent to no server and stands in no log.
  const link = `${letters.origin}/question#${token}`
  const email = ask.who === 'client' ? ask.email : null
  const mailed =
    email !== null &&
    (await letters
      .mail({
        to: email,
        subject: `${told.by} of ${told.practice} asks about the books of ${told.client}`,
        text: `${told.by} of ${told.practice} has a question about ${body.title}.\n\nOpen it here, in the browser in which you want to answer; it opens in no other:\n${link}\n\nNo account is needed. If you do not know ${told.practice}, do nothing.\n`,
      })
      .catch(() => false))
  return { noteId, link, mailed }
}

const about = (noteId: string) => ({ subject: 'question' as const, key: noteId })

interface Standing {
  readonly subject: Subject
  readonly key: string
  readonly sort: string
  readonly by: number
  readonly to: number | null
  readonly closed: boolean
}

/** A note, held until the transaction ends. @throws Refused where there is none */
export const holdNote = async (tx: Transaction, noteId: string): Promise<Standing> => {
  const [row] = await rowsOf(
    tx,
    { subject: is.text, key: is.text, sort: is.text, by: is.whole, to: is.maybe(is.whole), closed: is.yes },
    sql`SELECT subject, key, sort, "by", to_user AS to, closed_at IS NOT NULL AS closed FROM note
      WHERE client_id = current_client() AND note_id = ${noteId} FOR NO KEY UPDATE`,
  )
  if (!row) throw new Refused('not_found', { what: 'question' })
  return { ...row, subject: row.subject as Subject }
}

/** Guests see what is put to them, and nothing else. @throws Refused as if it were not there */
export const refuseUnlessFor = async (
  tx: Transaction,
  actor: Actor,
  { to }: { readonly to: number | null },
): Promise<void> => {
  if (to === actor.userId) return
  const { may } = await oneRow(tx, { may: is.yes }, sql`SELECT member_may('read') AS may`)
  if (!may) throw new Refused('not_found', { what: 'question' })
}

/** Answers a question. @throws Refused */
export const answerNote = (
  database: Database,
  actor: Actor,
  { noteId, text }: { readonly noteId: string; readonly text: string },
): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const note = await holdNote(tx, noteId)
      await refuseUnlessFor(tx, actor, note)
      if (note.sort === 'note') throw new Refused('no_question')
      if (note.closed) throw new Refused('question_closed')
      await insertAnswer(tx, { noteId, text, by: actor.userId })
      await recordAct(tx, actor, {
        sort: 'answer',
        note: text.slice(0, 200),
        touched: [{ subject: note.subject, key: note.key, after: { answered: true } }, about(noteId)],
      })
    }),
  )

/** Puts an answer after those that stand; the note must be held, or its link. */
export const insertAnswer = async (
  tx: Transaction,
  of: { readonly noteId: string; readonly text: string; readonly by: number | null },
): Promise<void> => {
  await tx.execute(sql`INSERT INTO note_answer (client_id, note_id, no, "by", text, at)
    SELECT current_client(), ${of.noteId}, coalesce(max(no), 0) + 1, ${of.by}::int, ${of.text}, clock_now() FROM note_answer
    WHERE client_id = current_client() AND note_id = ${of.noteId}`)
}

/** Closes a question; its link opens nothing any more. @throws Refused */
export const closeQuestion = (database: Database, actor: Actor, noteId: string): Promise<void> =>
  endNote(database, actor, {
    noteId,
    end: async tx => {
      await tx.execute(sql`UPDATE note SET closed_at = clock_now(), closed_by = ${actor.userId}
        WHERE client_id = current_client() AND note_id = ${noteId} AND closed_at IS NULL`)
    },
    after: { question: 'closed' },
  })

/** Withdraws the link of a question. @throws Refused */
export const withdrawLink = (database: Database, actor: Actor, noteId: string): Promise<void> =>
  endNote(database, actor, {
    noteId,
    end: async tx => {
      const { rowCount } = await tx.execute(sql`UPDATE question_link SET withdrawn_at = clock_now()
        WHERE client_id = current_client() AND note_id = ${noteId} AND withdrawn_at IS NULL`)
      if (rowCount === 0) throw new Refused('not_found', { what: 'link' })
    },
    after: { link: 'withdrawn' },
  })

const endNote = (
  database: Database,
  actor: Actor,
  of: {
    readonly noteId: string
    readonly end: (tx: Transaction) => Promise<void>
    readonly after: Readonly<Record<string, string>>
  },
): Promise<void> =>
  retrying(() =>
    asClient(database, actor, async tx => {
      const note = await holdNote(tx, of.noteId)
      if (note.closed) throw new Refused('question_closed')
      await of.end(tx)
      await recordAct(tx, actor, {
        sort: 'close_question',
        touched: [{ subject: note.subject, key: note.key, after: of.after }, about(of.noteId)],
      })
    }),
  )
