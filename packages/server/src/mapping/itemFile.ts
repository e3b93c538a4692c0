import type { Readable } from 'node:stream'
import type { ItemList, ListQuery } from '@culvert/contract'
import { FaultList, type ListedItem, readItemList } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { refuseOn } from '../access/fileRefused.ts'
import { oneRow, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { readListRecords } from '../files/readList.ts'
import { loadItems, loadTaxCodes } from '../setup/loadMap.ts'
import { loadAccounts } from './loadMapping.ts'

/** Reads a list of items and holds it against those that there are. @throws FileRefused with every fault found */
export const readItems = async (tx: Transaction, body: Readable, told: ListQuery): Promise<ItemList> => {
  const faults = new FaultList()
  const { header, records } = await readListRecords(body, told, faults)
  refuseOn(faults)
  const { base, today } = await oneRow(
    tx,
    { base: is.text, today: is.text },
    sql`SELECT base, (clock_now() AT TIME ZONE time_zone)::date::text AS today FROM client WHERE client_id = current_client()`,
  )
  const { items, asks } = readItemList(header, records, { faults, told, base })
  refuseOn(faults)
  const standing = await loadItems(tx)
  const byCode = new Map(standing.map(item => [item.code, item]))
  const accounts = new Set((await loadAccounts(tx)).filter(account => !account.archived).map(account => account.code))
  const codes = new Set((await loadTaxCodes(tx)).map(code => code.code))
  const stateOf = (item: ListedItem) => {
    const was = byCode.get(item.code)
    if (!was) return 'new'
    const cost = was.costs.toSorted((left, right) => (left.from < right.from ? 1 : -1))[0]?.cost ?? null
    const same =
      was.name === item.name &&
      (item.account === null || was.account === item.account) &&
      (item.taxCode === null || was.taxCode === item.taxCode) &&
      (item.cost === null || cost === item.cost)
    return same ? 'same' : 'changed'
  }
  const unknownOf = ({ code, account, taxCode }: ListedItem) => {
    if (account === null) return byCode.has(code) ? null : 'no_account'
    if (!accounts.has(account)) return 'account'
    return taxCode !== null && !codes.has(taxCode) ? 'tax_code' : null
  }
  const named = new Set(items.map(item => item.code))
  return {
    asks: [...asks],
    items: items.map(item => ({ ...item, state: stateOf(item), unknown: unknownOf(item) })),
    vanished:
      asks.length > 0 ? [] : standing.filter(item => !named.has(item.code)).map(({ code, name }) => ({ code, name })),
    today,
  }
}
