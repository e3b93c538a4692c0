import { isKind, type Kind, type Rule, type TextField, textFields, treatments } from '@culvert/core'
import { z } from 'zod'
import { currency, localDate, minor, month } from './shared.ts'

export const kind = z.custom<Kind>(value => typeof value === 'string' && isKind(value), 'a kind of movement')
const condition = z.string().min(1).nullable().default(null)

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

const textField = z.enum(textFields as [TextField, ...TextField[]])
const amountField = z.enum(['amount', 'taxAmount'])
const said = z.string().trim().min(1).max(300)
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

/** The tax of a month's settlements: per code and rate version, and as the sources charged it by region and label. */
export const taxCheckPage = z.object({
  month: z.string().nullable(),
  months: z.array(z.string()),
  codes: z.array(
    z.object({
      taxCode: z.string(),
      currency,
      version: z.string(),
      percent: z.number(),
      base: minor,
      booked: minor,
      expected: minor,
      difference: minor,
      roundings: z.number(),
    }),
  ),
  labels: z.array(
    z.object({
      source: z.string(),
      currency,
      region: z.string().nullable(),
      taxLabel: z.string().nullable(),
      base: minor,
      tax: minor,
      lines: z.number(),
      seenPercent: z.number().nullable(),
      mapped: z.array(z.object({ taxCode: z.string(), percent: z.number() })),
    }),
  ),
  /** Supplies by destination, class and period: booked beside what the grid says today; null where routes decide tax. */
  places: z
    .array(
      z.object({
        currency,
        region: z.string().nullable(),
        class: z.string(),
        since: localDate.nullable(),
        lines: z.number(),
        base: minor,
        booked: minor,
        bookedCodes: z.array(z.string()),
        byGrid: minor,
        gridCodes: z.array(z.string()),
        stated: minor.nullable(),
        difference: minor,
        open: minor,
        foreign: minor,
      }),
    )
    .nullable(),
  /** What goes back to no known supply, and along with no known goods. */
  hanging: z.array(
    z.object({
      currency,
      lost: minor,
      lostLines: z.number(),
      unsplit: minor,
      unsplitLines: z.number(),
    }),
  ),
})
/** A tax period that was filed with an agency: local dates, both counted in. */
export const taxFilingBody = z
  .object({
    agency: z.string().trim().min(1, 'an agency').max(200),
    from: localDate,
    to: localDate,
    filedOn: localDate,
  })
  .refine(({ from, to }) => from <= to, { path: ['to'], error: 'it ends before it begins' })
export type TaxFilingBody = z.infer<typeof taxFilingBody>
export const withdrawFilingBody = z.object({ reason: z.string().trim().min(1, 'a reason').max(500) })
export const taxFilingList = z.object({
  filings: z.array(
    z.object({
      id: z.number(),
      agency: z.string(),
      from: localDate,
      to: localDate,
      filedOn: localDate,
      by: z.string(),
      /** Null while it stands. */
      withdrawn: z.object({ by: z.string(), reason: z.string() }).nullable(),
    }),
  ),
})
export type TaxFilingList = z.infer<typeof taxFilingList>
/** Which lines of a tax check are listed. */
export const taxLinesQuery = z.object({
  month,
  currency,
  region: z.string().optional(),
  class: z.string().optional(),
  since: localDate.optional(),
  hanging: z.enum(['lost', 'unsplit']).optional(),
})
export type TaxCheckPage = z.infer<typeof taxCheckPage>

/** One row of the tax grid; a condition that is null is none, a code that is null no tax on purpose. */
export const taxRowBody = z.object({
  id: z.number().int().min(1).max(2_147_483_647).nullable().default(null),
  source: condition,
  kind: kind.nullable().default(null),
  label: condition,
  region: z
    .string()
    .regex(/^[A-Z]{2}(-[A-Z0-9]{1,3})?$/, 'a country, or part of one, as ISO 3166 writes it')
    .nullable()
    .default(null),
  class: condition,
  from: localDate.nullable().default(null),
  code: z.string().min(1).nullable(),
  /** Why a code of another country than the region’s is meant; empty: not said. */
  reason: z.string().trim().max(300).default(''),
})
export type TaxRowBody = z.infer<typeof taxRowBody>
/** Says of a SKU, or of a category, which class its goods are of. */
export const classBody = z.object({ sku: condition, category: condition, class: said })
export type ClassBody = z.infer<typeof classBody>
/** Supplies of one sort in the weeks looked at, in base. */
export const seenSupply = z.object({
  source: z.string(),
  kind,
  label: z.string().nullable(),
  region: z.string().nullable(),
  class: z.string(),
  since: localDate.nullable(),
  amount: minor,
  stating: minor,
  stated: minor,
  lines: z.number(),
})
/** Goods seen, and the class they are of (empty: none). */
export const seenGoods = z.object({
  category: z.string().nullable(),
  sku: z.string().nullable(),
  class: z.string(),
  amount: minor,
  lines: z.number(),
})
/** What rows cannot say of today's routes, or would say otherwise: to be decided before rows decide. */
export const taxDoubt = z.object({
  route: z.number(),
  routeText: z.string(),
  /** What the route's code hangs on that rows do not ask for; null: rows would give another code. */
  by: z.enum(['location', 'method', 'gateway', 'item', 'sku_and_category']).nullable(),
  place: z.object({
    source: z.string().nullable(),
    kind,
    label: z.string().nullable(),
    region: z.string().nullable(),
    class: z.string(),
    category: z.string().nullable(),
    from: localDate.nullable(),
  }),
  today: z.string().nullable(),
  /** Null: no tax on purpose; undefined is told as `unserved`. */
  byRows: z.string().nullable(),
  unserved: z.boolean(),
  amount: minor,
  lines: z.number(),
})
export type TaxDoubt = z.infer<typeof taxDoubt>
export const savedTaxRows = z.object({ version: z.number(), unblocked: z.number() })
export const taxGridPage = z.object({
  currency,
  version: mapVersion,
  from: localDate.nullable(),
  to: localDate.nullable(),
  byRows: z.boolean(),
  rows: z.array(taxRowBody),
  classes: z.array(classBody),
  seen: z.array(seenSupply),
  goods: z.array(seenGoods),
  doubts: z.array(taxDoubt),
  taxCodes: z.array(taxCodeRow),
  accounts: z.array(accountRow),
  sources: z.array(z.object({ source: z.string(), name: z.string() })),
  /** Blocked for want of a tax code, in base. */
  waiting: z.object({ settlements: z.number(), amount: minor }),
})
export type TaxGridPage = z.infer<typeof taxGridPage>
export const saveTaxRowsBody = z.object({
  rows: z.array(taxRowBody).max(5000),
  classes: z.array(classBody).max(20_000),
  version: mapVersion,
  /** From now on the rows decide what supplies bear, not their routes. */
  byRows: z.boolean(),
})
export type SaveTaxRows = z.input<typeof saveTaxRowsBody>
