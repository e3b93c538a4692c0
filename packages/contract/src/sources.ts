import { dateBases } from '@culvert/core'
import { z } from 'zod'
import { endpoint, nothing } from './endpoint.ts'
import { importPage } from './imports.ts'
import { jobRow, orJob, pullSorts, startedJob } from './jobs.ts'
import { newAccount } from './mapping.ts'
import { personalScope } from './personalData.ts'
import { currency, localDate, timeOfDay } from './shared.ts'

/** What sort of service a source is, as people call it. */
export const serviceSorts = [
  'web_shop',
  'marketplace',
  'till',
  'card_processor',
  'wallet',
  'pay_later',
  'cash',
  'gift_cards',
] as const
export const serviceSort = z.enum(serviceSorts)
export type ServiceSort = z.infer<typeof serviceSort>
/** What can be connected besides: it is no source. */
export const connectableSorts = [...serviceSorts, 'bank', 'ledger'] as const
export const connectableSort = z.enum(connectableSorts)
export type ConnectableSort = z.infer<typeof connectableSort>

export const pullRow = jobRow.extend({
  sort: z.enum(pullSorts),
  added: z.number(),
  revised: z.number(),
  same: z.number(),
  /** When what it brought in was taken back; null: it stands. */
  takenBackAt: z.string().nullable(),
})
export type PullRow = z.infer<typeof pullRow>
export const pullLog = z.object({ pulls: z.array(pullRow) })

export const sourceRow = z.object({
  source: z.string(),
  name: z.string(),
  service: serviceSort.nullable(),
  shape: z.enum(['combined', 'channel', 'gateway']),
  connected: z.boolean(),
  /** By which grant it is pulled; null where it is by a key, or comes as files. */
  grant: z
    .object({
      grantId: z.string(),
      service: z.string(),
      by: z.string().nullable(),
      grantedAt: z.string(),
      until: z.string().nullable(),
      ended: z.string().nullable(),
    })
    .nullable(),
  pulledTo: z.string().nullable(),
  first: localDate.nullable(),
  lines: z.number(),
  settlements: z.number(),
  clearing: z.array(z.object({ currency, account: z.string() })),
  lastPull: pullRow.nullable(),
  /** Revised lines of posted settlements that are not booked yet. */
  corrections: z.number(),
  /** First day that is booked here; null: all of it. */
  bookedFrom: localDate.nullable(),
})
export type SourceRow = z.infer<typeof sourceRow>
export const sourceList = z.object({ sources: z.array(sourceRow) })

/** What a source's lines are booked by, besides the map. */
export const sourceOptions = z.object({
  splitAtMonthEnd: z.boolean(),
  taxRounding: z.enum(['bucket', 'line']),
  detail: z.array(z.enum(['category', 'sku', 'location'])),
  taxTolerance: z.number().int().nullable(),
  payoutsLeaveBalance: z.enum(['sent', 'arrived']),
  reservesStayOnBalance: z.boolean(),
  /** Account that stock bought through a till is owed on. */
  stockPayable: z.string().nullable(),
  /** Book what is pending as if it were available. */
  bookPending: z.boolean(),
  /** Postage and the like are taxed as the goods of their order are. */
  ancillaryFollows: z.boolean(),
  /** A refund that names an order and no product is taxed as the order's goods are. */
  refundFollows: z.boolean(),
  /** Country, or part of one, where it sells (a till): the region of its lines that tell none. */
  place: z
    .string()
    .regex(/^[A-Z]{2}(-[A-Z0-9]{1,3})?$/, 'a country, or part of one, e.g. IE or CA-ON')
    .nullable(),
  /** Which instant decides a line's day, month and rates. */
  dateBasis: z.enum(dateBases),
  /** First day that is booked here; what ended before it is booked elsewhere. */
  bookedFrom: localDate.nullable(),
  /** When its trading day ends, and its time zone; null: as the client's. */
  cutOff: timeOfDay.nullable(),
  timeZone: z.string().nullable(),
})
export type SourceOptionsBody = z.infer<typeof sourceOptions>

export const sourceOptionsPage = z.object({
  /** Of the map: what is saved is made from it. */
  version: z.number(),
  options: sourceOptions,
  /** Settlements of it that are posted: some options cannot change while there are any. */
  posted: z.number(),
  /** Accounts that stock bought through a till can be owed on. */
  payables: z.array(z.object({ code: z.string(), name: z.string() })),
})
export type SourceOptionsPage = z.infer<typeof sourceOptionsPage>
/** The version that options were saved as, and how many lines count otherwise by them. */
export const savedOptions = z.object({ version: z.number(), counted: z.number() })
export type SavedOptions = z.infer<typeof savedOptions>
export const wantedOptions = sourceOptions.extend({ taxTolerance: z.number().int().min(0).nullable() })
export const saveOptionsBody = z.object({ version: z.number().int().optional(), options: wantedOptions })

/** What another basis would make of the lines that are stored. */
export const basisEffect = z.object({
  lines: z.number(),
  /** Lines that would count on another day. */
  moved: z.number(),
  /** Lines that would wait for what has not happened, or is not told, and those that wait today and would no longer. */
  waiting: z.number(),
  released: z.number(),
  /** Posted settlements that any of these are in. */
  posted: z.number(),
})
export type BasisEffect = z.infer<typeof basisEffect>

export const newSource = z.object({
  source: z.string().regex(/^[a-z][a-z0-9_-]{0,40}$/),
  name: z.string().trim().min(1).max(100),
  shape: z.enum(['combined', 'channel', 'gateway']),
  service: serviceSort.nullable().default(null),
  clearing: z.array(z.object({ currency, account: z.string() })),
  banks: z.array(
    z.object({
      direction: z.enum(['into', 'from']),
      currency,
      region: z.string().default(''),
      account: z.string(),
    }),
  ),
  bankTexts: z.array(z.string()).default([]),
  options: sourceOptions.partial().default({}),
  address: z.url().nullable().default(null),
  credentials: z.object({ key: z.string(), secret: z.string() }).nullable().default(null),
  /** What it may tell of customers. */
  personalData: personalScope.default('all'),
  /** Accounts that are made with it, such as the clearing account. */
  make: z.array(newAccount).max(20).default([]),
})
export type NewSource = z.input<typeof newSource>

/** What of a source can be changed besides its options. */
export const savedSource = z.object({
  name: newSource.shape.name,
  service: z
    .enum([...serviceSorts, ''])
    .nullable()
    .transform(sort => sort || null),
  clearing: newSource.shape.clearing,
  banks: newSource.shape.banks,
  bankTexts: z.array(z.string().trim().min(3).max(120)).max(50),
  /** Number of the contact under which it stands as one, where documents name somebody; null: not said. */
  contact: z
    .string()
    .max(100)
    .transform(code => code || null)
    .nullable()
    .default(null),
})
export type SavedSource = z.input<typeof savedSource>
export const sourceSettings = z.object({
  /** Of the setup: what is saved is made from it. */
  version: z.number(),
  source: savedSource,
  /** Currencies in which something of it is posted: their clearing account stays. */
  posted: z.array(currency),
  /** Lines that it brought; one that has brought none, or of which nothing was posted, can be removed. */
  lines: z.number(),
  entries: z.number(),
})
export type SourceSettings = z.infer<typeof sourceSettings>

export const uploadOutcome = z.object({
  sort: z.enum(['activity', 'settlements', 'balances']),
  added: z.number(),
  revised: z.number(),
  same: z.number(),
  unknownColumns: z.array(z.string()),
  /** As which pull its lines are stored; null where it brought none. Files of before do not say. */
  pullNo: z.number().nullable().optional(),
  /** Rows that were set aside. */
  aside: z.number().optional(),
})
export type UploadOutcome = z.infer<typeof uploadOutcome>

/** A row of a file that could not be read, and was set aside as it came in. */
export const asideRow = z.object({
  jobId: z.string(),
  file: z.string(),
  row: z.number(),
  day: localDate.nullable(),
  /** nothing: a total or a heading; unread: a movement that is still to be brought in. */
  why: z.enum(['nothing', 'unread']),
  fields: z.record(z.string(), z.string()),
})
export type AsideRow = z.infer<typeof asideRow>

/** `encoding` and `sheet`: said of a file that does not say it itself; `aside`: rows that cannot be read and are left out, as `17:nothing,23:unread`. */
const fileQuery = z.object({
  name: z.string().max(300).default('file'),
  encoding: z.string().max(40).optional(),
  sheet: z.string().max(200).optional(),
  aside: z
    .string()
    .regex(/^\d{1,9}:(nothing|unread)(,\d{1,9}:(nothing|unread)){0,99}$/)
    .optional(),
})
export const sourceEndpoints = {
  sources: endpoint({
    method: 'GET',
    path: '/sources',
    right: 'read',
    does: 'All sources, with how far they are known.',
    answer: sourceList,
  }),
  addSource: endpoint({
    method: 'POST',
    path: '/sources',
    right: 'connect',
    does: 'Adds a source.',
    body: newSource,
    answer: nothing,
    status: 201,
  }),
  sourceSettings: endpoint({
    method: 'GET',
    path: '/sources/:source/settings',
    right: 'read',
    does: 'What a source is: its name, its clearing accounts, and the banks that it pays into.',
    answer: sourceSettings,
  }),
  saveSource: endpoint({
    method: 'PUT',
    path: '/sources/:source/settings',
    right: 'connect',
    does: 'Changes what a source is. What is posted stays as it was posted.',
    body: z.object({ version: z.number().int(), source: savedSource }),
    answer: z.object({ version: z.number() }),
  }),
  removeSource: endpoint({
    method: 'POST',
    path: '/sources/:source/remove',
    right: 'connect',
    does: 'Removes a source that was added by mistake with all that it brought; one of which anything was posted stays.',
    answer: nothing,
  }),
  options: endpoint({
    method: 'GET',
    path: '/sources/:source/options',
    right: 'read',
    does: 'By what a source is booked besides the map.',
    answer: sourceOptionsPage,
  }),
  basisEffect: endpoint({
    method: 'GET',
    path: '/sources/:source/options/basis',
    right: 'read',
    does: 'What counting by another moment, in another time zone or by another cut-off would make of the stored lines.',
    query: z.object({ basis: z.enum(dateBases), cutOff: timeOfDay.optional(), timeZone: z.string().optional() }),
    answer: basisEffect,
  }),
  saveOptions: endpoint({
    method: 'PUT',
    path: '/sources/:source/options',
    right: 'map',
    does: 'Saves a source’s options as a version of the map. Many lines that count by another moment from now on are counted anew by a job.',
    body: saveOptionsBody,
    answer: orJob(savedOptions),
  }),
  pulls: endpoint({
    method: 'GET',
    path: '/pulls',
    right: 'read',
    does: 'The log of pulls and files, of one source or of all.',
    query: z.object({ source: z.string().optional() }),
    answer: pullLog,
  }),
  pull: endpoint({
    method: 'POST',
    path: '/sources/:source/pull',
    right: 'bring',
    does: 'Pulls what is new; joins a pull that is under way.',
    answer: startedJob,
    status: 202,
  }),
  upload: endpoint({
    method: 'POST',
    path: '/sources/:source/files',
    right: 'bring',
    does: 'Brings in a file of activity, settlements or balances.',
    query: fileQuery,
    body: 'file',
    answer: orJob(uploadOutcome),
  }),
  rowsAside: endpoint({
    method: 'GET',
    path: '/sources/:source/aside',
    right: 'read',
    does: 'Rows of a source’s files that could not be read and were set aside.',
    answer: z.object({ rows: z.array(asideRow) }),
  }),
  sayOfRowAside: endpoint({
    method: 'PUT',
    path: '/sources/:source/aside',
    right: 'bring',
    does: 'Says of a row that was set aside that it moves nothing, or that it is a movement after all.',
    body: z.object({ jobId: z.string(), row: z.number().int(), why: z.enum(['nothing', 'unread']) }),
    answer: nothing,
  }),
  importedFile: endpoint({
    method: 'GET',
    path: '/sources/:source/imports/:job',
    right: 'read',
    does: 'What a file brought in to a source, and what rests on it.',
    answer: importPage,
  }),
  takeImportBack: endpoint({
    method: 'POST',
    path: '/sources/:source/imports/:job/take-back',
    right: 'bring',
    does: 'Takes back what a file brought in to a source, while nothing rests on it.',
    answer: importPage,
  }),
}
