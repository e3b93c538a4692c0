import { addressOf, endpoints } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { ensurePerson } from '../access/practice.ts'
import { hashOf } from '../access/secrets.ts'
import type { Who } from '../access/who.ts'
import { checkSeals } from '../acts/checkSeals.ts'
import { type Actor, asClient, byLink } from '../database/connect.ts'
import { makeClient, testDatabase } from '../testing/madeClient.ts'
import { makeBrowser, type SignInServer, signInServer } from '../testing/signedIn.ts'
import { checkFile } from './evidence.ts'

const database = testDatabase(12)
let server: SignInServer
let actor: Actor
const people = new Map<string, number>()

// Who asks is told by a header: this is about what is asked. Whoever comes by a link tells none.
const asTold: Who = request => {
  const userId = Number(request.headers['x-person'] ?? 0)
  return Promise.resolve(userId > 0 ? { userId, session: null, narrowed: null } : null)
}

beforeAll(async () => {
  actor = await makeClient(database, 'Who is asked')
  people.set('orla', actor.userId)
  for (const role of ['junior', 'accountant', 'guest'] as const) {
    const userId = await ensurePerson(database, {
      email: `asked.${role}@ternandtally.example`,
      name: `Asked ${role}`,
      role,
    })
    people.set(role, userId)
    await asClient(database, actor, tx =>
      tx.execute(sql`INSERT INTO membership (client_id, user_id, role) VALUES (${actor.clientId}, ${userId}, ${role})`),
    )
  }
  server = await signInServer(database, asTold)
})
afterAll(async () => {
  await server.stop()
  await database.$client.end()
})

const as = (name: string) => ({ 'x-person': String(people.get(name) ?? 0) })
const browser = () => makeBrowser(server.base)
const at = { ask: (...asking: Parameters<ReturnType<typeof browser>['ask']>) => browser().ask(...asking) }
type Question = { ask?: unknown; text?: string; link?: string }
const note = (name: string, { ask = { who: 'nobody' }, text = 'Is this ours?', link = '/bank/1000' }: Question = {}) =>
  at.ask(endpoints.addNote, {
    client: actor.clientId,
    headers: as(name),
    body: { subject: 'bank_line', key: '1000/bl-7', title: 'the deposit of 7 March', link, text, ask },
  })
const asked = async (name: string) =>
  endpoints.asked.answer.parse((await at.ask(endpoints.asked, { client: actor.clientId, headers: as(name) })).said)
const onNote = (name: string, endpoint: Parameters<typeof at.ask>[0], noteId: string, body?: unknown) =>
  at.ask(endpoint, { client: actor.clientId, headers: as(name), params: { note: noteId }, body })

const png = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
)
const pdf = Buffer.from('%PDF-1.4\n1 0 obj\n<< >>\nendobj\ntrailer\n<< >>\n%%EOF\n')

describe('a question to a colleague', () => {
  it('waits for them, is answered, waits for who asked, and is closed', async () => {
    const made = await note('orla', { ask: { who: 'person', person: people.get('junior') } })
    expect(made.status).toBe(201)
    const noteId = String(made.said.noteId)
    expect((await asked('junior')).questions.map(one => one.noteId)).toEqual([noteId])
    expect((await asked('accountant')).questions).toEqual([])
    expect((await onNote('junior', endpoints.answer, noteId, { text: 'Yes, from March.' })).status).toBe(201)
    const [answered] = (await asked('orla')).answered
    expect([answered?.answers[0]?.by, answered?.answers[0]?.text]).toEqual(['Asked junior', 'Yes, from March.'])
    expect((await onNote('orla', endpoints.closeQuestion, noteId)).status).toBe(200)
    expect((await asked('orla')).answered).toEqual([])
    expect((await onNote('junior', endpoints.answer, noteId, { text: 'Late' })).said.code).toBe('question_closed')
  })

  it('leads back into the client, and nowhere else', async () => {
    for (const link of [
      '//elsewhere.example',
      'https://elsewhere.example',
      '/\\elsewhere.example',
      'javascript:alert(1)',
      '/a b',
      '',
    ])
      expect((await note('orla', { link })).status, link).toBe(400)
  })

  it('is put to nobody who is not of the client', async () => {
    const stranger = await ensurePerson(database, { email: 'stranger@ternandtally.example', name: 'Stranger' })
    expect((await note('orla', { ask: { who: 'person', person: stranger } })).status).toBe(404)
  })

  it('to a guest shows them that one and no other, and its file', async () => {
    const other = String((await note('orla')).said.noteId)
    const mine = String((await note('orla', { ask: { who: 'person', person: people.get('guest') } })).said.noteId)
    expect((await asked('guest')).questions.map(one => one.noteId)).toEqual([mine])
    expect((await onNote('guest', endpoints.answer, other, { text: 'x' })).status).toBe(404)
    expect((await onNote('guest', endpoints.answer, mine, { text: 'It is rent.' })).status).toBe(201)
    const { status } = await at.ask(endpoints.notes, {
      client: actor.clientId,
      headers: as('guest'),
      body: undefined,
    })
    expect(status).toBe(403)
  })
})

const tokenOf = (link: unknown): string => String(link).split('#')[1] ?? ''
const toClient = { who: 'client', email: 'mara@kilnlane.example', days: 14 }

describe('a question by a link', () => {
  it('goes by letter, opens on a press, in the browser that pressed, and in no other', async () => {
    const made = await note('orla', { ask: toClient, text: 'What was this for?' })
    const token = tokenOf(made.said.link)
    expect(made.said).toMatchObject({ mailed: true })
    expect(server.letters.at(-1)?.text).toContain(String(made.said.link))
    const client = browser()
    const look = (by = client) => by.ask(endpoints.lookAtQuestion, { body: { token } })
    // Whoever follows links, as a scanner of letters does, changes nothing.
    for (let turn = 0; turn < 3; turn++) expect((await look()).said).toEqual({ is: 'unopened' })
    expect((await client.ask(endpoints.answerByLink, { body: { token, text: 'x' } })).said.code).toBe(
      'question_unopened',
    )
    const opened = await client.ask(endpoints.openQuestion, { body: { token } })
    expect(opened.said).toMatchObject({ client: 'Who is asked', askedBy: 'Orla Quill', text: 'What was this for?' })
    expect(opened.setCookie[0]).toMatch(/HttpOnly.*SameSite=Lax|SameSite=Lax.*HttpOnly/i)
    const other = browser()
    expect((await look(other)).said).toEqual({ is: 'open_elsewhere' })
    expect((await other.ask(endpoints.openQuestion, { body: { token } })).said.code).toBe('question_elsewhere')
    // Also whoever made up what a browser keeps.
    for (const [name] of client.cookies) other.cookies.set(name, 'made-up')
    expect((await other.ask(endpoints.answerByLink, { body: { token, text: 'x' } })).said.code).toBe(
      'question_elsewhere',
    )
    expect((await look()).said).toEqual({ is: 'open_here' })
    expect((await client.ask(endpoints.answerByLink, { body: { token, text: 'Clay, by the ton.' } })).status).toBe(201)
    const again = endpoints.openQuestion.answer.parse(
      (await client.ask(endpoints.openQuestion, { body: { token } })).said,
    )
    expect(again.answers.map(one => [one.own, one.text])).toEqual([[true, 'Clay, by the ton.']])
    expect((await asked('orla')).answered[0]?.answers[0]).toMatchObject({ by: null, text: 'Clay, by the ton.' })
    // What they did is in the chain, done by nobody who signs in.
    const check = await asClient(database, actor, tx => checkSeals(tx, actor.clientId))
    expect(check.faults).toEqual([])
  })

  it('opened by two at once opens in one', async () => {
    const token = tokenOf((await note('orla', { ask: toClient })).said.link)
    const opened = await Promise.all(
      Array.from({ length: 6 }, () => browser().ask(endpoints.openQuestion, { body: { token } })),
    )
    expect(opened.map(one => one.status).sort()).toEqual([200, 403, 403, 403, 403, 403])
  })

  it('opens nothing once it is withdrawn, closed, too old, or made up', async () => {
    const client = browser()
    const made = await note('orla', { ask: toClient })
    const token = tokenOf(made.said.link)
    await client.ask(endpoints.openQuestion, { body: { token } })
    expect((await onNote('orla', endpoints.withdrawLink, String(made.said.noteId))).status).toBe(200)
    expect((await client.ask(endpoints.openQuestion, { body: { token } })).said.code).toBe('link_spent')
    const old = tokenOf((await note('orla', { ask: toClient })).said.link)
    await asClient(database, actor, tx =>
      tx.execute(
        sql`UPDATE question_link SET expires_at = now() - interval '1 second' WHERE token_hash = ${hashOf(old)}`,
      ),
    )
    expect((await client.ask(endpoints.openQuestion, { body: { token: old } })).said.code).toBe('link_spent')
    const none = 'a-token-that-nobody-was-ever-given'
    expect((await client.ask(endpoints.openQuestion, { body: { token: none } })).said.code).toBe('link_spent')
  })

  it('reaches that question in the database, and nothing else of the client', async () => {
    const made = await note('orla', { ask: toClient })
    await note('orla', { text: 'Of no concern to the client' })
    const link = hashOf(tokenOf(made.said.link))
    const counts = await byLink(database, { link, clientId: actor.clientId }, async tx => {
      const count = async (table: string) =>
        Number((await tx.execute(sql`SELECT count(*) AS count FROM ${sql.identifier(table)}`)).rows[0]?.count)
      return {
        notes: await count('note'),
        links: await count('question_link'),
        accounts: await count('account'),
        routes: await count('route'),
      }
    })
    expect(counts).toEqual({ notes: 1, links: 1, accounts: 0, routes: 0 })
    const write = byLink(database, { link, clientId: actor.clientId }, tx =>
      tx.execute(
        sql`INSERT INTO note_answer (client_id, note_id, no, text, at) SELECT ${actor.clientId}, note_id, 99, 'x', now() FROM note`,
      ),
    )
    // The one that it is for.
    await expect(write).resolves.toMatchObject({ rowCount: 1 })
  })
})

const sendFile = (to: string, bytes: Buffer, headers: Record<string, string>) =>
  fetch(server.base + to, {
    method: 'POST',
    headers: { 'x-culvert': 'test', 'content-type': 'image/png', ...headers },
    body: new Uint8Array(bytes),
  })

describe('a file', () => {
  it.each([
    ['a page that says it is a picture', Buffer.from('<html><script>alert(1)</script></html>'), false],
    ['a drawing that can run', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script/></svg>'), false],
    ['a picture with a page after its end', Buffer.concat([png, Buffer.from('<script>alert(1)</script>')]), false],
    ['a picture that is cut off', png.subarray(0, 40), false],
    ['a PDF after something else', Buffer.concat([Buffer.from('MZ\0\0'), pdf]), false],
    ['an archive', Buffer.from('504b0304140000000000', 'hex'), false],
    ['nothing', Buffer.alloc(0), false],
    ['a picture', png, true],
    ['a PDF', pdf, true],
  ])('is kept only where it is what it must be: %s', async (_, bytes, kept) => {
    const checked = checkFile(bytes)
    await (kept
      ? expect(checked).resolves.toMatchObject({ content: bytes })
      : expect(checked).rejects.toThrow('Nothing was kept'))
  })

  it('is attached by a colleague and by the link, and handed back as it came, never as a page', async () => {
    const made = await note('orla', { ask: toClient })
    const noteId = String(made.said.noteId)
    const to = addressOf(endpoints.attach, {
      client: actor.clientId,
      params: { note: noteId },
      query: { name: '../../<b>receipt</b>.png' },
    })
    const response = await sendFile(to, png, as('junior'))
    expect(response.status).toBe(201)
    const row = endpoints.attach.answer.parse(await response.json())
    expect([row.name, row.mediaType, row.size]).toEqual([
      '.._.._<b>receipt<_b>.png'.replaceAll(/[<>]/g, '_'),
      'image/png',
      png.length,
    ])
    const read = await at.ask(endpoints.evidence, {
      client: actor.clientId,
      headers: as('orla'),
      params: { note: noteId, file: row.id },
    })
    expect(Buffer.from(endpoints.evidence.answer.parse(read.said).base64, 'base64')).toEqual(png)
    const token = tokenOf(made.said.link)
    const client = browser()
    const byLinkTo = addressOf(endpoints.attachByLink, { query: { name: 'bill.pdf' } })
    expect((await sendFile(byLinkTo, pdf, { 'x-question': token })).status).toBe(410)
    await client.ask(endpoints.openQuestion, { body: { token } })
    const cookie = [...client.cookies].map(([name, value]) => `${name}=${value}`).join('; ')
    expect((await sendFile(byLinkTo, pdf, { 'x-question': token, cookie })).status).toBe(201)
    expect((await sendFile(byLinkTo, Buffer.from('<html>'), { 'x-question': token, cookie })).status).toBe(415)
    const [, own] = endpoints.openQuestion.answer.parse(
      (await client.ask(endpoints.openQuestion, { body: { token } })).said,
    ).evidence
    expect(own).toMatchObject({ name: 'bill.pdf', mediaType: 'application/pdf', by: null })
    const file = await client.ask(endpoints.evidenceByLink, { body: { token, file: row.id } })
    expect(file.status).toBe(200)
  })

  it('of more than the largest size is not taken', async () => {
    const noteId = String((await note('orla')).said.noteId)
    const to = addressOf(endpoints.attach, {
      client: actor.clientId,
      params: { note: noteId },
      query: { name: 'large.png' },
    })
    expect((await sendFile(to, Buffer.concat([png, Buffer.alloc(10_000_000)]), as('orla'))).status).toBe(413)
  })
})
