import { z } from 'zod'
import { endpoint, nothing } from './endpoint.ts'
import { accountRow, condition, mapVersion, said, taxCodeRow } from './mapping.ts'
import { activityList } from './settlements.ts'
import { currency, kind, localDate, minor, month } from './shared.ts'

// Tax by destination: the grid, its check, and what was filed.

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
    /** The registration that it is filed for; absent: for all codes. */
    registration: z.number().int().positive().optional(),
  })
  .refine(({ from, to }) => from <= to, { path: ['to'], error: 'it ends before it begins' })
export type TaxFilingBody = z.infer<typeof taxFilingBody>
/** Where the client is registered for tax, and the codes that feed its returns. */
export const registrationBody = z.object({
  agency: z.string().trim().min(1, 'an agency').max(200),
  country: z.string().regex(/^[A-Z]{2}$/, 'a country as IE'),
  number: z.string().trim().max(60).default(''),
  codes: z.array(z.string()).max(500),
})
export type RegistrationBody = z.infer<typeof registrationBody>
export const registrationList = z.object({
  registrations: z.array(registrationBody.extend({ id: z.number() })),
  /** Codes that feed no registration: a filing of any holds them. */
  without: z.array(z.string()),
})
export type RegistrationList = z.infer<typeof registrationList>
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
  /** All lines that bear a tax code, wherever they go. */
  code: z.string().optional(),
  /** All that this source charged tax on, or by, in the region and under the label; absent: none told. */
  source: z.string().optional(),
  label: z.string().optional(),
  part: z.enum(['base', 'tax']).optional(),
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
    .regex(
      /^([A-Z]{2}(-[A-Z0-9]{1,3})?|-)$/,
      'a country, or part of one, as ISO 3166 writes it, or - where none is told',
    )
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
/** Whose lines are listed: those of goods, of some supplies, or of a doubt, each as the grid tells them. */
export const gridLinesBody = z.discriminatedUnion('of', [
  z.object({ of: z.literal('goods'), goods: seenGoods.omit({ amount: true, lines: true }) }),
  z.object({
    of: z.literal('supplies'),
    supplies: z
      .array(seenSupply.omit({ amount: true, stating: true, stated: true, lines: true }))
      .min(1)
      .max(5000),
  }),
  z.object({ of: z.literal('doubt'), doubt: taxDoubt.omit({ routeText: true, amount: true, lines: true }) }),
])
export type GridLinesBody = z.infer<typeof gridLinesBody>
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
  /** False where a map is too large for all its cells to be compared: only what was sold in these weeks was. */
  allCompared: z.boolean(),
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

export const taxEndpoints = {
  taxCheck: endpoint({
    method: 'GET',
    path: '/tax-check',
    right: 'read',
    does: 'A month’s tax beside what its base, and the grid, call for.',
    query: z.object({ month: z.union([z.literal(''), month]).optional() }),
    answer: taxCheckPage,
  }),
  taxLines: endpoint({
    method: 'GET',
    path: '/tax-check/lines',
    right: 'read',
    does: 'The lines behind a row of the tax check.',
    query: taxLinesQuery,
    answer: activityList,
  }),
  taxGrid: endpoint({
    method: 'GET',
    path: '/tax-grid',
    right: 'read',
    does: 'Tax rows and product classes, with what was sold where.',
    answer: taxGridPage,
  }),
  gridLines: endpoint({
    method: 'POST',
    path: '/tax-grid/lines',
    right: 'read',
    does: 'The lines of the last 13 weeks behind a sum of the tax grid.',
    body: gridLinesBody,
    answer: activityList,
  }),
  saveTaxGrid: endpoint({
    method: 'PUT',
    path: '/tax-grid',
    right: 'map',
    does: 'Saves tax rows and product classes.',
    body: saveTaxRowsBody,
    answer: savedTaxRows,
  }),
  taxFilings: endpoint({
    method: 'GET',
    path: '/tax-filings',
    right: 'read',
    does: 'Tax periods that were filed.',
    answer: taxFilingList,
  }),
  registrations: endpoint({
    method: 'GET',
    path: '/registrations',
    right: 'read',
    does: 'Tax registrations, and the codes that feed each.',
    answer: registrationList,
  }),
  addRegistration: endpoint({
    method: 'POST',
    path: '/registrations',
    right: 'file',
    does: 'Adds a tax registration.',
    body: registrationBody,
    answer: z.object({ id: z.number() }),
    status: 201,
  }),
  saveRegistration: endpoint({
    method: 'PUT',
    path: '/registrations/:id',
    right: 'file',
    does: 'Changes a tax registration.',
    body: registrationBody,
    answer: nothing,
  }),
  fileTax: endpoint({
    method: 'POST',
    path: '/tax-filings',
    right: 'file',
    does: 'Marks a tax period as filed.',
    body: taxFilingBody,
    answer: z.object({ id: z.number() }),
    status: 201,
  }),
  withdrawFiling: endpoint({
    method: 'POST',
    path: '/tax-filings/:id/withdraw',
    right: 'file',
    does: 'Withdraws a filing, with the reason.',
    body: withdrawFilingBody,
    answer: nothing,
  }),
}
