import { setTimeout as pause } from 'node:timers/promises'
import type { Response } from 'undici'
import { z } from 'zod'
import { AddressNotAsked, guardedFetch } from '../access/guardedFetch.ts'

/** What went wrong on the way to an outside service, for the pull log. */
export class ServiceUnreachable extends Error {
  override readonly name = 'ServiceUnreachable'
  /** Whether it may be otherwise in a moment. */
  readonly passing: boolean

  constructor(message: string, { passing = false }: { readonly passing?: boolean } = {}) {
    super(message)
    this.passing = passing
  }
}

/** What an outside service may ask of us: bytes of an answer, a wait before the next try, tries, and time for one answer. */
const mostBytes = 32_000_000
const longestWaitMs = 60_000
const attempts = 5
const answerWithinMs = 30_000

const tokenSchema = z.object({ token: z.string().min(1).max(10_000), expires_in: z.number() })

export const credentialsSchema = z.object({ key: z.string(), secret: z.string() })
export type Credentials = z.infer<typeof credentialsSchema>

/** Gives a token to ask with, another one than `spent`, which was refused. @throws ServiceUnreachable */
export type TokenSource = (spent: string | null) => Promise<string>

interface Service {
  /** As people know it. */
  readonly name: string
  readonly address: string
  /** A key that the service gave, with which it is asked for tokens; or what it granted. */
  readonly access: Credentials | TokenSource
  /** Ends every wait and answer under way. */
  readonly signal: AbortSignal
}

/**
 * Asks an outside service over HTTP with a token that is renewed when it has run out: waits when told to, tries faults again, follows no redirect,
 * and takes no more bytes, time or tries than is sensible. @throws ServiceUnreachable; what `signal` says, where that ends it
 */
export const outsideService = ({ name, address, access, signal }: Service) => {
  let token: string | null = null

  const send = async (path: string, init: Parameters<typeof guardedFetch>[1]): Promise<Response> => {
    // A redirect could lead anywhere, to an address inside this network among others: none is followed.
    const response = await guardedFetch(`${address}${path}`, {
      ...init,
      signal: AbortSignal.any([signal, AbortSignal.timeout(answerWithinMs)]),
    })
    if (response.status >= 300 && response.status < 400) {
      await response.body?.cancel()
      throw new ServiceUnreachable(`${name} answered with a redirect, which is not followed`)
    }
    return response
  }

  const byKey = (credentials: Credentials) => async (): Promise<string> => {
    const response = await send('/token', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(credentials),
    })
    if (response.status === 401 || response.status === 403) {
      await response.body?.cancel()
      throw new ServiceUnreachable(`${name} refused the access: ${response.status}`)
    }
    if (!response.ok) {
      await response.body?.cancel()
      throw new Error(`${response.status} when asked for a token`)
    }
    return tokenSchema.parse(JSON.parse(await boundedText(response, name))).token
  }

  const renew: TokenSource = typeof access === 'function' ? access : byKey(access)
  let spent: string | null = null

  const tryOnce = async (path: string): Promise<{ body: unknown } | { said: string; waitMs: number | null }> => {
    token ??= await renew(spent)
    const response = await send(path, { headers: { authorization: `Bearer ${token}` } })
    if (response.ok) return { body: JSON.parse(await boundedText(response, name)) as unknown }
    if (response.status === 401) {
      spent = token
      token = null
    }
    if (response.status === 403) {
      await response.body?.cancel()
      throw new ServiceUnreachable(`${name} does not let this be seen: ${path.split('?')[0]} was not granted`)
    }
    await response.body?.cancel()
    const wait = Number(response.headers.get('retry-after'))
    return { said: String(response.status), waitMs: Number.isFinite(wait) && wait > 0 ? wait * 1000 : null }
  }

  /** The JSON that stands at a path. */
  const get = async (path: string): Promise<unknown> => {
    for (let attempt = 1; ; attempt++) {
      const outcome = await tryOnce(path).catch((error: unknown) => {
        if (signal.aborted) throw signal.reason
        if (error instanceof ServiceUnreachable && !error.passing) throw error
        if (error instanceof AddressNotAsked)
          throw new ServiceUnreachable(`${name} is not asked at its address: ${error.message}`)
        return { said: error instanceof Error ? error.message : 'no answer', waitMs: null }
      })
      if ('body' in outcome) return outcome.body
      if (attempt === attempts)
        throw new ServiceUnreachable(`${name} did not answer ${path.split('?')[0]}: ${outcome.said}, ${attempts} times`)
      await pause(Math.min(longestWaitMs, outcome.waitMs ?? 100 * 2 ** attempt), undefined, { signal })
    }
  }
  return { get }
}

// Read as it comes: an answer without an end fills the memory of whoever waits for it whole.
const boundedText = async (response: Response, name: string): Promise<string> => {
  const decoder = new TextDecoder('utf-8', { fatal: true })
  let bytes = 0
  let text = ''
  for await (const chunk of response.body ?? []) {
    bytes += chunk.byteLength
    if (bytes > mostBytes) {
      throw new ServiceUnreachable(
        `${name} sent an answer of more than ${mostBytes / 1_000_000} MB, which is not taken in`,
      )
    }
    text += decoder.decode(chunk, { stream: true })
  }
  return text + decoder.decode()
}
