import { Readable } from 'node:stream'
import { type NewSource, newSource, type RouteBody, routeBody, taxCodeRow } from '@culvert/contract'
import { addDays, formatAmount, type Kind } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { ensurePerson } from '../access/practice.ts'
import type { SettlementKey } from '../activity/settlementKey.ts'
import { uploadStatement } from '../bank/uploadStatement.ts'
import { createClient } from '../clients/createClient.ts'
import { type Actor, asClient, connect, type Database, rowsOf } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { saveRoutes } from '../mapping/saveRoutes.ts'
import { saveTaxCodes } from '../mapping/saveTaxCodes.ts'
import { createSource } from '../sources/createSource.ts'
import { uploadFile } from '../sources/uploadFile.ts'

/** The database that the test command has prepared. */
export const testUrl = (): string => {
  const url = process.env.APP_DATABASE_URL
  if (!url) throw new Error('run ./culvert test, which prepares a database, or set APP_DATABASE_URL')
  return url
}

export const testDatabase = (connections = 24): Database => connect(testUrl(), connections)

const accounts = [
  ['1000', 'Skerrymoor current account', 'bank'],
  ['1210', 'Openhall clearing', 'clearing'],
  ['2200', 'VAT payable', 'tax'],
  ['4000', 'Sales', 'income'],
  ['4100', 'Shipping charged', 'income'],
  ['6000', 'Selling fees', 'expense'],
  ['7900', 'Exchange rounding', 'other_income'],
] as const

/** A route of a kind that names what is given and nothing else. */
export const madeRoute = (kind: Kind, more: Partial<RouteBody> = {}): RouteBody =>
  routeBody.parse({ routeId: null, kind, account: null, taxCode: null, ...more })

/** A client with the marketplace Openhall, mapped, without activity. */
export const makeClient = async (
  database: Database,
  name: string,
  options: { address?: string; exchangeDifference?: string; source?: NewSource['options'] } = {},
): Promise<Actor> => {
  const userId = await ensurePerson(database, { email: 'orla.quill@ternandtally.example', name: 'Orla Quill' })
  const clientId = await createClient(
    database,
    userId,
    {
      name,
      base: 'EUR',
      timeZone: 'Europe/Dublin',
      cutOff: '00:00',
      locale: 'en-IE',
      exchangeRounding: '7900',
      exchangeDifference: options.exchangeDifference ?? null,
    },
    'routes',
  )
  const actor = { userId, clientId }
  await asClient(database, actor, async tx => {
    for (const [code, title, type] of accounts)
      await tx.execute(sql`INSERT INTO account (client_id, code, name, type, currency, bank_number)
        VALUES (current_client(), ${code}, ${title}, ${type}, 'EUR', ${type === 'bank' ? 'IE00TEST' : null})`)
  })
  await saveTaxCodes(database, actor, [
    taxCodeRow.parse({
      code: 'S23',
      name: 'VAT 23',
      basis: 'inclusive',
      use: 'sales',
      reverseCharge: false,
      components: [
        {
          name: 'VAT',
          account: '2200',
          inputAccount: null,
          compound: false,
          rates: [{ from: '2020-01-01', percent: '23' }],
        },
      ],
    }),
  ])
  await createSource(
    database,
    actor,
    newSource.parse({
      source: 'openhall',
      name: 'Openhall',
      shape: 'combined',
      clearing: [{ currency: 'EUR', account: '1210' }],
      banks: [{ direction: 'into', currency: 'EUR', account: '1000' }],
      bankTexts: ['OPENHALL SETTL'],
      options: options.source,
      address: options.address ?? null,
      credentials: { key: 'k', secret: 's' },
    }),
  )
  await saveRoutes(database, actor, {
    changed: [
      madeRoute('sale', { account: '4000', taxCode: 'S23' }),
      madeRoute('shipping', { account: '4100', taxCode: 'S23' }),
      madeRoute('selling_fee', { account: '6000' }),
    ],
    removed: [],
  })
  return actor
}

export type Row = Record<string, string>
export interface Weeks {
  readonly lines: Row[]
  readonly heads: Row[]
}

/** Weekly settlements from Monday 5 January 2026 on, `orders` orders each, that foot and pay out. */
export const makeWeeks = (count: number, orders: number): Weeks => {
  const lines: Row[] = []
  const heads: Row[] = []
  for (let week = 0; week < count; week++) {
    const monday = addDays('2026-01-05', 7 * (week % 52))
    const id = `W-${String(week + 1).padStart(5, '0')}`
    let sum = 0
    const add = (name: string, kind: string, amount: number, at: string, order = ''): void => {
      sum += amount
      lines.push({
        line_id: `${id}-${name}`,
        settlement_id: id,
        occurred_at: at,
        kind,
        order_id: order,
        currency: 'EUR',
        amount: formatAmount(amount, 'EUR'),
      })
    }
    for (let order = 0; order < orders; order++) {
      const at = `${addDays(monday, order % 6)}T10:${String(order % 60).padStart(2, '0')}:00Z`
      const name = `${week}-${order}`
      add(`${order}s`, 'sale', 1000 + ((week * 37 + order * 113) % 9000), at, name)
      add(`${order}h`, 'shipping', 650, at, name)
      add(`${order}f`, 'selling_fee', -(120 + ((order * 7) % 90)), at, name)
    }
    add('p', 'payout', -sum, `${addDays(monday, 6)}T21:00:00Z`)
    heads.push({
      settlement_id: id,
      period_start: monday,
      period_end: addDays(monday, 6),
      currency: 'EUR',
      opening_balance: '0.00',
      closing_balance: '0.00',
      payout_date: addDays(monday, 8),
      payout_reference: `OHP-${id}`,
    })
  }
  return { lines, heads }
}

/** Rows as CSV; every column that any row names. */
export const csvOf = (rows: readonly Row[]): string => {
  const columns = [...new Set(rows.flatMap(row => Object.keys(row)))]
  return `${[columns, ...rows.map(row => columns.map(column => row[column] ?? ''))].map(fields => fields.join(',')).join('\n')}\n`
}

export const upload = (
  database: Database,
  actor: Actor,
  text: string | Buffer,
  name = 'activity.csv',
  source = 'openhall',
) => uploadFile(database, actor, { source, name, body: Readable.from([Buffer.from(text as string)]) })

/** Brings a statement's rows into a client's bank. */
export const importBankRows = (database: Database, actor: Actor, rows: readonly Row[]) =>
  uploadStatement(database, actor, { name: 'bank.csv', body: Readable.from([Buffer.from(csvOf(rows))]) })

/** Gives a client the web shop Fernstall, whose orders are paid through the gateway Brookpay or in gift cards, and maps them. */
export const addShop = async (database: Database, actor: Actor): Promise<void> => {
  await asClient(database, actor, async tx => {
    for (const [code, title, type] of [
      ['1220', 'Fernstall orders', 'clearing'],
      ['1230', 'Brookpay clearing', 'clearing'],
      ['2300', 'Gift cards', 'current_liability'],
      ['6010', 'Processing fees', 'expense'],
      ['1290', 'Other means of payment', 'current_asset'],
    ])
      await tx.execute(sql`INSERT INTO account (client_id, code, name, type, currency)
        VALUES (current_client(), ${code}, ${title}, ${type}, 'EUR')`)
  })
  for (const [source, name, shape, account] of [
    ['fernstall', 'Fernstall', 'channel', '1220'],
    ['brookpay', 'Brookpay', 'gateway', '1230'],
  ] as const)
    await createSource(
      database,
      actor,
      newSource.parse({
        source,
        name,
        shape,
        clearing: [{ currency: 'EUR', account }],
        banks: [{ direction: 'into', currency: 'EUR', account: '1000' }],
      }),
    )
  await saveRoutes(database, actor, {
    changed: [
      madeRoute('processing_fee', { account: '6010' }),
      madeRoute('collected', { account: '4000', taxCode: 'S23' }),
      madeRoute('gift_card_sold', { account: '2300' }),
      madeRoute('gift_card_redeemed', { account: '2300' }),
      madeRoute('tender', { account: '1290' }),
    ],
    removed: [],
  })
}

/** A client with `count` settlements that wait to be posted. */
export const makeClientWithWeeks = async (database: Database, name: string, count: number, orders: number) => {
  const actor = await makeClient(database, name)
  const weeks = makeWeeks(count, orders)
  if (count === 0) return { actor, weeks, keys: [] }
  await upload(database, actor, csvOf(weeks.heads), 'settlements.csv')
  await upload(database, actor, csvOf(weeks.lines))
  return { actor, weeks, keys: await settlementKeys(database, actor) }
}

export const settlementKeys = (database: Database, actor: Actor): Promise<SettlementKey[]> =>
  asClient(database, actor, tx =>
    rowsOf(
      tx,
      { source: is.text, key: is.text, currency: is.text },
      sql`SELECT source, key, currency FROM settlement ORDER BY key`,
    ),
  )

/** What must hold whatever happened: totals are the lines' sums, numbers have no gap, every entry balances. */
export const booksOf = (database: Database, actor: Actor) =>
  asClient(database, actor, async tx => {
    const balances = await rowsOf(
      tx,
      { account: is.text, lines: is.whole, totals: is.whole },
      sql`
      SELECT a.code AS account, coalesce((SELECT sum(amount) FROM entry_line l WHERE l.account = a.code), 0)::bigint AS lines,
        coalesce((SELECT sum(debit - credit) FROM account_total t WHERE t.account = a.code), 0)::bigint AS totals
      FROM account a ORDER BY a.code`,
    )
    const [numbers] = await rowsOf(
      tx,
      { count: is.whole, highest: is.whole, next: is.whole },
      sql`
      SELECT (SELECT count(*)::int FROM entry) AS count, (SELECT coalesce(sum(m), 0)::int FROM (SELECT max(number) AS m FROM entry GROUP BY fiscal_year) y) AS highest,
        (SELECT coalesce(sum(next - 1), 0)::int FROM number_counter) AS next`,
    )
    const states = await rowsOf(
      tx,
      { state: is.text, count: is.whole },
      sql`SELECT state, count(*)::int AS count FROM settlement GROUP BY 1 ORDER BY 1`,
    )
    return {
      balances,
      numbers,
      states: Object.fromEntries(states.map(row => [row.state, row.count])) as Record<string, number>,
    }
  })
