import { addressOf, type Endpoint, type ParamsOf, type Problem, problem, type Asked as Query } from '@culvert/contract'
import type { z } from 'zod'

/** A request that the server refused, with its faults where it named any. */
export class RequestRefused extends Error {
  override readonly name = 'RequestRefused'
  readonly status: number
  readonly problem: Problem

  constructor(status: number, refusal: Problem) {
    super(refusal.error)
    this.status = status
    this.problem = refusal
  }
}

export interface Asked<Path extends string, Body extends z.ZodType> {
  /** Of an endpoint within a client. */
  readonly client?: number
  readonly params?: ParamsOf<Path>
  /** Empty values are left out. */
  readonly query?: Query
  readonly body?: z.input<Body>
  readonly file?: File
  /** What is told beside the body, and stands in no address. */
  readonly headers?: Readonly<Record<string, string>>
}

const listeners = new Set<() => void>()

/** Hears of it when something is refused since nobody is signed in any more; gives back what ends that. */
export const onSignedOut = (hear: () => void): (() => void) => {
  listeners.add(hear)
  return () => {
    listeners.delete(hear)
  }
}

/** Calls an endpoint and reads its answer by its schema. @throws RequestRefused */
export const call = async <
  Path extends string,
  QueryOf extends z.ZodType,
  Body extends z.ZodType,
  Answer extends z.ZodType,
>(
  endpoint: Endpoint<Path, QueryOf, Body, Answer>,
  asked: Asked<Path, Body> = {},
): Promise<z.output<Answer>> => {
  const { method, answer } = endpoint
  const sent = method === 'GET' ? null : (asked.file ?? JSON.stringify(asked.body ?? {}))
  const response = await fetch(`/api${addressOf(endpoint, asked)}`, {
    method,
    headers: {
      'x-culvert': 'web',
      ...asked.headers,
      ...(sent === null ? {} : { 'content-type': asked.file ? 'text/csv' : 'application/json' }),
    },
    body: sent,
  }).catch(() => {
    throw new RequestRefused(0, { error: 'The server does not answer. Is it running?' })
  })
  const body: unknown = await response.json().catch(() => null)
  if (!response.ok) {
    const said = problem.safeParse(body)
    if (said.success && said.data.code === 'not_signed_in') for (const hear of listeners) hear()
    throw new RequestRefused(
      response.status,
      said.success ? said.data : { error: `The server answered ${response.status}.` },
    )
  }
  return answer.parse(body)
}
