import { type Endpoint, jobIn, mayBeJob, type ParamsOf } from '@culvert/contract'
import type { Request, Router } from 'express'
import type { z } from 'zod'
import type { Actor } from '../database/connect.ts'
import { actorOf, userOf } from './establish.ts'

/** A value whose lists and objects may be read-only: what a handler answers. */
export type Readonlike<Value> = Value extends readonly (infer Item)[]
  ? readonly Readonlike<Item>[]
  : Value extends object
    ? { readonly [Name in keyof Value]: Readonlike<Value[Name]> }
    : Value

interface Asked<Path extends string, Query extends z.ZodType, Body extends z.ZodType> {
  /** Who asks, of which client; only within a client. */
  readonly actor: Actor
  readonly userId: number
  readonly params: ParamsOf<Path>
  readonly query: z.output<Query>
  readonly body: z.output<Body>
  /** For a body that is a file. */
  readonly request: Request
}

/** Mounts an endpoint: its query and body are read by its schemas, and what `handle` gives is answered with its status. */
export const serve = <Path extends string, Query extends z.ZodType, Body extends z.ZodType, Answer extends z.ZodType>(
  router: Router,
  endpoint: Endpoint<Path, Query, Body, Answer>,
  handle: (asked: Asked<Path, Query, Body>) => Promise<Readonlike<z.input<Answer>>>,
): void => {
  const { method, path, query, body, status } = endpoint
  const isLong = mayBeJob(endpoint)
  const name = method === 'GET' ? 'get' : method === 'PUT' ? 'put' : 'post'
  router[name](path as string, async (request, response) => {
    const answer = await handle({
      actor: actorOf(response),
      userId: userOf(response),
      params: request.params as ParamsOf<Path>,
      query: query.parse(request.query),
      body: body === 'file' ? (undefined as z.output<Body>) : body.parse(request.body ?? {}),
      request,
    })
    // What goes on as a job is not done yet.
    response.status(isLong && jobIn(answer) !== null ? 202 : status).json(answer)
  })
}
