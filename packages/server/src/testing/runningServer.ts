import { type ChildProcess, spawn } from 'node:child_process'
import { mkdtempSync } from 'node:fs'
import { connect, createServer, type Server, type Socket } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { addressOf, type Endpoint, type NewTokenBody, rights } from '@culvert/contract'
import type { Database } from '../database/connect.ts'
import { addToken } from '../people/account.ts'

const isFree = (port: number): Promise<boolean> =>
  new Promise(resolve => {
    const probe = createServer()
    probe.once('error', () => resolve(false))
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)))
  })

/**
 * A port that nobody has: below those that the system gives to connections, which another lane could be given in the moment between. Stand-ins take the fifth
 * after it for letters.
 */
const freePort = async (): Promise<number> => {
  for (;;) {
    const port = 20_000 + Math.floor(Math.random() * 10_000)
    if ((await isFree(port)) && (await isFree(port + 5))) return port
  }
}

/** Waits until an address answers. On a machine that runs all else beside it, starting takes its time. @throws Error after a minute */
export const answering = async (url: string): Promise<void> => {
  for (let attempt = 0; attempt < 600; attempt++) {
    const up = await fetch(url).then(
      response => response.ok,
      () => false,
    )
    if (up) return
    await new Promise(resolve => setTimeout(resolve, 100))
  }
  throw new Error(`nothing answers at ${url}`)
}

/** Whoever asks the application or the stand-ins from a test. */
export const headers: Record<string, string> = { 'content-type': 'application/json', 'x-culvert': 'test' }

/** From now on a person asks, by a token of theirs. */
export const askAs = async (database: Database, userId: number): Promise<void> => {
  const given = rights.filter(right => !['anyone', 'enter', 'own', 'people'].includes(right))
  const rightsOfToken = given as NewTokenBody['rights']
  const token = await addToken(database, userId, { name: 'test', rights: rightsOfToken, clients: null, days: 1 })
  headers.authorization = `Bearer ${token}`
}

/** Asks a running server for an act of a client. */
export const askServer = (
  api: string,
  endpoint: Endpoint,
  of: { readonly client: number; readonly params?: Readonly<Record<string, string>>; readonly body?: unknown },
): Promise<Response> =>
  fetch(`${api}${addressOf(endpoint, { client: of.client, params: of.params ?? {} })}`, {
    method: endpoint.method,
    headers,
    body: JSON.stringify(of.body ?? {}),
  })

/** A server process of the application, on a port of its own. */
export interface RunningServer {
  readonly api: string
  start(): Promise<void>
  kill(): Promise<void>
  /** Whether the process that was started last still lives. */
  lives(): boolean
}

export const runningServer = async (databaseUrl: string): Promise<RunningServer> => {
  const port = await freePort()
  const api = `http://127.0.0.1:${port}/api`
  let process_: ChildProcess | null = null
  const lives = (): boolean => process_ !== null && process_.exitCode === null && process_.signalCode === null
  return {
    api,
    lives,
    start: async () => {
      // Built, where the tests' command has built it: it is up in a third of the time.
      const built = process.env.CULVERT_BUILT_SERVER
      const program = built ? ['--enable-source-maps', built] : ['--import', 'tsx', 'packages/server/src/main.ts']
      process_ = spawn(process.execPath, program, {
        env: { ...process.env, APP_DATABASE_URL: databaseUrl, PORT: String(port) },
        stdio: 'ignore',
      })
      await answering(`${api}/health`)
    },
    kill: async () => {
      if (!lives()) return
      const ended = new Promise(resolve => process_?.once('exit', resolve))
      process_?.kill('SIGKILL')
      await ended
    },
  }
}

/** The marketplace of the stand-ins with one shop, whose key is `k` and `s`. */
export const openhallWith = ({
  lines,
  heads,
}: {
  readonly lines: readonly unknown[]
  readonly heads: readonly unknown[]
}) => ({
  name: 'Openhall',
  sort: 'marketplace',
  reports: 'orders, fees and payouts by settlement',
  shops: {
    'kiln-lane': {
      name: 'Kiln Lane Ceramics',
      ...{ place: 'Galway', country: 'IE', currency: 'EUR' },
      ...{ lines, settlements: heads, keys: [{ key: 'k', secret: 's' }] },
    },
  },
})

/** The simulated channels, gateways and banks, as a process of their own. */
export const runningStandIns = async (): Promise<{
  readonly url: string
  put(path: string, body: unknown): Promise<Response>
  kill(): void
}> => {
  const port = await freePort()
  const url = `http://127.0.0.1:${port}`
  const child = spawn(process.execPath, ['--import', 'tsx', 'packages/standins/src/main.ts'], {
    env: { ...process.env, STANDINS_PORT: String(port), STANDINS_STORE: mkdtempSync(join(tmpdir(), 'standins-')) },
    stdio: 'ignore',
  })
  await answering(`${url}/health`)
  return {
    url,
    put: (path, body) => fetch(`${url}${path}`, { method: 'PUT', headers, body: JSON.stringify(body) }),
    kill: () => child.kill('SIGKILL'),
  }
}

/** A way to the database that can be shut, as if the database had been stopped, and opened again. */
export const gateTo = async (databaseUrl: string): Promise<{ url: string; shut(): void; open(): Promise<void> }> => {
  const target = new URL(databaseUrl)
  const port = await freePort()
  const sockets = new Set<Socket>()
  let gate: Server | null = null
  const open = (): Promise<void> =>
    new Promise(resolve => {
      gate = createServer(from => {
        const to = connect(Number(target.port || 5432), target.hostname)
        for (const [one, other] of [
          [from, to],
          [to, from],
        ] as const) {
          sockets.add(one)
          one.on('error', () => undefined)
          one.on('close', () => {
            sockets.delete(one)
            other.destroy()
          })
          one.pipe(other)
        }
      }).listen(port, '127.0.0.1', () => resolve())
    })
  await open()
  const url = new URL(databaseUrl)
  url.hostname = '127.0.0.1'
  url.port = String(port)
  return {
    url: url.href,
    open,
    shut: () => {
      gate?.close()
      for (const socket of sockets) socket.destroy()
    },
  }
}
