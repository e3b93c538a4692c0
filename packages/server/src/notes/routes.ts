import { endpoints } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { type Request, type Response, Router } from 'express'
import type { Letters } from '../access/letters.ts'
import { Refused } from '../access/refused.ts'
import { serve } from '../access/serve.ts'
import type { Consentables } from '../consents/consentable.ts'
import { loadAskedConsents } from '../consents/consents.ts'
import { asClient, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { addNote, answerNote, closeQuestion, holdNote, refuseUnlessFor, withdrawLink } from './askNotes.ts'
import { attach, readEvidence, receiveEvidence } from './evidence.ts'
import { loadAskedNotes, loadNotes } from './loadNotes.ts'
import { answerByLink, attachByLink, lookAtQuestion, openQuestion, readByLink } from './questionLinks.ts'

/** Notes and questions on anything of a client, and what waits for whoever asks. */
export const noteRoutes = (database: Database, letters: Letters, consentables: Consentables): Router => {
  const router = Router()
  serve(router, endpoints.notes, async ({ actor, query }) => ({
    notes: await asClient(database, actor, tx =>
      loadNotes(tx, sql`n.subject = ${query.subject} AND n.key = ${query.key}`),
    ),
  }))
  serve(router, endpoints.addNote, ({ actor, body }) => addNote(database, actor, letters, body))
  serve(router, endpoints.members, async ({ actor }) => ({
    members: await asClient(database, actor, tx =>
      rowsOf(
        tx,
        { id: is.whole, name: is.text, role: is.text },
        sql`SELECT m.user_id AS id, u.name, m.role FROM membership m JOIN app_user u USING (user_id)
          WHERE m.client_id = current_client() AND m.user_id <> ${actor.userId} ORDER BY u.name`,
      ),
    ),
  }))
  serve(router, endpoints.asked, ({ actor }) =>
    asClient(database, actor, async tx => ({
      ...(await loadAskedNotes(tx, actor.userId)),
      ...(await loadAskedConsents(tx, consentables, actor.userId)),
    })),
  )
  serve(router, endpoints.answer, async ({ actor, params, body }) => {
    await answerNote(database, actor, { noteId: params.note, text: body.text })
    return {}
  })
  serve(router, endpoints.attach, ({ actor, params, query, request }) =>
    attach(database, actor, { noteId: params.note, name: query.name, request }),
  )
  serve(router, endpoints.evidence, ({ actor, params }) =>
    asClient(database, actor, async tx => {
      await refuseUnlessFor(tx, actor, await holdNote(tx, params.note))
      return readEvidence(tx, { noteId: params.note, file: params.file })
    }),
  )
  serve(router, endpoints.closeQuestion, async ({ actor, params }) => {
    await closeQuestion(database, actor, params.note)
    return {}
  })
  serve(router, endpoints.withdrawLink, async ({ actor, params }) => {
    await withdrawLink(database, actor, params.note)
    return {}
  })
  return router
}

/** What the page of a question asks, for whoever has its link. */
export const questionRoutes = (database: Database, { origin }: Letters): Router => {
  const router = Router()
  const visitor = (token: string, { request, response }: { request: Request; response: Response }) => ({
    ...{ token, request, response, origin },
  })
  serve(router, endpoints.lookAtQuestion, async asked => ({
    is: await lookAtQuestion(database, visitor(asked.body.token, asked)),
  }))
  serve(router, endpoints.openQuestion, asked => openQuestion(database, visitor(asked.body.token, asked)))
  serve(router, endpoints.answerByLink, async asked => {
    await answerByLink(database, visitor(asked.body.token, asked), asked.body.text)
    return {}
  })
  serve(router, endpoints.attachByLink, async asked => {
    const token = asked.request.headers['x-question']
    if (typeof token !== 'string') throw new Refused('link_spent')
    const by = visitor(token, asked)
    // Whoever has no such link sends nothing.
    if ((await lookAtQuestion(database, by)) !== 'open_here') throw new Refused('link_spent')
    return attachByLink(database, by, { name: asked.query.name, file: await receiveEvidence(asked.request) })
  })
  serve(router, endpoints.evidenceByLink, asked =>
    readByLink(database, visitor(asked.body.token, asked), (tx, noteId) =>
      readEvidence(tx, { noteId, file: asked.body.file }),
    ),
  )
  return router
}
