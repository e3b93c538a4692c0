import { isKind, type Kind } from '@culvert/core'
import { z } from 'zod'
import { currency, localDate, minor } from './shared.ts'

export const kind = z.custom<Kind>(value => typeof value === 'string' && isKind(value), 'a kind of movement')
const condition = z.string().min(1).nullable().default(null)

/** A route as the interface edits it; `routeId` null for a new one. */
export const routeBody = z.object({
  routeId: z.number().int().nullable(),
  kind,
  source: condition,
  category: condition,
  sku: condition,
  location: condition,
  gateway: condition,
  method: condition,
  region: condition,
  taxLabel: condition,
  from: localDate.nullable().default(null),
  account: z.string().nullable(),
  taxCode: z.string().nullable(),
  segments: z.record(z.string(), z.string()).default({}),
  block: z.boolean().default(false),
  reason: z.string().default(''),
})
export type RouteBody = z.infer<typeof routeBody>
export const saveRoutes = z.object({
  changed: z.array(routeBody).min(1).max(2000),
  removed: z.array(z.number().int()).default([]),
})
export type SaveRoutes = z.input<typeof saveRoutes>
export const savedRoutes = z.object({
  version: z.number(),
  unblocked: z.number(),
  warnings: z.array(z.object({ route: z.number(), account: z.string(), type: z.string() })),
})
export type SavedRoutes = z.infer<typeof savedRoutes>

/** A kind, and category where sales have one, that a source reported in the last 13 weeks. */
export const seenRow = z.object({
  kind,
  category: z.string().nullable(),
  region: z.string().nullable(),
  amount: minor,
  lines: z.number(),
  /** Money that did not find a route. */
  unmapped: z.boolean(),
  route: routeBody.nullable(),
  /** Whether the route names this row's category (or region) itself. */
  narrow: z.boolean(),
  sample: z.object({ lineId: z.string(), description: z.string(), amount: minor }).nullable(),
  proposal: z.object({ account: z.string(), words: z.array(z.string()) }).nullable(),
})
export type SeenRow = z.infer<typeof seenRow>

export const accountRow = z.object({
  code: z.string(),
  name: z.string(),
  type: z.string(),
  currency,
  archived: z.boolean(),
  bankNumber: z.string().nullable(),
})
export type AccountRow = z.infer<typeof accountRow>
export const taxCodeRow = z.object({
  code: z.string(),
  name: z.string(),
  basis: z.enum(['inclusive', 'exclusive', 'none']),
  use: z.enum(['sales', 'purchases']),
  reverseCharge: z.boolean(),
  components: z.array(
    z.object({
      name: z.string(),
      account: z.string(),
      inputAccount: z.string().nullable(),
      compound: z.boolean(),
      rates: z.array(z.object({ from: localDate, percent: z.string().regex(/^\d+(\.\d+)?$/) })),
    }),
  ),
})
export type TaxCodeRow = z.infer<typeof taxCodeRow>

export const mappingPage = z.object({
  source: z.string(),
  sourceName: z.string(),
  currency,
  from: localDate.nullable(),
  to: localDate.nullable(),
  version: z.number(),
  rows: z.array(seenRow),
  unseen: z.array(kind),
  accounts: z.array(accountRow),
  taxCodes: z.array(taxCodeRow),
  routes: z.array(routeBody),
  waiting: z.object({ settlements: z.number(), amount: minor }),
})
export type MappingPage = z.infer<typeof mappingPage>

export const accountTypes = [
  'bank',
  'card',
  'clearing',
  'receivable',
  'inventory',
  'current_asset',
  'fixed_asset',
  'payable',
  'current_liability',
  'tax',
  'loan',
  'equity',
  'income',
  'other_income',
  'cost_of_sales',
  'expense',
] as const
export const newAccount = z.object({
  code: z.string().trim().min(1).max(20),
  name: z.string().trim().min(1).max(200),
  type: z.enum(accountTypes),
  currency,
  bankNumber: z.string().nullable().default(null),
})
export type NewAccount = z.input<typeof newAccount>
