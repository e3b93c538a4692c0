import type { Endpoint } from '@culvert/contract'
import { vi } from 'vitest'
import type { z } from 'zod'

/** What an endpoint was asked: the path's parameters and the query as text, the body as it was sent. */
export interface Request {
  readonly params: Readonly<Record<string, string>>
  readonly query: Readonly<Record<string, string>>
  readonly body: unknown
}

interface Stub {
  readonly matches: (method: string, path: string) => Readonly<Record<string, string>> | null
  readonly answer: (request: Request) => Promise<Response> | Response
}

const patternOf = ({ of, path }: Endpoint): RegExp =>
  new RegExp(`^/api${of === 'client' ? '/clients/\\d+' : ''}${path.replaceAll(/:(\w+)/g, '(?<$1>[^/]+)')}$`)

const json = (status: number, body: unknown): Response =>
  new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })

/** Stands where the server would: answers what it was told to, by endpoint, and refuses all else. Answers must be of their endpoint's shape. */
export const stubServer = () => {
  const stubs: Stub[] = []
  vi.stubGlobal('fetch', async (address: string, init: RequestInit = {}) => {
    const url = new URL(address, 'http://culvert.test')
    for (const stub of [...stubs].reverse()) {
      const params = stub.matches(init.method ?? 'GET', url.pathname)
      if (params === null) continue
      const body = typeof init.body === 'string' ? JSON.parse(init.body) : null
      return stub.answer({ params, query: Object.fromEntries(url.searchParams), body })
    }
    return json(404, { error: `Nothing answers ${init.method} ${url.pathname} here.` })
  })
  const add = (endpoint: Endpoint, answer: Stub['answer']): void => {
    const pattern = patternOf(endpoint)
    stubs.push({
      matches: (method, path) => {
        const found = method === endpoint.method ? pattern.exec(path) : null
        return found && { ...found.groups }
      },
      answer,
    })
  }
  return {
    /** What an endpoint answers from now on; what it was asked since is handed back. */
    answers: <Path extends string, Query extends z.ZodType, Body extends z.ZodType, Answer extends z.ZodType>(
      endpoint: Endpoint<Path, Query, Body, Answer>,
      answer: z.input<Answer> | ((request: Request) => z.input<Answer>),
    ): Request[] => {
      const asked: Request[] = []
      add(endpoint, request => {
        asked.push(request)
        const body = typeof answer === 'function' ? (answer as (request: Request) => unknown)(request) : answer
        endpoint.answer.parse(structuredClone(body))
        return json(endpoint.status, body)
      })
      return asked
    },
    /** What an endpoint refuses from now on. */
    refuses: (endpoint: Endpoint, status: number, error: string, more: object = {}): void =>
      add(endpoint, () => json(status, { error, ...more })),
    /** From now on nobody is there. */
    isGone: (endpoint: Endpoint): void => add(endpoint, () => Promise.reject(new TypeError('no connection'))),
  }
}
