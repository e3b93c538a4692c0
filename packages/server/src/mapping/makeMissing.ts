import { type makeMissingBody, type RouteBody, routeBody, subjectKey, type TaxCodeRow } from '@culvert/contract'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { Refused } from '../access/refused.ts'
import { touchables } from '../acts/changes.ts'
import { saveMap } from '../composing/saveMap.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, rowsOf, type Transaction } from '../database/connect.ts'
import { holdSources } from '../database/locks.ts'
import { is } from '../database/rows.ts'
import { holdBanks } from '../ledger/holdBanks.ts'
import { loadClasses, loadRoutes, loadTaxBy, loadTaxCodes, loadTaxRows } from '../setup/loadMap.ts'
import { loadAccounts } from './loadMapping.ts'
import { loadMissing, type Missing } from './loadMissing.ts'
import { applyRoutes, countBlocked } from './saveRoutes.ts'
import { storeTaxCodes } from './saveTaxCodes.ts'
import { storeTaxRows } from './saveTaxRows.ts'

type Wanted = z.output<typeof makeMissingBody>
interface Made {
  readonly accounts: number
  readonly routes: number
  readonly taxCodes: number
}

/**
 * Makes what is missing, and uses what exists, as one version of the map: accounts, bank accounts of sources, tax codes with their rows, routes. What is missing is
 * worked out anew; nothing is made that is not lacking. @throws Refused, MapRefused, Conflict
 */
export const makeMissing = async (
  database: Database,
  actor: Actor,
  wanted: Wanted,
): Promise<Made & { version: number; unblocked: number }> => {
  const before = await asClient(database, actor, countBlocked)
  const { version, result } = await saveMap(database, actor, {
    act: 'make_missing',
    note: `${wanted.accounts.length + wanted.banks.length + wanted.clearings.length} accounts, ${wanted.taxes.length} tax codes`,
    madeFrom: wanted.version,
    part: async tx => [
      ...touchables('account', await loadAccounts(tx), row => row.code),
      ...touchables('route', await loadRoutes(tx), row => row.id),
      ...touchables('tax_code', await loadTaxCodes(tx), row => row.code),
      ...touchables('tax_row', await loadTaxRows(tx), row => row.id),
      ...touchables('source', await loadOwnAccounts(tx), row => subjectKey(row.source)),
      ...touchables('client', await loadRounding(tx), () => actor.clientId),
    ],
    change: tx => make(tx, wanted),
  })
  const after = await asClient(database, actor, countBlocked)
  return { version, ...result, unblocked: Math.max(0, before - after) }
}

const loadOwnAccounts = (tx: Transaction) =>
  rowsOf(
    tx,
    { source: is.text, accounts: is.text },
    sql`SELECT source, string_agg(says, ', ' ORDER BY says) AS accounts FROM (
        SELECT source, direction || ' ' || currency || ' ' || account AS says FROM source_bank WHERE client_id = current_client()
        UNION ALL SELECT source, 'through ' || currency || ' ' || account FROM source_clearing WHERE client_id = current_client()) x GROUP BY 1`,
  )

const loadRounding = (tx: Transaction) =>
  rowsOf(
    tx,
    { exchangeRounding: is.maybe(is.text) },
    sql`SELECT exchange_rounding AS "exchangeRounding" FROM client WHERE client_id = current_client()`,
  )

const make = async (tx: Transaction, wanted: Wanted): Promise<Made> => {
  const missing = await loadMissing(tx)
  await holdSources(
    tx,
    [...missing.page.banks, ...missing.page.clearings].map(one => one.source),
    'store',
  )
  const maker = accountMaker(tx, missing)
  for (const choice of wanted.banks) {
    const bank = missing.page.banks.find(one => one.key === choice.key)
    if (!bank) throw new Refused('not_missing')
    const account = await maker.accountOf(choice, bank.currency, ['bank', 'card'])
    await holdBanks(tx, [account])
    for (const direction of ['into', 'from'])
      await tx.execute(sql`INSERT INTO source_bank (client_id, source, direction, currency, region, account)
        VALUES (current_client(), ${bank.source}, ${direction}, ${bank.currency}, '', ${account}) ON CONFLICT DO NOTHING`)
    await moveOn(tx, bank.source)
  }
  for (const choice of wanted.clearings) {
    const clearing = missing.page.clearings.find(one => one.key === choice.key)
    if (!clearing) throw new Refused('not_missing')
    const account = await maker.accountOf(choice, clearing.currency, ['clearing'])
    await tx.execute(sql`INSERT INTO source_clearing (client_id, source, currency, account)
      VALUES (current_client(), ${clearing.source}, ${clearing.currency}, ${account})`)
    await moveOn(tx, clearing.source)
  }
  if (wanted.rounding) {
    if (!missing.page.rounding) throw new Refused('not_missing')
    const account = await maker.accountOf(wanted.rounding, missing.page.base)
    await tx.execute(sql`UPDATE client SET exchange_rounding = ${account} WHERE client_id = current_client()`)
  }
  const taxCodes = await makeTaxes(tx, wanted, {
    missing,
    accountOf: choice => maker.accountOf(choice, missing.page.base),
  })
  const changed: RouteBody[] = []
  for (const choice of wanted.accounts) {
    const routes = missing.routes.get(choice.key)
    if (!routes) throw new Refused('not_missing')
    const account = await maker.accountOf(choice, missing.page.base)
    for (const route of routes) changed.push(routeTo(route, account, { missing, wanted }))
  }
  if (changed.length > 0) await applyRoutes(tx, { changed, removed: [] })
  await markStages(tx, ['mapping', 'books', 'bank', 'sources', 'clearing'])
  return { accounts: maker.made(), routes: changed.length, taxCodes }
}

// Whoever composed by the old ones and has not posted yet finds the source moved on, and composes anew.
const moveOn = async (tx: Transaction, source: string): Promise<void> => {
  await tx.execute(
    sql`UPDATE source SET last_pull = last_pull + 1 WHERE client_id = current_client() AND source = ${source}`,
  )
}

type MissingRouteOf = Missing['routes'] extends ReadonlyMap<string, readonly (infer Route)[]> ? Route : never

const routeTo = (
  route: MissingRouteOf,
  account: string,
  { missing, wanted }: { readonly missing: Missing; readonly wanted: Wanted },
): RouteBody => {
  const asks = missing.askedOf(route)
  const said = wanted.feeTaxes.find(one => one.key === asks)
  // What bears tax is not given a route without it by silence.
  if (asks !== null && !said) throw new Refused('fee_tax_unsaid', { kind: route.kind })
  return routeBody.parse({
    ...{ routeId: null, kind: route.kind, source: route.source, category: route.category, gateway: route.gateway },
    ...{ taxLabel: route.taxLabel, region: route.region, account },
    taxCode: asks !== null ? (said?.code ?? null) : missing.taxOf(route, account),
  })
}

type Choice = Wanted['taxAccount']

/** Gives the account of a choice, made where it is new; of two choices that name one number, one makes it. */
const accountMaker = (tx: Transaction, { page }: Missing) => {
  const made = new Map<string, string>()
  return {
    made: () => made.size,
    /** `types`: what it has to be, and then in this currency; absent: a route may point to any. */
    accountOf: async (
      { use, make: wanted }: Choice,
      currency: string,
      types: readonly string[] | null = null,
    ): Promise<string> => {
      const there = page.chart.find(account => account.code === use && !account.archived)
      const fits = types === null || (there && types.includes(there.type) && there.currency === currency)
      if (use !== null && !(there && fits)) throw new Refused('account_unusable', { account: use })
      if (use !== null) return use
      if (wanted === null || types?.includes(wanted.type) === false) throw new Refused('not_missing')
      const facts = JSON.stringify([wanted.name, wanted.type, currency])
      if (made.get(wanted.code) === facts) return wanted.code
      const { rowCount } = await tx.execute(sql`INSERT INTO account (client_id, code, name, type, currency)
        VALUES (current_client(), ${wanted.code}, ${wanted.name}, ${wanted.type}, ${currency}) ON CONFLICT DO NOTHING`)
      if (rowCount !== 1) throw new Refused('account_taken', { code: wanted.code })
      made.set(wanted.code, facts)
      return wanted.code
    },
  }
}

const makeTaxes = async (
  tx: Transaction,
  wanted: Wanted,
  of: { readonly missing: Missing; readonly accountOf: (choice: Choice) => Promise<string> },
): Promise<number> => {
  if (wanted.taxes.length === 0) return 0
  const { page, ratesFrom } = of.missing
  const codes = new Map<string, TaxCodeRow>()
  const rows = []
  for (const choice of wanted.taxes) {
    const tax = page.taxes.find(one => one.key === choice.key)
    if (!tax || (!choice.none && choice.use === null && (choice.make === null || tax.make === null)))
      throw new Refused('not_missing')
    if (!choice.none && choice.use === null && choice.make && tax.make) {
      const { code, name, percent } = choice.make
      // Of two rows that name one code with two rates neither may win by silence.
      const before = codes.get(code)?.components[0]?.rates[0]?.percent ?? (codes.has(code) ? '0' : String(percent))
      if (page.taxCodes.some(one => one.code === code) || before !== String(percent))
        throw new Refused('tax_code_taken', { code })
      const account = percent === 0 ? null : await of.accountOf(wanted.taxAccount)
      codes.set(code, newTaxCode({ code, name, percent, account, country: tax.make.country, from: ratesFrom }))
    }
    rows.push({
      ...{ id: null, source: null, kind: null, label: null, region: tax.region, class: tax.class || null, from: null },
      code: choice.none ? null : (choice.use ?? choice.make?.code ?? null),
      reason: '',
    })
  }
  if (codes.size > 0) await storeTaxCodes(tx, [...codes.values()])
  const standing = await loadTaxRows(tx)
  const classes = await loadClasses(tx)
  await storeTaxRows(tx, {
    rows: [
      ...standing.map(row => ({
        ...{ id: row.id ?? null, source: row.source ?? null, kind: row.kind ?? null, label: row.label ?? null },
        ...{ region: row.region ?? null, class: row.class ?? null, from: row.from ?? null, code: row.code },
        reason: row.reason,
      })),
      ...rows,
    ],
    classes: classes.map(one => ({ sku: one.sku ?? null, category: one.category ?? null, class: one.class })),
    byRows: (await loadTaxBy(tx)) === 'rows',
  })
  return codes.size
}

const newTaxCode = (of: {
  readonly code: string
  readonly name: string
  readonly percent: number
  readonly account: string | null
  readonly country: string
  readonly from: string
}): TaxCodeRow => ({
  ...{ code: of.code, name: of.name, use: 'sales', reverseCharge: false, country: of.country, recovery: [] },
  ...(of.account === null
    ? { treatment: 'zero', basis: 'none', components: [] }
    : {
        treatment: 'taxed',
        basis: 'inclusive',
        components: [
          {
            ...{ name: 'Tax', account: of.account, inputAccount: null, compound: false },
            rates: [{ from: of.from, percent: String(of.percent) }],
          },
        ],
      }),
})
