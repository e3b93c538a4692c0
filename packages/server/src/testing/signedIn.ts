import type { AddressInfo } from 'node:net'
import { addressOf, type Endpoint } from '@culvert/contract'
import { pino } from 'pino'
import { type Identity, startIdentity } from '../access/identity.ts'
import type { Letter } from '../access/mail.ts'
import type { Who } from '../access/who.ts'
import { createApp } from '../app.ts'
import type { Database } from '../database/connect.ts'
import { startJobs } from '../jobs/boss.ts'
import { testUrl } from './madeClient.ts'

/** A server to sign in to, and the letters that it sent. */
export interface SignInServer {
  readonly base: string
  readonly identity: Identity
  readonly letters: readonly Letter[]
  stop(): Promise<void>
}

/** Starts the application with signing in, on a port of its own; with `who`, that says who asks instead. */
export const signInServer = async (
  database: Database,
  who?: Who,
  origin = 'https://culvert.example',
): Promise<SignInServer> => {
  const letters: Letter[] = []
  const identity = startIdentity({
    ...{ database, url: testUrl(), secret: 'a secret of the tests, of no use elsewhere', report: () => undefined },
    origin,
    mail: letter => {
      letters.push(letter)
      return Promise.resolve(true)
    },
  })
  const jobs = await startJobs(testUrl(), database, () => undefined)
  const app = createApp({ database, jobs, identity, origin, ...(who && { who }), log: pino({ level: 'silent' }) })
  const server = app.listen(0, '127.0.0.1')
  await new Promise(resolve => server.once('listening', resolve))
  return {
    base: `http://127.0.0.1:${(server.address() as AddressInfo).port}/api`,
    identity,
    letters,
    stop: async () => {
      await new Promise(resolve => server.close(resolve))
      await jobs.stop()
      await identity.stop()
    },
  }
}

interface Asking {
  readonly client?: number
  readonly params?: Readonly<Record<string, string>>
  readonly body?: unknown
  readonly headers?: Readonly<Record<string, string>>
}

/** What a browser does: it asks, and keeps the cookies that it is given. */
export const makeBrowser = (base: string) => {
  const cookies = new Map<string, string>()
  const ask = async (endpoint: Endpoint, { headers = {}, ...asking }: Asking = {}) => {
    const address = addressOf(endpoint, { ...asking, params: asking.params ?? {} })
    const response = await fetch(base + address, {
      method: endpoint.method,
      headers: {
        ...{ 'content-type': 'application/json', 'x-culvert': 'test' },
        cookie: [...cookies].map(([name, value]) => `${name}=${value}`).join('; '),
        ...headers,
      },
      ...(endpoint.method === 'GET' ? {} : { body: JSON.stringify(asking.body ?? {}) }),
    })
    for (const set of response.headers.getSetCookie()) {
      const [pair = ''] = set.split(';')
      const [name = '', ...value] = pair.split('=')
      if (/max-age=0\b/i.test(set) || value.join('=') === '') cookies.delete(name)
      else cookies.set(name, value.join('='))
    }
    const said = (await response.json()) as Record<string, unknown>
    return { status: response.status, said, setCookie: response.headers.getSetCookie() }
  }
  return { ask, cookies }
}
