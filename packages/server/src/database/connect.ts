import { hash } from 'node:crypto'
import type { SQL } from 'drizzle-orm'
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres'
import { PgDialect } from 'drizzle-orm/pg-core'
import pg from 'pg'
import { naming } from './naming.ts'
import { type RowOf, readRow, type Shape } from './rows.ts'

/** Amounts in the database add up to more than a number can tell exactly. */
export class SumOutOfRange extends RangeError {
  override readonly name = 'SumOutOfRange'
}

// The driver's default hands int8 over as text, and Number() would round it silently: this is the one reader of
// amounts, and it throws.
const readSafeInteger = (text: string): number => {
  const value = Number(text)
  if (!Number.isSafeInteger(value)) throw new SumOutOfRange(`not a safe integer in the database: ${text}`)
  return value
}

pg.types.setTypeParser(pg.types.builtins.INT8, readSafeInteger)

export type Database = NodePgDatabase & { $client: pg.Pool }

/** A transaction on a connection of its own, which COPY can use too. */
export type Transaction = NodePgDatabase & { $client: pg.PoolClient }

/** Where errors go that nobody waits for: `at` says of what. */
export type Report = (error: unknown, at: string) => void

/** Connects to `url` with at most `connections` at once; what its idle connections run into is reported. */
export const connect = (url: string, connections = 10, report: Report = () => undefined): Database => {
  const pool = new pg.Pool({
    connectionString: url,
    max: connections,
    idleTimeoutMillis: 10_000,
    connectionTimeoutMillis: 15_000,
    // What is asked for lies in memory for the most part: with the default price of a random read the planner takes plans that cost within one
    // per cent of each other for equal, and sorts what it could hash.
    options: '-c jit=off -c random_page_cost=1.1',
  })
  // A terminated backend reports on its idle connection; the pool drops it, the process must not die of it.
  pool.on('error', error => report(error, 'an idle connection to the database'))
  // Also when it was taken out of the pool already: without a listener the late report would end the process.
  pool.on('connect', connection => connection.on('error', () => undefined))
  return drizzle({ client: pool })
}

// The one clock of the application. A demo that lives in another month sets it, and it goes on from there; SQL asks `clock_now()` for the same.
let setClock: { readonly at: number; readonly since: number } | null = null

/**
 * Sets the clock: it was `instant` (ISO 8601) at the moment `since` (ms since 1970, by default now), and goes on from there at its usual pace. Processes that
 * work together are told the same moment, or their clocks would be as far apart as their starts. @throws RangeError where it is no time
 */
export const startClockAt = (instant: string, since = Date.now()): void => {
  const at = Date.parse(instant)
  if (Number.isNaN(at) || Number.isNaN(since)) throw new RangeError(`${instant} is no time`)
  setClock = { at, since }
}

/** What time it is for everything that is done. */
export const clockNow = (): Date => new Date(setClock === null ? Date.now() : setClock.at + Date.now() - setClock.since)

/** Who acts, and on which client: what every statement runs under. */
export interface Actor {
  readonly userId: number
  readonly clientId: number
}

const lastSteps = new WeakMap<pg.PoolClient, Map<string, () => Promise<void>>>()

/**
 * Has `step` run last in a transaction, before it is committed: where it waits for others, nobody waits for what it holds for long. Of steps of one name the
 * first stands. Tells whether it is the first.
 */
export const beforeCommit = (tx: Transaction, name: string, step: () => Promise<void>): boolean => {
  const steps = lastSteps.get(tx.$client)
  if (!steps) throw new Error('a step was put at the end of what is no transaction')
  const isFirst = !steps.has(name)
  if (isFirst) steps.set(name, step)
  return isFirst
}

const inTransaction = async <Result>(
  database: Database,
  settings: { user: number; client: number | null; link?: string; kept?: boolean },
  work: (tx: Transaction) => Promise<Result>,
): Promise<Result> => {
  const connection = await database.$client.connect()
  let broken: Error | undefined
  const noteBreak = (error: Error): void => {
    broken = error
  }
  connection.on('error', noteBreak)
  try {
    // One round trip for both. The values are whole numbers, checked here, since this form takes no parameters.
    const clock = setClock === null ? '' : `, set_config('app.now', '${clockNow().toISOString()}', true)`
    const [user, client] = [settings.user, settings.client ?? ''].map(value =>
      String(value === '' ? '' : Math.trunc(Number(value))),
    )
    const link =
      settings.link === undefined
        ? ''
        : `, set_config('app.link', '${settings.link.replaceAll(/[^0-9a-f]/g, '')}', true)`
    const kept = settings.kept ? `, set_config('plan_cache_mode', 'force_generic_plan', true)` : ''
    await connection.query(
      `BEGIN; SELECT set_config('app.user', '${user}', true), set_config('app.client', '${client}', true)${clock}${link}${kept}`,
    )
    const named = settings.client === null ? connection : naming(connection, settings.client)
    const steps = new Map<string, () => Promise<void>>()
    lastSteps.set(named, steps)
    const result = await work(drizzle({ client: named }))
    for (const step of steps.values()) await step()
    await connection.query('COMMIT')
    return result
  } catch (error) {
    await connection.query('ROLLBACK').catch(noteBreak)
    throw error
  } finally {
    connection.off('error', noteBreak)
    connection.release(broken)
  }
}

/** Runs `work` in one transaction as `actor`; row security shows it only that client's rows. */
export const asClient = <Result>(
  database: Database,
  actor: Actor,
  work: (tx: Transaction) => Promise<Result>,
): Promise<Result> => inTransaction(database, { user: actor.userId, client: actor.clientId }, work)

/**
 * As `asClient`, for what is done little at a time and over and over: its statements keep one plan each, made for any values. Of tables in parts a plan of its own took
 * longer to make than to run, and the planner makes one each time, since it looks cheaper by just that part.
 */
export const asClientOften = <Result>(
  database: Database,
  actor: Actor,
  work: (tx: Transaction) => Promise<Result>,
): Promise<Result> => inTransaction(database, { user: actor.userId, client: actor.clientId, kept: true }, work)

/** Runs `work` in one transaction as a person, over all clients of whom they are a member. */
export const asPerson = <Result>(
  database: Database,
  userId: number,
  work: (tx: Transaction) => Promise<Result>,
): Promise<Result> => inTransaction(database, { user: userId, client: null }, work)

/** Runs `work` in one transaction as whoever has the link of a question, of which `link` is the hash in hex: it shows that question and nothing else. */
export const byLink = <Result>(
  database: Database,
  of: { readonly link: string; readonly clientId: number | null },
  work: (tx: Transaction) => Promise<Result>,
): Promise<Result> => inTransaction(database, { user: 0, client: of.clientId, link: of.link }, work)

/** The rows of a statement, each read by `shape`: the readers of its columns by name. @throws Unread */
export const rowsOf = async <S extends Shape>(
  tx: Pick<Transaction, 'execute'>,
  shape: S,
  statement: SQL,
): Promise<RowOf<S>[]> => (await tx.execute(statement)).rows.map(row => readRow(shape, row))

const dialect = new PgDialect()

// As drizzle has them: dates and times stay text.
const asText = new Set<number>([pg.types.builtins.DATE, pg.types.builtins.TIMESTAMP, pg.types.builtins.TIMESTAMPTZ])

const types: pg.CustomTypesConfig = {
  getTypeParser: (id, format) => (asText.has(id) ? (text: unknown) => text : pg.types.getTypeParser(id, format)),
}

/**
 * Like `rowsOf`, for statements that run for every post: each is parsed once per connection, and planned a few times. One plan serves all clients, so
 * that it must not be made of what the planner sees of the one that came first.
 */
export const rowsOfPrepared = async <S extends Shape>(
  tx: Transaction,
  shape: S,
  statement: SQL,
): Promise<RowOf<S>[]> => {
  const { sql: written, params } = dialect.sqlToQuery(statement)
  const text = written.replaceAll('current_client()', '(SELECT current_client())')
  const { rows } = await tx.$client.query({ name: hash('sha1', text), text, values: params, types })
  return rows.map(row => readRow(shape, row))
}

/** The first row of a statement. @throws Error if there is none; Unread */
export const oneRow = async <S extends Shape>(tx: Transaction, shape: S, statement: SQL): Promise<RowOf<S>> => {
  const [row] = await rowsOf(tx, shape, statement)
  if (row === undefined) throw new Error('a row was expected and none came')
  return row
}
