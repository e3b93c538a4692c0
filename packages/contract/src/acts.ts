import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { localDate } from './shared.ts'

// Who did what: acts, what they touched, and the chain of their seals.

/** What acts touch and notes are about. */
export const subjects = [
  'settlement',
  'line',
  'payment',
  'bank_line',
  'pairing',
  'entry',
  'account',
  'source',
  'route',
  'rule',
  'item',
  'tax_code',
  'tax_row',
  'product_class',
  'label',
  'rate',
  'contact',
  'open_item',
  'balance',
  'month',
  'tax_filing',
  'client',
  'person',
  'question',
  'consent',
  'grant',
] as const
export const subject = z.enum(subjects)
export type Subject = z.infer<typeof subject>

/** The key of a subject, of its parts: `openhall/OH-12/EUR` for a settlement, `1000/bl-7` for a bank line, `openhall/l-5` for a line or payment. */
export const subjectKey = (...parts: readonly (string | number)[]): string =>
  parts.map(part => encodeURIComponent(part)).join('/')
/** The parts of a subject's key. */
export const partsOfKey = (key: string): string[] =>
  key.split('/').map(part => {
    try {
      return decodeURIComponent(part)
    } catch {
      return part
    }
  })

const facts = z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.null()]))
export const actObjectRow = z.object({
  /** Any word: of a former version too. */
  subject: z.string(),
  key: z.string(),
  before: facts.nullable(),
  after: facts.nullable(),
})
export type ActObjectRow = z.infer<typeof actObjectRow>

export const actRow = z.object({
  actId: z.string(),
  sort: z.string(),
  at: z.string(),
  /** Who did it; what nobody signed in for is the client's own people, by a link. */
  by: z.object({ id: z.number(), name: z.string() }),
  note: z.string(),
  /** How many objects it touched, and the first of them. */
  count: z.number(),
  objects: z.array(actObjectRow),
  /** Its place in the chain; null of what was done before acts were sealed. */
  seq: z.number().nullable(),
})
export type ActRow = z.infer<typeof actRow>
export const actList = z.object({
  acts: z.array(actRow),
  count: z.number(),
  /** Who has done anything. */
  people: z.array(z.object({ id: z.number(), name: z.string() })),
  sorts: z.array(z.string()),
})
export type ActList = z.infer<typeof actList>

/** What is wrong with the chain at one place. */
export const sealFault = z.object({
  seq: z.number(),
  actId: z.string().nullable(),
  what: z.enum(['changed', 'missing', 'unsealed', 'unknown_key', 'cut_off']),
})
export type SealFault = z.infer<typeof sealFault>
export const sealCheck = z.object({
  /** Acts whose seal was worked out anew. */
  acts: z.number(),
  /** The last seal, to be written down elsewhere: nobody can leave acts off the end then. */
  last: z.object({ seq: z.number(), seal: z.string() }).nullable(),
  faults: z.array(sealFault),
})
export type SealCheck = z.infer<typeof sealCheck>

export const actsQuery = z.object({
  subject: subject.optional(),
  key: z.string().max(500).optional(),
  by: z.coerce.number().int().min(0).optional(),
  sort: z
    .string()
    .regex(/^[a-z_]{1,40}$/)
    .optional(),
  from: localDate.optional(),
  to: localDate.optional(),
  offset: z.coerce.number().int().min(0).default(0),
  limit: z.coerce.number().int().min(1).max(1000).default(100),
})

export const practiceActRow = z.object({
  seq: z.number(),
  sort: z.string(),
  at: z.string(),
  by: z.string(),
  note: z.string(),
  subject: z.string().nullable(),
  before: facts.nullable(),
  after: facts.nullable(),
})
export type PracticeActRow = z.infer<typeof practiceActRow>

export const actEndpoints = {
  acts: endpoint({
    method: 'GET',
    path: '/acts',
    right: 'read',
    does: 'Who did what, the latest first: all of it, or what touched one thing.',
    query: actsQuery,
    answer: actList,
  }),
  act: endpoint({
    method: 'GET',
    path: '/acts/:act',
    right: 'read',
    does: 'One act with all that it touched.',
    answer: actRow,
  }),
  checkSeals: endpoint({
    method: 'GET',
    path: '/act-seals',
    right: 'read',
    does: 'Works out every seal anew, and says where the chain is broken.',
    answer: sealCheck,
  }),
  practiceActs: endpoint({
    method: 'GET',
    of: 'practice',
    path: '/acts',
    right: 'people',
    does: 'Who signed in, was invited, changed or let go.',
    query: z.object({
      offset: z.coerce.number().int().min(0).default(0),
      limit: z.coerce.number().int().min(1).max(1000).default(200),
    }),
    answer: z.object({ acts: z.array(practiceActRow), count: z.number(), check: sealCheck }),
  }),
}
