import { sql } from 'drizzle-orm'
import { char, customType, integer, timestamp } from 'drizzle-orm/pg-core'

/** Minor units. The driver hands int8 over through the one reader in connect.ts, which throws on unsafe numbers. */
export const minor = customType<{ data: number; driverData: number }>({ dataType: () => 'bigint' })
/** The range in which sums of minor units stay exact. */
export const safe = (column: string) => sql.raw(`${column} BETWEEN -9000000000000000 AND 9000000000000000`)
export const clientId = () => integer('client_id').notNull()
/** When a row was written, by the application's clock: a demo's clock is in another month. */
export const writtenAt = (name: string) =>
  timestamp(name, { withTimezone: true, mode: 'string' }).notNull().default(sql`clock_now()`)
export const now = () => writtenAt('at')
export const moment = (name: string) => timestamp(name, { withTimezone: true, mode: 'string' })
export const currency = (name = 'currency') => char(name, { length: 3 })
/** A column that holds one of a few words. */
export const oneOf = (column: string, words: readonly string[]) =>
  sql.raw(`"${column}" IN (${words.map(word => `'${word}'`).join(', ')})`)
