import { z } from 'zod'
import { endpoint, rights } from './endpoint.ts'
import { role } from './people.ts'
import { currency, localDate, minor } from './shared.ts'

export const stageNames = [
  'sources',
  'mapping',
  'settlements',
  'payments',
  'clearing',
  'bank',
  'books',
  'close',
] as const
export const stageName = z.enum(stageNames)
export type StageName = z.infer<typeof stageName>

/** What waits at a stage. `amount` in the client's base currency, minor units. */
export const stageSummary = z.object({ stage: stageName, waiting: z.number().int(), amount: minor, note: z.string() })
export type StageSummary = z.infer<typeof stageSummary>

export const clientFacts = z.object({
  clientId: z.number().int(),
  name: z.string(),
  base: currency,
  timeZone: z.string(),
  locale: z.string(),
  /** What the person is of it, and what that lets them do. */
  role,
  rights: z.array(z.enum(rights)),
})
export type ClientFacts = z.infer<typeof clientFacts>

export const session = z.object({
  user: z.object({ name: z.string(), email: z.string() }),
  /** The firm, what the person is of it, and what that lets them do beside all clients. */
  practice: z.object({ name: z.string(), role, rights: z.array(z.enum(rights)) }),
  clients: z.array(clientFacts.extend({ stages: z.array(stageSummary) })),
})
export type Session = z.infer<typeof session>

export const course = z.object({
  client: clientFacts,
  stages: z.array(stageSummary),
  /** Last local date of any activity or bank line: what "lately" is counted from. Null without data. */
  latest: localDate.nullable(),
  /** The first one; null without data. */
  earliest: localDate.nullable(),
  pulledTo: z.string().nullable(),
  /** How much waits for whoever asks: questions put to them, answers to theirs, consents. */
  asked: z.number(),
})
export type Course = z.infer<typeof course>

/** What the page of all clients says of one, besides its course. */
export const overview = z.object({
  /** When activity or a statement came in last. */
  lastCame: z.string().nullable(),
  running: z.number(),
  /** The last month that is locked with all before it. */
  closedTo: z.string().nullable(),
  /** What came in the last 24 hours. */
  since: z.object({
    at: z.string(),
    lines: z.number(),
    sources: z.number(),
    statements: z.number(),
    /** Lines that came back changed. */
    revised: z.number(),
  }),
  /** The heaviest of what waits at a stage, where one can be named. */
  heaviest: z.array(
    z.object({
      stage: stageName,
      title: z.string(),
      /** What blocks it, or what it was refused for. */
      reason: z.string().nullable(),
      since: localDate.nullable(),
      link: z.string(),
    }),
  ),
})
export type Overview = z.infer<typeof overview>

export const newClient = z.object({
  name: z.string().trim().min(1).max(200),
  base: currency,
  timeZone: z.string(),
  cutOff: z.string().default('00:00'),
  locale: z.string().default('en-IE'),
  exchangeRounding: z.string().nullable().default(null),
  /** Account for what foreign balances gain or lose when they are paid out. */
  exchangeDifference: z.string().nullable().default(null),
})
export type NewClient = z.input<typeof newClient>

export const foundItem = z.object({
  sort: z.enum(['settlement', 'order', 'line', 'entry', 'bank_line', 'transfer', 'account', 'customer', 'page']),
  title: z.string(),
  detail: z.string(),
  amount: minor.nullable(),
  currency: currency.nullable(),
  link: z.string(),
})
export type FoundItem = z.infer<typeof foundItem>
export const findResult = z.object({ items: z.array(foundItem) })

/** An OpenAPI document, as far as a page shows it. */
export const apiDescription = z.looseObject({
  openapi: z.string(),
  paths: z.record(
    z.string(),
    z.record(
      z.string(),
      z.looseObject({
        operationId: z.string(),
        tags: z.array(z.string()),
        summary: z.string(),
        'x-right': z.string(),
        parameters: z.array(z.unknown()),
        requestBody: z.unknown().optional(),
        responses: z.record(z.string(), z.unknown()),
      }),
    ),
  ),
})
export type ApiDescription = z.infer<typeof apiDescription>

export const clientEndpoints = {
  session: endpoint({
    method: 'GET',
    of: 'practice',
    path: '/session',
    right: 'enter',
    does: 'Who is signed in, and what waits at each of their clients.',
    answer: session,
  }),
  description: endpoint({
    method: 'GET',
    of: 'practice',
    path: '/openapi.json',
    right: 'enter',
    does: 'The description of all that can be asked, OpenAPI 3.1.',
    answer: apiDescription,
  }),
  addClient: endpoint({
    method: 'POST',
    of: 'practice',
    path: '/clients',
    right: 'take_on',
    does: 'Takes a client on.',
    body: newClient,
    answer: z.object({ clientId: z.number() }),
    status: 201,
  }),
  course: endpoint({
    method: 'GET',
    path: '/course',
    right: 'read',
    does: 'What waits at each stage.',
    answer: course,
  }),
  overview: endpoint({
    method: 'GET',
    path: '/overview',
    right: 'read',
    does: 'What came in lately, what is closed, and the heaviest of what waits.',
    answer: overview,
  }),
  find: endpoint({
    method: 'GET',
    path: '/find',
    right: 'read',
    does: 'Finds settlements, orders, entries and the like by amount, number, name.',
    query: z.object({ q: z.string().max(200) }),
    answer: findResult,
  }),
}
