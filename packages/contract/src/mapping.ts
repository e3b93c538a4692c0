import { accountTypes, type Rule, type TextField, textFields, treatments } from '@culvert/core'
import { z } from 'zod'
import { endpoint, nothing } from './endpoint.ts'
import { activityList } from './settlements.ts'
import { currency, kind, localDate, minor } from './shared.ts'

export const condition = z.string().min(1).nullable().default(null)

/** The version of the map that a save was made from: a newer one is a conflict, and nothing is changed. */
export const mapVersion = z.number().int().min(0).max(2_147_483_647)

/** A route as the interface edits it; `routeId` null for a new one. */
export const routeBody = z.object({
  routeId: z.number().int().min(1).max(2_147_483_647).nullable(),
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
  /** Code of an item that brings account and tax code. */
  item: z.string().nullable().default(null),
  /** Booked by another document. */
  elsewhere: z.boolean().default(false),
  taxCode: z.string().nullable(),
  segments: z.record(z.string(), z.string()).default({}),
  block: z.boolean().default(false),
  reason: z.string().default(''),
})
export type RouteBody = z.infer<typeof routeBody>
export const saveRoutes = z
  .object({
    changed: z.array(routeBody).max(2000),
    removed: z.array(z.number().int().min(1).max(2_147_483_647)).max(2000).default([]),
    version: mapVersion,
    /** The one who saves was asked, and means it: money goes to another source’s clearing account. */
    meant: z.boolean().default(false),
  })
  .refine(({ changed, removed }) => changed.length + removed.length > 0, {
    path: ['changed'],
    error: 'nothing is changed',
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
  /** The means of payment, and how, where a tender's route names them or it has none. */
  gateway: z.string().nullable(),
  method: z.string().nullable(),
  amount: minor,
  lines: z.number(),
  /** What needs no route: tenders that go to the account of whoever took the money, collections that tenders have booked. */
  byItself: z.object({ to: z.enum(['gateway', 'tender']), name: z.string() }).nullable(),
  /** Money that did not find a route. */
  unmapped: z.boolean(),
  route: routeBody.nullable(),
  /** Whether the route names this row's category (or region) itself. */
  narrow: z.boolean(),
  sample: z.object({ lineId: z.string(), description: z.string(), amount: minor }).nullable(),
  proposal: z.object({ account: z.string(), words: z.array(z.string()), taxCode: z.string().nullable() }).nullable(),
  /** Other sources, by name, that the route serves as well: what is changed here becomes a route of this source’s own. */
  sharedWith: z.array(z.string()),
})
export type SeenRow = z.infer<typeof seenRow>

export const accountRow = z.object({
  code: z.string(),
  name: z.string(),
  type: z.string(),
  currency,
  archived: z.boolean(),
  /** A bank or card account that payouts may be paid into, and drawn from. */
  takesPayments: z.boolean(),
  bankNumber: z.string().nullable(),
})
export type AccountRow = z.infer<typeof accountRow>
const datedPercent = z.object({ from: localDate, percent: z.string().regex(/^\d+(\.\d+)?$/) })
export const taxCodeRow = z.object({
  code: z.string(),
  name: z.string(),
  treatment: z.enum(treatments).default('taxed'),
  basis: z.enum(['inclusive', 'exclusive', 'none']),
  use: z.enum(['sales', 'purchases']),
  reverseCharge: z.boolean(),
  /** Country whose tax it is; null: not said. */
  country: z
    .string()
    .regex(/^[A-Z]{2}$/)
    .nullable()
    .default(null),
  /** Of purchases and reverse charge: how much of the tax is taken back, by date; empty: all of it. */
  recovery: z.array(datedPercent).max(100).default([]),
  components: z.array(
    z.object({
      name: z.string(),
      account: z.string(),
      inputAccount: z.string().nullable(),
      compound: z.boolean(),
      rates: z.array(datedPercent),
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
  items: z.array(z.object({ code: z.string(), name: z.string(), account: z.string(), taxCode: z.string().nullable() })),
  routes: z.array(routeBody),
  waiting: z.object({ settlements: z.number(), amount: minor }),
  /** Tax rows decide the codes of supplies, not their routes. */
  taxByRows: z.boolean(),
})
export type MappingPage = z.infer<typeof mappingPage>

export const newAccount = z.object({
  code: z.string().trim().min(1).max(20),
  name: z.string().trim().min(1).max(200),
  type: z.enum(accountTypes),
  currency,
  bankNumber: z.string().nullable().default(null),
  description: z.string().max(500).default(''),
})
export type NewAccount = z.input<typeof newAccount>

const textField = z.enum(textFields as [TextField, ...TextField[]])
const amountField = z.enum(['amount', 'taxAmount'])
export const said = z.string().trim().min(1).max(300)
const plainCondition = z.union([
  z.object({ field: textField, is: z.enum(['equal', 'containing', 'starting']), value: said }),
  z.object({ field: textField, is: z.literal('one_of'), values: z.array(said).min(1).max(200) }),
  z.object({ field: amountField, is: z.literal('between'), low: minor, high: minor }),
  z.object({ field: z.literal('localDate'), is: z.literal('between'), low: localDate, high: localDate }),
  z.object({ field: z.literal('localDate'), is: z.enum(['before', 'after']), value: localDate }),
])
/** A condition of a rule; one that counts others holds plain ones only. */
export const ruleCondition = z.union([
  plainCondition,
  z.object({ is: z.literal('several'), atLeast: z.number().int().min(1), of: z.array(plainCondition).min(1).max(20) }),
])
export const ruleAction = z.discriminatedUnion('set', [
  z.object({ set: z.literal('account'), account: said }),
  z.object({ set: z.literal('tax_code'), taxCode: said.nullable() }),
  z.object({ set: z.literal('segment'), name: said, value: said }),
  z.object({ set: z.literal('contact'), contact: said }),
  z.object({ set: z.literal('block') }),
])
export const ruleBody: z.ZodType<Rule> = z.object({
  id: z.number().int().positive().max(2_147_483_647),
  conditions: z.array(ruleCondition).min(1).max(20),
  actions: z.array(ruleAction).min(1).max(10),
})
export type RuleBody = Rule
export const saveRulesBody = z.object({ rules: z.array(ruleBody).max(500), version: mapVersion })

/** How many lines of the last 13 weeks a rule meets, and for how many it decides something. */
export const ruleTouch = z.object({ id: z.number(), met: z.number(), decides: z.number(), amount: minor })
export const rulesPage = z.object({
  currency,
  from: localDate.nullable(),
  to: localDate.nullable(),
  version: z.number(),
  rules: z.array(ruleBody),
  touched: z.array(ruleTouch),
  accounts: z.array(accountRow),
  taxCodes: z.array(taxCodeRow),
})
export type RulesPage = z.infer<typeof rulesPage>
export const touchedLines = z.object({ touched: z.array(ruleTouch) })

export const itemRow = z.object({
  code: z.string().trim().min(1).max(100),
  name: z.string().trim().min(1).max(300),
  otherNames: z.array(said).max(200).default([]),
  account: z.string(),
  taxCode: z.string().nullable().default(null),
  costs: z.array(z.object({ from: localDate, cost: minor })).default([]),
})
export type ItemRow = z.infer<typeof itemRow>
export const itemsPage = z.object({
  version: mapVersion,
  items: z.array(itemRow),
  accounts: z.array(accountRow),
  taxCodes: z.array(taxCodeRow),
})

/** A product that was sold in the last 13 weeks, and the item that its SKU, a known other name or its title finds. */
export const seenProduct = z.object({
  source: z.string(),
  sourceName: z.string(),
  sku: z.string(),
  title: z.string(),
  category: z.string().nullable(),
  /** In base, minor units. */
  amount: minor,
  lines: z.number(),
  found: z.enum(['one', 'several', 'none']),
  by: z.enum(['code', 'other_name', 'name']).nullable(),
  /** Codes of the items found. */
  items: z.array(z.string()),
  /** Where its sales go today: an item, an account, or nowhere. */
  goesTo: z.object({ item: z.string().nullable(), account: z.string().nullable() }).nullable(),
  /** Ids of the routes that name its SKU. */
  ownRoutes: z.array(z.number()),
  /** Routes that would take its sales to the one item found; null where they go there, or a person must map. */
  proposal: z.array(routeBody).nullable(),
})
export type SeenProduct = z.infer<typeof seenProduct>
export const productsPage = z.object({
  from: localDate.nullable(),
  to: localDate.nullable(),
  products: z.array(seenProduct),
})
export type ProductsPage = z.infer<typeof productsPage>

/** What a source reports and where it would go: the starter map. */
export const starterRow = z.object({
  kind,
  category: z.string().nullable(),
  gateway: z.string().nullable(),
  taxLabel: z.string().nullable(),
  /** A country, where the chart tells it apart. */
  region: z.string().nullable(),
  amount: minor,
  lines: z.number(),
  proposal: z
    .object({
      account: z.string(),
      named: z.array(z.string()),
      called: z.array(z.string()),
      onlyOfType: z.boolean(),
      sure: z.boolean(),
    })
    .nullable(),
  make: z.object({ name: z.string(), type: z.string() }).nullable(),
  taxCode: z.string().nullable(),
  /** The kind whose route it is taxed like; null where nothing was found. */
  taxedLike: kind.nullable(),
  /** It bears tax, and nothing says which. */
  taxOpen: z.boolean(),
})
export const starterPage = z.object({ rows: z.array(starterRow) })
export type StarterRow = z.infer<typeof starterRow>

const savedMap = z.object({ version: z.number() })
export const mappingEndpoints = {
  mapping: endpoint({
    method: 'GET',
    path: '/mapping/:source',
    right: 'read',
    does: 'What a source reports, with its routes and their money.',
    answer: mappingPage,
  }),
  starter: endpoint({
    method: 'GET',
    path: '/mapping/:source/starter',
    right: 'read',
    does: 'Routes proposed from names, kinds and the chart.',
    answer: starterPage,
  }),
  rules: endpoint({
    method: 'GET',
    path: '/rules',
    right: 'read',
    does: 'The rules, in their order.',
    answer: rulesPage,
  }),
  saveRules: endpoint({
    method: 'PUT',
    path: '/rules',
    right: 'map',
    does: 'Saves all rules, in their order.',
    body: saveRulesBody,
    answer: savedMap,
  }),
  touchedByRules: endpoint({
    method: 'POST',
    path: '/rules/touched',
    right: 'read',
    does: 'What rules would touch, before they are saved.',
    body: z.object({ rules: z.array(ruleBody).max(500) }),
    answer: touchedLines,
  }),
  ruleLines: endpoint({
    method: 'POST',
    path: '/rules/lines',
    right: 'read',
    does: 'The lines that a rule meets.',
    body: z.object({ rule: ruleBody }),
    answer: activityList,
  }),
  items: endpoint({
    method: 'GET',
    path: '/items',
    right: 'read',
    does: 'Items, with the accounts and tax codes that they can name.',
    answer: itemsPage,
  }),
  products: endpoint({
    method: 'GET',
    path: '/items/products',
    right: 'read',
    does: 'What was sold in the last weeks, and the item that it finds.',
    answer: productsPage,
  }),
  saveItems: endpoint({
    method: 'PUT',
    path: '/items',
    right: 'map',
    does: 'Saves items.',
    body: z.object({ items: z.array(itemRow).min(1).max(5000), version: mapVersion }),
    answer: savedMap,
  }),
  saveRoutes: endpoint({
    method: 'PUT',
    path: '/routes',
    right: 'map',
    does: 'Saves changed routes and removes others.',
    body: saveRoutes,
    answer: savedRoutes,
  }),
  saveTaxCodes: endpoint({
    method: 'PUT',
    path: '/tax-codes',
    right: 'map',
    does: 'Saves tax codes.',
    body: z.object({ codes: z.array(taxCodeRow).min(1).max(500), version: mapVersion }),
    answer: savedMap,
  }),
  accounts: endpoint({
    method: 'GET',
    path: '/accounts',
    right: 'read',
    does: 'The chart of accounts.',
    answer: z.object({ accounts: z.array(accountRow) }),
  }),
  addAccounts: endpoint({
    method: 'POST',
    path: '/accounts',
    right: 'map',
    does: 'Adds accounts.',
    body: z.union([z.array(newAccount).min(1).max(5000), newAccount]),
    answer: nothing,
    status: 201,
  }),
}
