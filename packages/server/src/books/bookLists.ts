import type { Readable } from 'node:stream'
import type { BalanceList, ListQuery, RateList } from '@culvert/contract'
import { FaultList, readBalanceList, readRateList } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { refuseOn } from '../access/fileRefused.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { readListRecords } from '../files/readList.ts'
import { loadRates } from './loadRates.ts'
import { loadOpening } from './openingBalances.ts'

const baseOf = async (tx: Transaction): Promise<string> =>
  (await oneRow(tx, { base: is.text }, sql`SELECT base FROM client WHERE client_id = current_client()`)).base

// As the database keeps it: without zeros at the end, so that 1.0800 of a list is 1.08 of the books.
const plainRate = (rate: string): string => (rate.includes('.') ? rate.replace(/0+$/, '').replace(/\.$/, '') : rate)

/** Reads a list of exchange rates and holds it against those that stand. @throws FileRefused with every fault found */
export const readRates = async (tx: Transaction, body: Readable, told: ListQuery): Promise<RateList> => {
  const faults = new FaultList()
  const { header, records } = await readListRecords(body, told, faults)
  refuseOn(faults)
  const { rates, asks } = readRateList(header, records, { faults, told, base: await baseOf(tx) })
  refuseOn(faults)
  const keyOf = (rate: { date: string; from: string; to: string }) => `${rate.date} ${rate.from} ${rate.to}`
  const standing = new Map((await loadRates(tx)).map(rate => [keyOf(rate), rate.rate]))
  const named = new Set(rates.map(keyOf))
  return {
    asks: [...asks],
    rates: rates.map(rate => {
      const was = standing.get(keyOf(rate)) ?? null
      const state = was === null ? 'new' : plainRate(was) === plainRate(rate.rate) ? 'same' : 'changed'
      return { ...rate, state, was }
    }),
    vanished: asks.length > 0 ? 0 : [...standing.keys()].filter(key => !named.has(key)).length,
  }
}

/** Reads a list of opening balances and holds its accounts against those that can be entered. @throws FileRefused with every fault found */
export const readBalances = async (tx: Transaction, body: Readable, told: ListQuery): Promise<BalanceList> => {
  const faults = new FaultList()
  const { header, records } = await readListRecords(body, told, faults)
  refuseOn(faults)
  const { balances, asks } = readBalanceList(header, records, { faults, told, base: await baseOf(tx) })
  refuseOn(faults)
  const enterable = new Set((await loadOpening(tx)).accounts.map(account => account.code))
  const known = new Set(
    (await rowsOf(tx, { code: is.text }, sql`SELECT code FROM account WHERE client_id = current_client()`)).map(
      row => row.code,
    ),
  )
  return {
    asks: [...asks],
    balances: balances.map(one => ({
      ...one,
      unfit: !known.has(one.account) ? 'unknown_account' : enterable.has(one.account) ? null : 'not_entered',
    })),
  }
}
