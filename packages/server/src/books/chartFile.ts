import type { Readable } from 'node:stream'
import { type ChartFile, type newAccount, subjectKey } from '@culvert/contract'
import { type ChartReader, chartReader, FaultList, isCurrency, type ListedAccount } from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { refuseOn } from '../access/fileRefused.ts'
import { Refused } from '../access/refused.ts'
import { factsOf } from '../acts/changes.ts'
import { recordAct, type Touched } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import { is } from '../database/rows.ts'
import { readTable } from '../files/readTable.ts'
import type { TableTold } from '../files/tableReader.ts'

/** Accounts that a list may have. */
const mostAccounts = 5_000

const loadChartNames = (tx: Transaction) =>
  rowsOf(
    tx,
    { code: is.text, name: is.text, type: is.text, description: is.text, bankNumber: is.maybe(is.text) },
    sql`SELECT code, name, type, description, bank_number AS "bankNumber" FROM account WHERE client_id = current_client() AND NOT archived ORDER BY code`,
  )

/** Reads a list of accounts, and holds it against the chart as it is. @throws FileRefused with every fault found */
export const readChart = async (tx: Transaction, body: Readable, told: TableTold): Promise<ChartFile> => {
  const faults = new FaultList()
  const listed = await readAccounts(tx, body, { faults, told })
  refuseOn(faults)
  const chart = await loadChartNames(tx)
  const known = new Map(chart.map(account => [account.code, account]))
  const named = new Set(listed.map(account => account.code))
  return {
    rows: listed.map(account => {
      const was = known.get(account.code) ?? null
      const state = was === null ? 'new' : isChanged(was, account) ? 'changed' : 'same'
      return { ...account, type: account.type ?? null, state, was: was && { name: was.name, type: was.type } }
    }),
    vanished: chart.filter(account => !named.has(account.code)).map(({ code, name }) => ({ code, name })),
  }
}

const isChanged = (
  was: { readonly name: string; readonly description: string },
  { name, description }: Pick<ListedAccount, 'name' | 'description'>,
): boolean => was.name !== name || (description !== '' && was.description !== description)

const readAccounts = async (
  tx: Transaction,
  body: Readable,
  { faults, told }: { readonly faults: FaultList; readonly told: TableTold },
): Promise<ListedAccount[]> => {
  const { base } = await oneRow(tx, { base: is.text }, sql`SELECT base FROM client WHERE client_id = current_client()`)
  const records: (readonly [readonly string[], number])[] = []
  let header: readonly string[] = []
  await readTable(
    body,
    {
      header: names => {
        header = names
      },
      row: (record, row) => {
        if (records.length === mostAccounts) faults.add({ row, column: null, value: '', code: 'too_many_rows' })
        if (records.length < mostAccounts) records.push([record, row])
      },
    },
    faults,
    told,
  )
  if (faults.count > 0) return []
  const sample = records.slice(0, 200).map(([record]) => record)
  const reader: ChartReader | null = chartReader(header, { base, sample, faults })
  return records.flatMap(([record, row]) => reader?.read(record, row, faults) ?? [])
}

/** Adds accounts to the chart; of those that are there it takes name and description, which decide no booking. */
export const takeChart = (
  database: Database,
  actor: Actor,
  accounts: readonly z.output<typeof newAccount>[],
): Promise<{ added: number; changed: number; same: number }> => {
  const unknown = accounts.find(account => !isCurrency(account.currency))
  if (unknown) throw new Refused('currency_unknown', { currency: unknown.currency })
  return retrying(() =>
    asClient(database, actor, async tx => {
      const known = new Map((await loadChartNames(tx)).map(account => [account.code, account]))
      const touched: Touched[] = []
      const counts = { added: 0, changed: 0, same: 0 }
      for (const { code, ...account } of [...accounts].sort((left, right) => (left.code < right.code ? -1 : 1))) {
        const was = known.get(code)
        const key = subjectKey(code)
        if (was === undefined) {
          await tx.execute(sql`INSERT INTO account (client_id, code, name, type, currency, bank_number, description)
            VALUES (current_client(), ${code}, ${account.name}, ${account.type}, ${account.currency}, ${account.bankNumber}, ${account.description})`)
          touched.push({ subject: 'account', key, after: factsOf(account) })
          counts.added++
        } else if (isChanged(was, account)) {
          await tx.execute(sql`UPDATE account SET name = ${account.name}, description = CASE WHEN ${account.description} = '' THEN description ELSE ${account.description} END
            WHERE client_id = current_client() AND code = ${code}`)
          touched.push({ subject: 'account', key, before: factsOf(was), after: factsOf({ ...was, ...account }) })
          counts.changed++
        } else counts.same++
      }
      if (touched.length > 0)
        await recordAct(tx, actor, {
          sort: 'add_accounts',
          note: `${counts.added} new, ${counts.changed} changed`,
          touched,
        })
      await markStages(tx, ['mapping', 'books', 'bank'])
      return counts
    }),
  )
}
