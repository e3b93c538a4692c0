import type { Server } from 'node:net'
import { Router } from 'express'
import PostalMime from 'postal-mime'
import { SMTPServer } from 'smtp-server'
import { escaped, htmlPage } from './page.ts'

interface Letter {
  readonly to: string
  readonly subject: string
  readonly text: string
  readonly at: string
}

/** Letters that are kept; older ones are let go. */
const mostLetters = 200

const linked = (text: string): string =>
  escaped(text).replace(/https?:\/\/[^\s<]+/g, address => `<a href="${address}">${address}</a>`)

const page = (letters: readonly Letter[]): string =>
  htmlPage(
    'Letters',
    letters.length === 0
      ? '<p>None yet.</p>'
      : letters
          .map(
            ({ to, subject, text, at }) =>
              `<article><h2>${escaped(subject)}</h2><small>to ${escaped(to)}, ${escaped(at)}</small><pre>${linked(text)}</pre></article>`,
          )
          .join(''),
  )

/** A mail service of its own: takes letters by SMTP, delivers none, and shows them, the last first, on a page and as JSON. */
export const startMail = (port: number): { readonly routes: Router; readonly server: Server } => {
  const letters: Letter[] = []
  const smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['AUTH', 'STARTTLS'],
    size: 1_000_000,
    onData: (stream, session, done) => {
      const parts: Buffer[] = []
      stream.on('data', (part: Buffer) => parts.push(part))
      stream.on('end', () => {
        PostalMime.parse(Buffer.concat(parts)).then(
          letter => {
            const to = session.envelope.rcptTo.map(one => one.address).join(', ')
            letters.unshift({
              to,
              subject: letter.subject ?? '',
              text: letter.text ?? '',
              at: new Date().toISOString(),
            })
            letters.splice(mostLetters)
            done()
          },
          (error: Error) => done(error),
        )
      })
    },
  })
  const server = smtp.listen(port, '127.0.0.1')
  const routes = Router()
  routes.get('/', (request, response) => {
    if (request.accepts(['html', 'json']) === 'json') response.json({ letters })
    else response.type('html').send(page(letters))
  })
  return { routes, server }
}
