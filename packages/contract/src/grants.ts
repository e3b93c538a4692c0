import { z } from 'zod'
import { endpoint, nothing } from './endpoint.ts'
import { personalScope } from './personalData.ts'
import { localDate } from './shared.ts'
import { connectableSort, newSource } from './sources.ts'

// What outside services let a client's books be told, by consent of whoever signs in there.

/** What is asked for, each a scope of its own; `buyers`: their name and country. */
export const grantScopes = ['activity', 'settlements', 'balances', 'buyers', 'statements', 'lists'] as const
export type GrantScope = (typeof grantScopes)[number]
const scope = z.enum(grantScopes)

/** A service that can be connected. */
export const serviceRow = z.object({
  key: z.string(),
  name: z.string(),
  sort: connectableSort,
  /** What it reports, in a few words. */
  reports: z.string(),
})
export type ServiceRow = z.infer<typeof serviceRow>

/** What a login holds: a source is one of them. */
export const shopRow = z.object({
  id: z.string(),
  name: z.string(),
  place: z.string(),
  country: z.string(),
  currency: z.string(),
  orders: z.number(),
  firstDay: localDate.nullable(),
  lastDay: localDate.nullable(),
  /** Whom it serves already, of what this person may see; `own`: this client. */
  serves: z.object({ client: z.string().nullable(), own: z.boolean(), source: z.string().nullable() }).nullable(),
  /** What speaks for it or against. */
  fit: z.array(z.enum(['name', 'country', 'currency', 'other_country', 'other_currency', 'quiet'])),
})
export type ShopRow = z.infer<typeof shopRow>

/** How a grant ended: refused, withdrawn there, run out, ended here, or another took its place. */
export const grantEnds = ['refused', 'withdrawn', 'over', 'disconnected', 'replaced', 'not_given'] as const
export type GrantEnd = (typeof grantEnds)[number]

export const grantRow = z.object({
  grantId: z.string(),
  service: z.string(),
  name: z.string(),
  sort: connectableSort,
  askedBy: z.string(),
  askedAt: z.string(),
  /** Asked of the client's own people by a link; until when that is good, and where it was sent. */
  byOwner: z.boolean(),
  askedUntil: z.string(),
  /** Whether that is over. */
  askedOver: z.boolean(),
  sentTo: z.string().nullable(),
  /** Who signed in there; null while nobody has. */
  login: z.string().nullable(),
  grantedAt: z.string().nullable(),
  scopes: z.array(scope),
  /** What was asked for and not given. */
  lacking: z.array(scope),
  until: z.string().nullable(),
  /** Whether it runs out within 30 days. */
  endsSoon: z.boolean(),
  ended: z.enum(grantEnds).nullable(),
  endedAt: z.string().nullable(),
  /** Whether it ended within the last 7 days. */
  endedLately: z.boolean(),
  /** The source that it is to connect again, where it was asked for one. */
  forSource: z.string().nullable(),
  /** Sources that are pulled by it. */
  sources: z.array(z.string()),
  /** Bank accounts that are pulled by it, and the company of a ledger that it opens. */
  accounts: z.array(z.string()),
  company: z.string().nullable(),
})
export type GrantRow = z.infer<typeof grantRow>

export const askGrantBody = z.object({
  service: z.string().max(60),
  /** Whether names of buyers are asked for. */
  personalData: personalScope.default('name'),
  /** A source that is connected again. */
  forSource: z.string().max(60).nullable().default(null),
})
export type AskGrantBody = z.input<typeof askGrantBody>
export const askOwnerBody = askGrantBody.extend({
  email: z
    .union([z.literal('').transform(() => null), z.email().max(300)])
    .nullable()
    .default(null),
  days: z.number().int().min(1).max(30).default(7),
})
export type AskOwnerBody = z.input<typeof askOwnerBody>

/** What came back from the service: a code, or why there is none. */
const answered = z.object({
  state: z.string().min(20).max(300),
  code: z.string().max(2000).nullable().default(null),
  error: z.string().max(200).nullable().default(null),
  iss: z.string().max(500).nullable().default(null),
})
export type GrantAnswer = z.input<typeof answered>

export const completedGrant = z.object({
  grantId: z.string(),
  name: z.string(),
  outcome: z.enum(['granted', 'refused']),
  /** The source that was connected again. */
  reconnected: z.string().nullable(),
})

/** What the page shows whoever is asked by a link. */
export const linkedGrant = z.object({
  practice: z.string(),
  client: z.string(),
  askedBy: z.string(),
  askedAt: z.string(),
  name: z.string(),
  scopes: z.array(scope),
  expiresAt: z.string(),
  state: z.enum(['asked', 'granted', 'refused', 'over']),
})
export type LinkedGrant = z.infer<typeof linkedGrant>

/** A source made of a shop that was granted: as any source, pulled from there. */
export const sourceOfShop = newSource.omit({ address: true, credentials: true }).extend({ shop: z.string().max(200) })
export type SourceOfShop = z.input<typeof sourceOfShop>

/** What ends with a connection, what stays, and what is open. */
export const connection = z.object({
  grant: grantRow.nullable(),
  shop: z.string().nullable(),
  lines: z.number(),
  posted: z.number(),
  /** Settlements that are neither posted nor set aside. */
  open: z.number(),
  pulledTo: z.string().nullable(),
  /** Other sources that the same grant serves: it stays for them. */
  alsoServes: z.array(z.string()),
})
export type Connection = z.infer<typeof connection>

const token = z.object({ token: z.string().min(20).max(200) })
const byLink = { of: 'practice', right: 'anyone', method: 'POST' } as const

export const grantEndpoints = {
  services: endpoint({
    method: 'GET',
    path: '/services',
    right: 'read',
    does: 'The services that can be connected by consent.',
    answer: z.object({ services: z.array(serviceRow) }),
  }),
  grants: endpoint({
    method: 'GET',
    path: '/grants',
    right: 'read',
    does: 'What services were asked to let this client’s books be told, and what they granted.',
    answer: z.object({ grants: z.array(grantRow) }),
  }),
  askGrant: endpoint({
    method: 'POST',
    path: '/grants',
    right: 'connect',
    does: 'Begins to connect a service: tells where its consent page is.',
    body: askGrantBody,
    answer: z.object({ grantId: z.string(), address: z.url() }),
    status: 201,
  }),
  askOwner: endpoint({
    method: 'POST',
    path: '/grants/ask',
    right: 'connect',
    does: 'Asks the client’s own people to connect a service, by a link.',
    body: askOwnerBody,
    answer: z.object({ grantId: z.string(), link: z.string(), mailed: z.boolean() }),
    status: 201,
  }),
  completeGrant: endpoint({
    method: 'POST',
    path: '/grants/complete',
    right: 'connect',
    does: 'Takes what came back from a service’s consent page.',
    body: answered,
    answer: completedGrant,
  }),
  shops: endpoint({
    // It asks the service, who learns that it is asked.
    method: 'POST',
    path: '/grants/:grant/shops',
    right: 'connect',
    does: 'The shops of a login that was granted, asked of the service.',
    answer: z.object({ grant: grantRow, shops: z.array(shopRow) }),
  }),
  endGrant: endpoint({
    method: 'POST',
    path: '/grants/:grant/end',
    right: 'connect',
    does: 'Ends a grant that serves no source, or an asking.',
    answer: z.object({ told: z.boolean() }),
  }),
  connectShop: endpoint({
    method: 'POST',
    path: '/grants/:grant/sources',
    right: 'connect',
    does: 'Makes a source of a shop that was granted, and pulls it.',
    body: sourceOfShop,
    answer: z.object({
      /** Its first pull, a job. */
      pull: z.string(),
    }),
    status: 201,
  }),
  connectBank: endpoint({
    method: 'POST',
    path: '/grants/:grant/bank',
    right: 'connect',
    does: 'Connects an account of the chart to one of a bank’s that was granted.',
    body: z.object({ shop: z.string().max(200), account: z.string().max(20) }),
    answer: nothing,
  }),
  disconnectBank: endpoint({
    method: 'POST',
    path: '/bank/:account/disconnect',
    right: 'connect',
    does: 'Ends the connection of a bank account; its lines stay, and more come as statements.',
    answer: z.object({ told: z.boolean() }),
  }),
  ledger: endpoint({
    method: 'GET',
    path: '/ledger',
    right: 'read',
    does: 'The outside ledger that lists can be brought over from; null: none.',
    answer: z.object({
      link: z
        .object({
          grantId: z.string(),
          name: z.string(),
          company: z.string(),
          login: z.string().nullable(),
          /** It was withdrawn there, or ran out. */
          ended: z.boolean(),
        })
        .nullable(),
    }),
  }),
  connectLedger: endpoint({
    method: 'POST',
    path: '/grants/:grant/ledger',
    right: 'connect',
    does: 'Links the books to a company of an outside ledger that was granted, in place of an earlier one.',
    body: z.object({ shop: z.string().max(200) }),
    answer: nothing,
  }),
  disconnectLedger: endpoint({
    method: 'POST',
    path: '/ledger/disconnect',
    right: 'connect',
    does: 'Ends the link to the outside ledger; what was brought over stays.',
    answer: z.object({ told: z.boolean() }),
  }),
  ledgerList: endpoint({
    // It asks the ledger, who learns that it is asked.
    method: 'POST',
    path: '/ledger/lists/:list',
    right: 'map',
    does: 'A list of the outside ledger, as CSV that can be read like a file of it: chart, tax-codes, contacts, items, opening, invoices or bills. Stores nothing.',
    answer: z.object({ csv: z.string() }),
  }),
  attachShop: endpoint({
    method: 'POST',
    path: '/grants/:grant/attach',
    right: 'connect',
    does: 'Connects a source that came as files to a shop that was granted; it is pulled from then on when asked.',
    body: z.object({ source: z.string().max(60), shop: z.string().max(200) }),
    answer: nothing,
  }),
  connection: endpoint({
    method: 'GET',
    path: '/sources/:source/connection',
    right: 'read',
    does: 'By what a source is connected, and what would end with it.',
    answer: connection,
  }),
  disconnect: endpoint({
    method: 'POST',
    path: '/sources/:source/disconnect',
    right: 'connect',
    does: 'Ends a source’s connection; what it brought stays, and more comes as files.',
    answer: z.object({
      /** Whether the service was told; where it did not answer, its grant is forgotten here all the same. */
      told: z.boolean(),
    }),
  }),
  lookAtGrant: endpoint({
    ...byLink,
    path: '/granting/look',
    does: 'What is asked of whoever has the link; it changes nothing.',
    body: token,
    answer: linkedGrant,
  }),
  beginGranting: endpoint({
    ...byLink,
    path: '/granting/begin',
    does: 'Binds the link to this browser, and tells where the service’s consent page is.',
    body: token,
    answer: z.object({ address: z.url() }),
  }),
  completeByLink: endpoint({
    ...byLink,
    path: '/granting/complete',
    does: 'Takes what came back from a service’s consent page, of whoever came by a link.',
    body: answered,
    answer: completedGrant.extend({ practice: z.string(), client: z.string() }),
  }),
  hook: endpoint({
    ...byLink,
    path: '/hooks/:service',
    does: 'Is told by a service, signed as Standard Webhooks have it, that there is something new.',
    body: 'file',
    answer: nothing,
    status: 202,
  }),
}
