import { type Problem, problem } from '@culvert/contract'
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

interface Wanted {
  readonly method?: 'GET' | 'POST' | 'PUT'
  readonly json?: unknown
  readonly file?: File
}

/** Asks the API and parses the answer by its schema. @throws RequestRefused */
export const request = async <Schema extends z.ZodType>(
  path: string,
  schema: Schema,
  wanted: Wanted = {},
): Promise<z.output<Schema>> => {
  const response = await fetch(`/api${path}`, {
    method: wanted.method ?? (wanted.json === undefined && !wanted.file ? 'GET' : 'POST'),
    headers: {
      'x-culvert': 'web',
      ...(wanted.json === undefined ? {} : { 'content-type': 'application/json' }),
      ...(wanted.file ? { 'content-type': 'text/csv' } : {}),
    },
    body: wanted.file ?? (wanted.json === undefined ? null : JSON.stringify(wanted.json)),
  }).catch(() => {
    throw new RequestRefused(0, { error: 'The server does not answer. Is it running?' })
  })
  const body: unknown = await response.json().catch(() => null)
  if (!response.ok) {
    const said = problem.safeParse(body)
    throw new RequestRefused(
      response.status,
      said.success ? said.data : { error: `The server answered ${response.status}.` },
    )
  }
  return schema.parse(body)
}

/** A query string of what is set. */
export const queryText = (values: Record<string, string | number | null | undefined>): string => {
  const set = Object.entries(values).filter(([, value]) => value !== null && value !== undefined && value !== '')
  return set.length === 0 ? '' : `?${new URLSearchParams(set.map(([name, value]) => [name, String(value)]))}`
}
