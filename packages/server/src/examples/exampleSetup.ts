import {
  type Account,
  type AccountType,
  classBook,
  cutOffMinutes,
  dateBases,
  defaultOptions,
  isKind,
  type PairingOptions,
  parseAmount,
  type Route,
  routeBook,
  type Setup,
  type Source,
  type TaxCode,
  type TaxRow,
  taxBook,
  treatments,
  type Zone,
  zoneOf,
} from '@culvert/core'
import { z } from 'zod'

const bankRow = z.object({ account: z.string(), region: z.string().nullable().default(null), currency: z.string() })

/** setup.json of a worked example. A missing key means null, false or its default. */
const setupSchema = z.object({
  client: z.object({
    name: z.string(),
    base: z.string(),
    timeZone: z.string(),
    cutOff: z.string().default('00:00'),
    exchangeRounding: z.string().nullish(),
  }),
  accounts: z.array(z.object({ code: z.string(), name: z.string(), type: z.string(), currency: z.string() })),
  taxCodes: z
    .array(
      z.object({
        code: z.string(),
        name: z.string().default(''),
        treatment: z.enum(treatments).default('taxed'),
        basis: z.enum(['inclusive', 'exclusive', 'none']),
        use: z.enum(['sales', 'purchases']).default('sales'),
        reverseCharge: z.boolean().default(false),
        country: z.string().nullish(),
        recovery: z.array(z.object({ from: z.string(), percent: z.string() })).default([]),
        components: z.array(
          z.object({
            name: z.string().default(''),
            account: z.string(),
            inputAccount: z.string().nullable().default(null),
            compound: z.boolean().default(false),
            rates: z.array(z.object({ from: z.string(), percent: z.string() })),
          }),
        ),
      }),
    )
    .default([]),
  sources: z.array(
    z.object({
      key: z.string(),
      shape: z.enum(['combined', 'channel', 'gateway']),
      clearing: z.record(z.string(), z.string()),
      paysInto: z.array(bankRow).default([]),
      drawnFrom: z.array(bankRow).default([]),
      bankTexts: z.array(z.string()).default([]),
      options: z
        .object({
          splitAtMonthEnd: z.boolean().default(false),
          taxRounding: z.enum(['bucket', 'line']).default('bucket'),
          detail: z.array(z.enum(['category', 'sku', 'location'])).default([]),
          taxTolerance: z.string().nullish(),
          payoutsLeaveBalance: z.enum(['sent', 'arrived']).default('sent'),
          reservesStayOnBalance: z.boolean().default(false),
          ancillaryFollows: z.boolean().default(false),
          dateBasis: z.enum(dateBases).default('order'),
        })
        .prefault({}),
    }),
  ),
  routes: z.array(
    z.object({
      kind: z.string(),
      source: z.string().nullish(),
      category: z.string().nullish(),
      sku: z.string().nullish(),
      location: z.string().nullish(),
      gateway: z.string().nullish(),
      method: z.string().nullish(),
      region: z.string().nullish(),
      tax_label: z.string().nullish(),
      taxLabel: z.string().nullish(),
      account: z.string().nullish(),
      taxCode: z.string().nullish(),
      segments: z.record(z.string(), z.string()).default({}),
      block: z.boolean().default(false),
      charge: z.boolean().default(false),
      from: z.string().nullish(),
    }),
  ),
  classes: z
    .array(z.object({ sku: z.string().nullish(), category: z.string().nullish(), class: z.string() }))
    .default([]),
  taxRows: z
    .array(
      z.object({
        source: z.string().nullish(),
        kind: z.string().nullish(),
        label: z.string().nullish(),
        region: z.string().nullish(),
        class: z.string().nullish(),
        from: z.string().nullish(),
        code: z.string().nullish(),
      }),
    )
    .nullish(),
  pairing: z
    .object({
      windowDays: z.number().default(7),
      maxGroup: z.number().default(12),
      bankFeeUpTo: z.string().nullish(),
    })
    .prefault({}),
  rates: z.array(z.object({ date: z.string(), from: z.string(), to: z.string(), rate: z.string() })).default([]),
  proof: z.array(z.object({ account: z.string(), date: z.string(), reported: z.string() })).nullish(),
})
type ParsedSetup = z.infer<typeof setupSchema>

export interface ExampleSetup {
  readonly setup: Setup
  readonly zone: Zone
  readonly timeZone: string
  readonly cutOff: number
  readonly pairing: PairingOptions
  readonly proofs: readonly { readonly account: string; readonly date: string; readonly reported: number }[] | null
}

const minorOf = (text: string, currency: string): number => {
  const parsed = parseAmount(text, currency)
  if (!parsed.ok) throw new Error(`setup.json: ${text} is no amount in ${currency}`)
  return parsed.minor
}

/** Reads setup.json. @throws ZodError where it has another shape. */
export const readExampleSetup = (json: unknown): ExampleSetup => {
  const parsed = setupSchema.parse(json)
  const accounts = new Map(
    parsed.accounts.map(account => [account.code, { ...account, type: account.type as AccountType } satisfies Account]),
  )
  const { base } = parsed.client
  const bankFeeUpTo = parsed.pairing.bankFeeUpTo
  return {
    zone: zoneOf(parsed.client.timeZone),
    timeZone: parsed.client.timeZone,
    cutOff: cutOffMinutes(parsed.client.cutOff),
    setup: {
      base,
      accounts,
      exchangeRounding: parsed.client.exchangeRounding ?? null,
      taxCodes: new Map(parsed.taxCodes.map((code): [string, TaxCode] => [code.code, code])),
      sources: new Map(parsed.sources.map(source => [source.key, sourceOf(source, base)])),
      routes: routeBook(routesOf(parsed)),
      rates: parsed.rates,
      classes: classBook(
        parsed.classes.map(({ sku, category, class: name }) => ({
          sku: sku ?? null,
          category: category ?? null,
          class: name,
        })),
      ),
      ...(parsed.taxRows && { taxRows: taxBook(taxRowsOf(parsed.taxRows)) }),
    },
    pairing: {
      windowDays: parsed.pairing.windowDays,
      maxGroup: parsed.pairing.maxGroup,
      bankFeeUpTo: bankFeeUpTo ? minorOf(bankFeeUpTo, base) : null,
      bankTexts: new Map(parsed.sources.map(source => [source.key, source.bankTexts])),
      payers: payersOf(parsed),
      completeTo: null,
    },
    proofs:
      parsed.proof?.map(proof => ({
        ...proof,
        reported: minorOf(proof.reported, accounts.get(proof.account)?.currency ?? base),
      })) ?? null,
  }
}

const sourceOf = (source: ParsedSetup['sources'][number], base: string): Source => ({
  ...source,
  options: {
    ...defaultOptions,
    ...source.options,
    taxTolerance: source.options.taxTolerance ? minorOf(source.options.taxTolerance, base) : null,
  },
})

/** The sources that pay into each bank account, or draw from it. */
const payersOf = ({ sources }: ParsedSetup): Map<string, Set<string>> => {
  const payers = new Map<string, Set<string>>()
  for (const { key, paysInto, drawnFrom } of sources)
    for (const { account } of [...paysInto, ...drawnFrom])
      payers.set(account, (payers.get(account) ?? new Set()).add(key))
  return payers
}

// A row of a kind that no line can have serves nothing.
const taxRowsOf = (rows: NonNullable<ParsedSetup['taxRows']>): TaxRow[] =>
  rows.flatMap(({ kind, code, ...row }) =>
    kind && !isKind(kind) ? [] : [{ ...row, kind: kind && isKind(kind) ? kind : null, code: code ?? null } as TaxRow],
  )

// A route of a kind that no line can have serves nothing.
const routesOf = (parsed: ParsedSetup): Route[] =>
  parsed.routes.flatMap(({ tax_label, ...route }, id) =>
    isKind(route.kind)
      ? [
          {
            ...route,
            id,
            kind: route.kind,
            taxLabel: route.taxLabel ?? tax_label ?? null,
            account: route.account ?? null,
            taxCode: route.taxCode ?? null,
            from: route.from ?? null,
          },
        ]
      : [],
  )
