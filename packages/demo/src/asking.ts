import { setTimeout as pause } from 'node:timers/promises'
import {
  type Asked,
  addressOf,
  type Endpoint,
  endpoints,
  jobIn,
  type OutcomeOf,
  outcomeIn,
  type ParamsOf,
  untilOver,
} from '@culvert/contract'
import type { z } from 'zod'

// How the demo asks the application: as any program would, by its endpoints.

const culvert = process.env.CULVERT_URL ?? 'http://127.0.0.1:4780'
export const standins = process.env.STANDINS_URL ?? 'http://127.0.0.1:4781'

/** What the application gave when Orla signed in. */
let cookie = ''

export const ask = async (method: string, url: string, body?: unknown, type = 'application/json'): Promise<unknown> => {
  const response = await fetch(url, {
    method,
    headers: { 'content-type': type, 'x-culvert': 'demo', ...(url.startsWith(culvert) ? { cookie } : {}) },
    body: body === undefined ? null : typeof body === 'string' ? body : JSON.stringify(body),
  })
  const set = response.headers.getSetCookie().map(one => one.split(';')[0] ?? '')
  if (url.startsWith(culvert) && set.length > 0) cookie = set.join('; ')
  const text = await response.text()
  if (!response.ok) throw new Error(`${method} ${url}: ${response.status} ${text.slice(0, 500)}`)
  return text === '' ? null : JSON.parse(text)
}

/** Calls an endpoint of the application; what goes in is read by its schema, as the server will. */
export const call = async <
  Path extends string,
  Query extends z.ZodType,
  Body extends z.ZodType,
  Answer extends z.ZodType,
>(
  endpoint: Endpoint<Path, Query, Body, Answer>,
  asked: {
    readonly client?: number
    readonly params?: ParamsOf<Path>
    readonly query?: Asked
    readonly body?: unknown
    /** A file of rows as CSV, in the place of a body. */
    readonly file?: string
  } = {},
): Promise<OutcomeOf<Answer>> => {
  const body = endpoint.body === 'file' ? asked.file : endpoint.body.parse(asked.body ?? {})
  const sent = endpoint.method === 'GET' ? undefined : body
  const type = asked.file === undefined ? 'application/json' : 'text/csv'
  const answer = await ask(endpoint.method, `${culvert}/api${addressOf(endpoint, asked)}`, sent, type)
  const job = jobIn(answer)
  const kept = job === null || asked.client === undefined ? answer : await outcomeOf(job, asked.client)
  const outcome = outcomeIn(endpoint, kept)
  if (outcome === null) throw new Error(`${endpoint.path} came to nothing`)
  return outcome
}

/** Waits for a job, and gives what it came to. @throws Error where it failed */
export const outcomeOf = async (job: string, client: number): Promise<unknown> => {
  const address = `${culvert}/api${addressOf(endpoints.job, { client, params: { job } })}`
  const over = await untilOver(
    async () => endpoints.job.answer.parse(await ask('GET', address)),
    () => pause(300),
  )
  if (over.state !== 'done') throw new Error(`job ${job}: ${over.state} ${over.message}`)
  return over.outcome
}

/** Signs in as one of the demo's people, as its page offers. */
export const signInAs = async (name: string): Promise<void> => {
  const person = (await call(endpoints.signInChoices)).demo.find(one => one.name === name)
  if (!person) throw new Error(`${name} is not offered: is CULVERT_DEMO set?`)
  await call(endpoints.signIn, { body: { email: person.email, password: person.password } })
}

/** The version of the map that stands: what is saved is made from it. */
export const versionOf = async (client: number): Promise<number> => (await call(endpoints.items, { client })).version
