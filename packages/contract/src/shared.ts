import { isDate, isKind, type Kind } from '@culvert/core'
import { z } from 'zod'

/** Minor units of the currency that goes with it. */
export const minor = z.number().int().min(-9_000_000_000_000_000).max(9_000_000_000_000_000)
export const localDate = z.string().refine(isDate, 'a date that exists, as 2026-03-05')
export const month = z.string().regex(/^(?!0000)\d{4}-(0[1-9]|1[0-2])$/, 'a month, as 2026-03')
export const timeOfDay = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'a time of day, as 04:30')
export const currency = z.string().length(3)
export const kind = z.custom<Kind>(value => typeof value === 'string' && isKind(value), 'a kind of movement')

export const settlementKey = z.object({ source: z.string().min(1), key: z.string().min(1), currency })
export type SettlementKeyBody = z.infer<typeof settlementKey>

/** How many things an act has changed. */
export const changedCount = z.object({ changed: z.number() })

/** What an answer says when something was refused. */
export const problem = z.object({
  error: z.string(),
  faults: z
    .array(
      z.object({
        row: z.number(),
        column: z.string().nullable(),
        value: z.string(),
        expected: z.string(),
        /** Which fault it is. */
        code: z.string().optional(),
        /** Of which currency the row is, where the fault is of an account. */
        currency: z.string().optional(),
      }),
    )
    .optional(),
  count: z.number().optional(),
  /** Which refusal it is, where it has a name, and what it is made of. */
  code: z.string().optional(),
  figures: z.record(z.string(), z.unknown()).optional(),
  /** What is asked about before it is done. */
  ask: z.string().optional(),
  /** Somebody else saved meanwhile; nothing was changed. */
  conflict: z.boolean().optional(),
})
export type Problem = z.infer<typeof problem>

/** How a list is asked for: from a row on, so many, sorted by a column (`-` before its name: downwards), and only rows that hold a text as they read. */
export const listPart = z.object({
  offset: z.coerce.number().int().min(0).default(0),
  limit: z.coerce.number().int().min(1).max(1000).default(200),
  sort: z
    .string()
    .regex(/^-?[a-zA-Z]{1,30}$/)
    .optional(),
  filter: z.string().max(200).optional(),
})
export type ListPart = z.infer<typeof listPart>
