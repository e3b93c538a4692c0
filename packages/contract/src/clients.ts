import { z } from 'zod'
import { endpoint, nothing, rights } from './endpoint.ts'
import { role } from './people.ts'
import { currency, localDate, minor, timeOfDay } from './shared.ts'

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
  /** Since when it is only read; null: its books are kept. */
  archivedAt: z.string().nullable(),
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

/** What a client is, as whoever takes it on says it. */
const namedFacts = {
  name: z.string().trim().min(1, 'what the client is called').max(200),
  /** ISO 3166-1 alpha-2; null: not said. */
  country: z
    .string()
    .regex(/^([A-Z]{2})?$/, 'a country')
    .nullable()
    .transform(country => country || null),
  /** How numbers and dates are written, as BCP 47 names it. */
  locale: z.string().regex(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/, 'a language, as en-IE'),
  timeZone: z.string().min(1, 'a time zone'),
  /** Local time at which a business day ends. */
  cutOff: timeOfDay,
  /** Month, 1 to 12, in which the fiscal year begins. */
  fiscalStart: z.coerce.number().int().min(1).max(12),
  /** Number of the first entry of each fiscal year. */
  firstNumber: z.coerce.number().int().min(1, 'a number from 1 on').max(10_000_000),
}

export const newClient = z.object({
  name: namedFacts.name,
  base: currency,
  timeZone: namedFacts.timeZone,
  country: namedFacts.country.default(null),
  cutOff: namedFacts.cutOff.default('00:00'),
  locale: namedFacts.locale.default('en-IE'),
  fiscalStart: namedFacts.fiscalStart.default(1),
  firstNumber: namedFacts.firstNumber.default(1),
  exchangeRounding: z.string().nullable().default(null),
  /** Account for what foreign balances gain or lose when they are paid out. */
  exchangeDifference: z.string().nullable().default(null),
})
export type NewClient = z.input<typeof newClient>

/** What is asked where a client is taken on. */
export const clientForm = z.object({
  ...namedFacts,
  base: currency.regex(/^[A-Z]{3}$/, 'a currency, as EUR'),
})

/** What of a client can be changed; `version` of the setup that it was made from. */
export const savedClient = z.object({
  ...namedFacts,
  exchangeRounding: z.string().nullable(),
  exchangeDifference: z.string().nullable(),
})
export const saveClientBody = z.object({ version: z.number().int(), client: savedClient })

export const clientSettings = z.object({
  /** Of the setup: what is saved is made from it. */
  version: z.number(),
  client: savedClient,
  base: currency,
  archivedAt: z.string().nullable(),
  /** What rests on it, and so is touched by a change or stands in its way. */
  entries: z.number(),
  lines: z.number(),
  sources: z.number(),
  /** Accounts that what exchange leaves can go to. */
  accounts: z.array(z.object({ code: z.string(), name: z.string() })),
})
export type ClientSettings = z.infer<typeof clientSettings>

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
  clientSettings: endpoint({
    method: 'GET',
    path: '/settings',
    right: 'read',
    does: 'What the client is, and what rests on it.',
    answer: clientSettings,
  }),
  saveClient: endpoint({
    method: 'PUT',
    path: '/settings',
    right: 'take_on',
    does: 'Changes what the client is. What is posted stays as it was posted.',
    body: saveClientBody,
    answer: z.object({ version: z.number() }),
  }),
  pullAll: endpoint({
    method: 'POST',
    of: 'practice',
    path: '/pull-all',
    right: 'bring',
    does: 'Pulls what is new at every connected source and bank account of every client that the person may bring in for.',
    answer: z.object({
      clients: z.number(),
      pulls: z.number(),
      /** What could not be pulled, and why. */
      refused: z.array(z.object({ client: z.string(), what: z.string(), why: z.string() })),
    }),
    status: 202,
  }),
  archiveClient: endpoint({
    method: 'POST',
    path: '/archive',
    right: 'take_on',
    does: 'Archives a client, whose books are only read from then on, or takes it up again.',
    body: z.object({ archived: z.boolean() }),
    answer: nothing,
    whenArchived: true,
  }),
  removeClient: endpoint({
    method: 'POST',
    path: '/remove',
    right: 'take_on',
    does: 'Removes a client that was taken on by mistake, with all that it has; one with entries stays.',
    body: z.object({ name: z.string() }),
    answer: nothing,
    whenArchived: true,
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
