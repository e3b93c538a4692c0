import {
  type Account,
  type AccountType,
  classBook,
  cutOffMinutes,
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
  type Zone,
  zoneOf,
} from '@culvert/core'
import { type ParsedSetup, setupSchema } from './setupSchema.ts'

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
      ...(parsed.timing && { timing: parsed.timing }),
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
      completeTo: parsed.pairing.completeTo ?? null,
      doubtReferences: parsed.pairing.doubtReferences,
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
    place: source.options.place ?? null,
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
