import { accountTypes, contactSorts } from '@culvert/core'
import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { accountRow, newAccount, taxCodeRow } from './mapping.ts'
import { currency, kind, localDate, minor } from './shared.ts'

// What booking lacks, computed from what the sources reported: accounts, bank accounts, tax codes, and what only a person can say.

const reason = z.object({ named: z.array(z.string()), called: z.array(z.string()), onlyOfType: z.boolean() })
const newCode = z.object({ code: z.string(), name: z.string(), type: z.enum(accountTypes) })

export const missingAccount = z.object({
  key: z.string(),
  kind,
  kinds: z.array(kind),
  /** What else it is told apart by: a category, means of payment, label of tax or country. */
  label: z.string().nullable(),
  sources: z.array(z.object({ source: z.string(), name: z.string(), lines: z.number(), kinds: z.array(kind) })),
  /** Base, of the last 13 weeks. */
  amount: minor,
  use: z.object({ account: z.string(), reason, sure: z.boolean() }).nullable(),
  make: newCode,
  /** It bears tax, and nothing says which: it waits for what is said of these, by their keys. */
  asks: z.array(z.string()),
})
export type MissingAccount = z.infer<typeof missingAccount>

/** A source that lacks an account of its own in a currency: the bank that it pays into, or the clearing account that its money passes through. */
export const missingBank = z.object({
  key: z.string(),
  source: z.string(),
  name: z.string(),
  currency,
  amount: minor,
  lines: z.number(),
  use: z.object({ account: z.string(), sure: z.boolean() }).nullable(),
  make: newCode,
})
export type MissingBank = z.infer<typeof missingBank>

/** Sales to a region, of a class of goods, that no tax row serves; a country whole where nothing told its regions apart. */
export const missingTax = z.object({
  key: z.string(),
  region: z.string().nullable(),
  class: z.string(),
  sources: z.array(z.string()),
  amount: minor,
  lines: z.number(),
  /** Percent that was charged, of lines that state their tax; null: none does. */
  seenPercent: z.number().nullable(),
  use: z.object({ code: z.string(), why: z.enum(['rate_seen', 'only_one', 'standard']) }).nullable(),
  /** What would be made; the rate is null where a person must say it. */
  make: z
    .object({ code: z.string(), name: z.string(), country: z.string(), percent: z.number().nullable() })
    .nullable(),
})
export type MissingTax = z.infer<typeof missingTax>

/** What a source charges, or takes from buyers, and bears a tax or none: a person says which. */
export const missingFeeTax = z.object({
  key: z.string(),
  of: z.enum(['charged', 'taken']),
  source: z.string(),
  name: z.string(),
  kinds: z.array(kind),
  amount: minor,
  lines: z.number(),
})
export type MissingFeeTax = z.infer<typeof missingFeeTax>

/** An account that is there and cannot serve as it is. */
export const unfitAccount = z.object({
  source: z.string(),
  name: z.string(),
  account: z.string(),
  currency,
  why: z.enum(['type', 'currency', 'archived']),
})
export type UnfitAccount = z.infer<typeof unfitAccount>

export const missingPage = z.object({
  version: z.number(),
  base: currency,
  from: localDate.nullable(),
  to: localDate.nullable(),
  banks: z.array(missingBank),
  clearings: z.array(missingBank),
  /** The account of what rounding leaves when other currencies are brought to base: missing once a source reports in one. */
  rounding: missingBank.nullable(),
  accounts: z.array(missingAccount),
  /** The account that new tax codes post to: one that exists, or one that is made with the first. */
  taxAccount: z.object({ use: z.string().nullable(), make: newCode }),
  taxes: z.array(missingTax),
  feeTaxes: z.array(missingFeeTax),
  unfit: z.array(unfitAccount),
  /** Routes to accounts that cannot serve, or are of a type unlike the kind's, or of other sources. */
  unfitRoutes: z.array(
    z.object({
      route: z.number(),
      source: z.string().nullable(),
      title: z.string(),
      account: z.string(),
      name: z.string(),
      type: z.string(),
      why: z.enum(['archived', 'type', 'other_clearing']),
    }),
  ),
  /** Supplies that state another rate than their tax code has. Percents; the code's lowest and highest of these weeks. */
  unlikeRates: z.array(
    z.object({
      region: z.string().nullable(),
      class: z.string(),
      code: z.string(),
      mapped: z.tuple([z.number(), z.number()]),
      seen: z.number(),
      amount: minor,
      lines: z.number(),
    }),
  ),
  chart: z.array(accountRow),
  taxCodes: z.array(taxCodeRow),
  /** Tax rows decide the codes of supplies; where routes do, tax is said at the starter map. */
  taxByRows: z.boolean(),
})
export type MissingPage = z.infer<typeof missingPage>

/** Whom documents will name and no contact stands for: a source as one customer or supplier, or somebody that a rule names. */
export const missingContact = z.object({
  key: z.string(),
  of: z.enum(['source', 'rule']),
  name: z.string(),
  /** What it is to the client. */
  sort: z.enum(contactSorts),
  use: z
    .object({ code: z.string(), name: z.string(), why: z.enum(['same_name', 'one_of_several', 'like_it']) })
    .nullable(),
  make: z.object({ code: z.string(), name: z.string() }),
})
export type MissingContact = z.infer<typeof missingContact>

/** A product that was sold in the last 13 weeks and no item stands for; by its SKU. */
export const missingItem = z.object({
  sku: z.string(),
  name: z.string(),
  /** Other titles under which it was sold. */
  otherNames: z.array(z.string()),
  sources: z.array(z.string()),
  /** Base. */
  amount: minor,
  lines: z.number(),
  /** Where its sales go today. */
  account: z.string(),
})
export type MissingItem = z.infer<typeof missingItem>

export const missingNames = z.object({
  version: z.number(),
  contacts: z.array(missingContact),
  known: z.array(z.object({ code: z.string(), name: z.string() })),
  items: z.array(missingItem),
  /** Products sold without a SKU, or without an account yet: they are told at the items. */
  untold: z.number(),
  chart: z.array(accountRow),
})
export type MissingNames = z.infer<typeof missingNames>

export const makeNamesBody = z.object({
  version: z.number().int(),
  contacts: z
    .array(
      z.object({
        key: z.string().max(500),
        /** Number of a contact that exists; null: `make` is made. */
        use: z.string().max(100).nullable(),
        make: z.object({ code: z.string().trim().min(1).max(100), name: z.string().trim().min(1).max(300) }).nullable(),
      }),
    )
    .max(500),
  items: z
    .array(
      z.object({
        sku: z.string().min(1).max(100),
        name: z.string().trim().min(1).max(300),
        account: z.string().max(20),
      }),
    )
    .max(1000),
})
export type MakeNames = z.input<typeof makeNamesBody>

const account = newAccount.pick({ code: true, name: true, type: true })
const choice = z.object({
  key: z.string().max(500),
  /** An account that exists; null: `make` is made. */
  use: z.string().max(20).nullable(),
  make: account.nullable(),
})
export const makeMissingBody = z.object({
  version: z.number().int(),
  banks: z.array(choice).max(200),
  clearings: z.array(choice).max(200),
  rounding: choice.nullable(),
  accounts: z.array(choice).max(500),
  taxes: z
    .array(
      z.object({
        key: z.string().max(500),
        use: z.string().max(40).nullable(),
        /** Its sales bear none here. */
        none: z.boolean().default(false),
        make: z
          .object({
            code: taxCodeRow.shape.code.min(1).max(20),
            name: z.string().trim().min(1).max(200),
            percent: z.number().min(0).max(100),
          })
          .nullable(),
      }),
    )
    .max(500),
  taxAccount: choice.omit({ key: true }),
  /** The code that is borne; null: none. */
  feeTaxes: z.array(z.object({ key: z.string().max(100), code: z.string().nullable() })).max(400),
})
export type MakeMissing = z.input<typeof makeMissingBody>

export const madeMissing = z.object({
  version: z.number(),
  accounts: z.number(),
  routes: z.number(),
  taxCodes: z.number(),
  unblocked: z.number(),
})

export const missingEndpoints = {
  missing: endpoint({
    method: 'GET',
    path: '/missing',
    right: 'read',
    does: 'What booking lacks for what the sources report, with what exists that would serve and what would be made.',
    answer: missingPage,
  }),
  makeMissing: endpoint({
    method: 'POST',
    path: '/missing',
    right: 'map',
    does: 'Makes what is missing, and uses what exists, in one act. Posts nothing.',
    body: makeMissingBody,
    answer: madeMissing,
  }),
  missingNames: endpoint({
    method: 'GET',
    path: '/missing/names',
    right: 'read',
    does: 'Contacts and items that documents will need, and none stands for yet, with those there are that would serve.',
    answer: missingNames,
  }),
  makeNames: endpoint({
    method: 'POST',
    path: '/missing/names',
    right: 'map',
    does: 'Makes contacts and items that documents will need, or says which there are. Posts nothing.',
    body: makeNamesBody,
    answer: z.object({ contacts: z.number(), items: z.number() }),
  }),
}
