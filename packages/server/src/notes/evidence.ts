import { createHash, randomUUID } from 'node:crypto'
import { type EvidenceContent, type EvidenceRow, evidenceTypes, largestEvidence } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import type { Request } from 'express'
import { fileTypeFromBuffer } from 'file-type'
import { receiveFile, receiveLimits } from '../access/receiveFile.ts'
import { Refused } from '../access/refused.ts'
import { recordAct } from '../acts/recordAct.ts'
import { type Actor, asClient, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { holdNote, refuseUnlessFor } from './askNotes.ts'

/** A file that was looked at and may be kept. */
export interface CheckedFile {
  readonly mediaType: EvidenceRow['mediaType']
  readonly content: Buffer
}

// How a file of each sort ends, where it says so: what is cut off, or has something else appended, is none.
const endings: Partial<Record<EvidenceRow['mediaType'], (content: Buffer) => boolean>> = {
  'image/png': content => content.subarray(-8).equals(Buffer.from([0x49, 0x45, 0x4e, 0x44, 0xae, 0x42, 0x60, 0x82])),
  'image/jpeg': content => content.lastIndexOf(Buffer.from([0xff, 0xd9])) >= content.length - 64,
  'image/gif': content => content.at(-1) === 0x3b,
  'image/webp': content => content.readUInt32LE(4) + 8 >= content.length,
  'application/pdf': content => content.subarray(-1024).includes('%%EOF'),
}

/** Looks at what a file is, whatever its name says: a picture or a PDF, whole. @throws Refused */
export const checkFile = async (content: Buffer): Promise<CheckedFile> => {
  if (content.length === 0) throw new Refused('no_evidence')
  const found = await fileTypeFromBuffer(content)
  const mediaType = evidenceTypes.find(type => type === found?.mime)
  const isAtStart = mediaType !== 'application/pdf' || content.subarray(0, 5).equals(Buffer.from('%PDF-'))
  if (!mediaType || !isAtStart || !(endings[mediaType]?.(content) ?? true)) throw new Refused('no_evidence')
  return { mediaType, content }
}

/** Receives a file of at most the largest size, and looks at it. @throws Refused */
export const receiveEvidence = async (request: Request): Promise<CheckedFile> => {
  const file = await receiveFile(request, { ...receiveLimits, mostBytes: largestEvidence, mostSeconds: 300 })
  try {
    const chunks: Buffer[] = []
    for await (const chunk of file.open()) chunks.push(chunk as Buffer)
    return await checkFile(Buffer.concat(chunks))
  } finally {
    await file.dispose()
  }
}

/** Files of one note at most: a link must not fill the database. */
const mostOfNote = 20

// A name is shown and handed back, never used as a path.
const plainName = (name: string): string => name.replaceAll(/[\p{C}/\\:*?"<>|]/gu, '_').slice(0, 200) || 'file'

/** Keeps a file with a note; the note must be held, or its link. @throws Refused */
export const insertEvidence = async (
  tx: Transaction,
  of: { readonly noteId: string; readonly name: string; readonly by: number | null; readonly file: CheckedFile },
): Promise<EvidenceRow> => {
  const { mediaType, content } = of.file
  const { count } = await oneRow(
    tx,
    { count: is.whole },
    sql`SELECT count(*)::int AS count FROM evidence WHERE client_id = current_client() AND note_id = ${of.noteId}`,
  )
  if (count >= mostOfNote) throw new Refused('too_much_evidence', { most: mostOfNote })
  const id = randomUUID()
  const sha256 = createHash('sha256').update(content).digest('hex')
  const name = plainName(of.name)
  const { at, by } = await oneRow(
    tx,
    { at: is.text, by: is.maybe(is.text) },
    sql`INSERT INTO evidence (client_id, evidence_id, note_id, "by", at, name, media_type, size, sha256, content)
      VALUES (current_client(), ${id}, ${of.noteId}, ${of.by}::int, clock_now(), ${name}, ${mediaType}, ${content.length}, ${sha256}, ${content})
      RETURNING at::text, (SELECT name FROM app_user WHERE user_id = ${of.by}::int) AS by`,
  )
  return { id, name, mediaType, size: content.length, sha256, by, at: new Date(at).toISOString() }
}

/** Attaches a file to a note or question. @throws Refused */
export const attach = async (
  database: Database,
  actor: Actor,
  of: { readonly noteId: string; readonly name: string; readonly request: Request },
): Promise<EvidenceRow> => {
  const file = await receiveEvidence(of.request)
  return retrying(() =>
    asClient(database, actor, async tx => {
      const note = await holdNote(tx, of.noteId)
      await refuseUnlessFor(tx, actor, note)
      if (note.closed) throw new Refused('question_closed')
      const row = await insertEvidence(tx, { ...of, by: actor.userId, file })
      await recordAct(tx, actor, {
        sort: 'attach',
        note: row.name,
        touched: [
          { subject: note.subject, key: note.key, after: { file: row.name, sha256: row.sha256 } },
          { subject: 'question', key: of.noteId },
        ],
      })
      return row
    }),
  )
}

/** A file of a note, as it is handed over. @throws Refused where there is none */
export const readEvidence = async (
  tx: Transaction,
  of: { readonly noteId: string; readonly file: string },
): Promise<EvidenceContent> => {
  const [row] = await rowsOf(
    tx,
    { name: is.text, mediaType: is.oneOf(...evidenceTypes), content: is.bytes },
    sql`SELECT name, media_type AS "mediaType", content FROM evidence
      WHERE client_id = current_client() AND note_id = ${of.noteId} AND evidence_id = ${of.file}`,
  )
  if (!row) throw new Refused('not_found', { what: 'file' })
  return { name: row.name, mediaType: row.mediaType, base64: row.content.toString('base64') }
}
