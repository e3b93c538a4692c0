import { setTimeout as pause } from 'node:timers/promises'
import type { Response } from 'undici'
import { z } from 'zod'
import { AddressNotAsked, guardedFetch } from '../access/guardedFetch.ts'

/** What went wrong on the way to an outside service, for the pull log. */
export class ServiceUnreachable extends Error {
  override readonly name = 'ServiceUnreachable'
}

/** What an outside service may ask of us: bytes of an answer, a wait before the next try, tries, and time for one answer. */
const mostBytes = 32_000_000
const longestWaitMs = 60_000
const attempts = 5
const answerWithinMs = 30_000

const tokenSchema = z.object({ token: z.string().min(1).max(10_000), expires_in: z.number() })

export const credentialsSchema = z.object({ key: z.string(), secret: z.string() })
export type Credentials = z.infer<typeof credentialsSchema>

interface Service {
  /** As people know it. */
  readonly name: string
  readonly address: string
  readonly credentials: Credentials
  /** Ends every wait and answer under way. */
  readonly signal: AbortSignal
}

/**
 * Asks an outside service over HTTP with a token that is renewed when it has run out: waits when told to, tries faults again, follows no redirect,
 * and takes no more bytes, time or tries than is sensible. @throws ServiceUnreachable; what `signal` says, where that ends it
 */
export const outsideService = ({ name, address, credentials, signal }: Service) => {
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

  const renew = async (): Promise<string> => {
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

  const tryOnce = async (path: string): Promise<{ body: unknown } | { said: string; waitMs: number | null }> => {
    token ??= await renew()
    const response = await send(path, { headers: { authorization: `Bearer ${token}` } })
    if (response.ok) return { body: JSON.parse(await boundedText(response, name)) as unknown }
    if (response.status === 401) token = null
    await response.body?.cancel()
    const wait = Number(response.headers.get('retry-after'))
    return { said: String(response.status), waitMs: Number.isFinite(wait) && wait > 0 ? wait * 1000 : null }
  }

  /** The JSON that stands at a path. */
  const get = async (path: string): Promise<unknown> => {
    for (let attempt = 1; ; attempt++) {
      const outcome = await tryOnce(path).catch((error: unknown) => {
        if (signal.aborted) throw signal.reason
        if (error instanceof ServiceUnreachable) throw error
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
