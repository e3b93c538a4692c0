import { type Endpoint, jobIn, mayBeJob, type ParamsOf } from '@culvert/contract'
import { json, type Request, type Response, type Router } from 'express'
import type { z } from 'zod'
import type { Actor } from '../database/connect.ts'
import { actorOf, allow, refuseArchived, signedOf } from './establish.ts'
import { refuseUnstorable } from './storable.ts'
import type { Signed } from './who.ts'

const readJson = json({ limit: '8mb' })

/** A value whose lists and objects may be read-only: what a handler answers. */
export type Readonlike<Value> = Value extends readonly (infer Item)[]
  ? readonly Readonlike<Item>[]
  : Value extends object
    ? { readonly [Name in keyof Value]: Readonlike<Value[Name]> }
    : Value

interface Asked<Path extends string, Query extends z.ZodType, Body extends z.ZodType> {
  /** Who asks, of which client; only within a client. */
  readonly actor: Actor
  /** Who asks. @throws Refused where nobody is signed in, which only what is open to anyone need fear */
  readonly signed: () => Signed
  readonly userId: number
  readonly params: ParamsOf<Path>
  readonly query: z.output<Query>
  readonly body: z.output<Body>
  /** For a body that is a file. */
  readonly request: Request
  /** For what is set beside the answer. */
  readonly response: Response
}

/** Mounts an endpoint: who may not is told so before anything is read, its query and body are read by its schemas, and what `handle` gives is answered with its status. */
export const serve = <Path extends string, Query extends z.ZodType, Body extends z.ZodType, Answer extends z.ZodType>(
  router: Router,
  endpoint: Endpoint<Path, Query, Body, Answer>,
  handle: (asked: Asked<Path, Query, Body>) => Promise<Readonlike<z.input<Answer>>>,
): void => {
  const { method, path, query, body, status, right } = endpoint
  const isLong = mayBeJob(endpoint)
  const name = method === 'GET' ? 'get' : method === 'PUT' ? 'put' : 'post'
  const reading = body === 'file' ? [refuseUnstorable] : [readJson, refuseUnstorable]
  router[name](
    path as string,
    allow(right),
    refuseArchived(endpoint),
    ...reading,
    async (request: Request, response: Response) => {
      const answer = await handle({
        actor: actorOf(response),
        signed: () => signedOf(response),
        userId: (response.locals.signed as Signed | null)?.userId ?? 0,
        params: request.params as ParamsOf<Path>,
        query: query.parse(request.query),
        body: body === 'file' ? (undefined as z.output<Body>) : body.parse(request.body ?? {}),
        request,
        response,
      })
      // What goes on as a job is not done yet.
      response.status(isLong && jobIn(answer) !== null ? 202 : status).json(answer)
    },
  )
}
