import { type accountForm, type accountUses, type ChartAccountPage, subjectKey } from '@culvert/contract'
import { isCurrency } from '@culvert/core'
import { sql } from 'drizzle-orm'
import type { z } from 'zod'
import { found, Refused } from '../access/refused.ts'
import { touchables } from '../acts/changes.ts'
import { saveMap } from '../composing/saveMap.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, type Database, oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { sqlState } from '../database/sqlState.ts'
import { currentVersion } from '../setup/loadMap.ts'

type Account = z.output<typeof accountForm>
type Use = (typeof accountUses)[number]

const loadFacts = (tx: Transaction, code: string): Promise<Account[]> =>
  rowsOf(
    tx,
    {
      code: is.text,
      name: is.text,
      type: is.accountType,
      currency: is.text,
      description: is.text,
      takesPostings: is.yes,
      takesPayments: is.yes,
      archived: is.yes,
      bankNumber: is.maybe(is.text),
    },
    sql`SELECT code, name, type, currency, description, takes_postings AS "takesPostings", takes_payments AS "takesPayments", archived, bank_number AS "bankNumber" FROM account
      WHERE client_id = current_client() AND code = ${code}`,
  )

// One count for each thing that can rest on an account; a rule names it in its actions.
const loadUses = async (tx: Transaction, code: string): Promise<{ use: Use; count: number }[]> => {
  const counted = await oneRow(
    tx,
    {
      entries: is.whole,
      routes: is.whole,
      tax_codes: is.whole,
      items: is.whole,
      sources: is.whole,
      bank_lines: is.whole,
      client: is.whole,
      decisions: is.whole,
    },
    sql`SELECT
      (SELECT count(*)::int FROM entry_line WHERE client_id = current_client() AND account = ${code}) AS entries,
      (SELECT count(*)::int FROM route WHERE client_id = current_client() AND account = ${code})
        + (SELECT count(*)::int FROM rule WHERE client_id = current_client() AND actions @> ${JSON.stringify([{ account: code }])}::jsonb) AS routes,
      (SELECT count(*)::int FROM tax_component WHERE client_id = current_client() AND (account = ${code} OR input_account = ${code})) AS tax_codes,
      (SELECT count(*)::int FROM item WHERE client_id = current_client() AND account = ${code}) AS items,
      (SELECT count(*)::int FROM source_clearing WHERE client_id = current_client() AND account = ${code})
        + (SELECT count(*)::int FROM source_bank WHERE client_id = current_client() AND account = ${code})
        + (SELECT count(*)::int FROM source WHERE client_id = current_client() AND options ->> 'stockPayable' = ${code}) AS sources,
      (SELECT count(*)::int FROM bank_line WHERE client_id = current_client() AND bank_account = ${code}) AS bank_lines,
      (SELECT count(*)::int FROM client WHERE client_id = current_client() AND ${code} IN (exchange_rounding, exchange_difference)) AS client,
      (SELECT count(*)::int FROM payment_decision WHERE client_id = current_client() AND account = ${code}) AS decisions`,
  )
  return (Object.entries(counted) as [Use, number][]).flatMap(([use, count]) => (count > 0 ? [{ use, count }] : []))
}

const balanceOf = async (tx: Transaction, code: string): Promise<number> =>
  (
    await oneRow(
      tx,
      { balance: is.minor },
      sql`SELECT coalesce(sum(base_debit - base_credit), 0)::bigint AS balance FROM account_total
        WHERE client_id = current_client() AND account = ${code}`,
    )
  ).balance

/** How many rows of sources pay into it, or draw from it. */
const paidInto = async (tx: Transaction, code: string): Promise<number> =>
  (
    await oneRow(
      tx,
      { count: is.whole },
      sql`SELECT count(*)::int FROM source_bank WHERE client_id = current_client() AND account = ${code}`,
    )
  ).count

const useWords: Record<Use, readonly [one: string, many: string]> = {
  entries: ['entry line', 'entry lines'],
  routes: ['route', 'routes'],
  tax_codes: ['tax code', 'tax codes'],
  items: ['item', 'items'],
  sources: ['place at a source', 'places at sources'],
  bank_lines: ['bank line', 'bank lines'],
  client: ['place in the client’s settings', 'places in the client’s settings'],
  decisions: ['decided payment', 'decided payments'],
}
const usesText = (uses: readonly { use: Use; count: number }[]): string =>
  uses.map(({ use, count }) => `${count} ${useWords[use][count === 1 ? 0 : 1]}`).join(', ')

/** One account, with what uses it. @throws Refused where there is none */
export const loadAccount = async (tx: Transaction, code: string): Promise<ChartAccountPage> => {
  const [account] = await loadFacts(tx, code)
  return {
    version: await currentVersion(tx),
    account: found(account, 'account'),
    uses: await loadUses(tx, code),
    balance: await balanceOf(tx, code),
  }
}

/**
 * Changes an account as a version of the setup: what is posted stays, what waits is composed anew. Its number, type and currency stay while anything rests on them; it is
 * archived when nothing does and its balance is zero. @throws Refused; Conflict
 */
export const saveAccount = async (
  database: Database,
  actor: Actor,
  { code, account, version }: { readonly code: string; readonly account: Account; readonly version: number },
): Promise<number> => {
  if (!isCurrency(account.currency)) throw new Refused('currency_unknown', { currency: account.currency })
  try {
    const saved = await saveMap(database, actor, {
      act: 'save_account',
      note: `${account.code} ${account.name}`,
      madeFrom: version,
      part: async tx => {
        const rows = [
          ...(await loadFacts(tx, code)),
          ...(code === account.code ? [] : await loadFacts(tx, account.code)),
        ]
        return touchables('account', rows, row => subjectKey(row.code))
      },
      change: async tx => {
        // A source that is added meanwhile waits for it, and finds it as it is then.
        await tx.execute(
          sql`SELECT FROM account WHERE client_id = current_client() AND code = ${code} FOR NO KEY UPDATE`,
        )
        const was = found((await loadFacts(tx, code))[0], 'account')
        await refuseMoved(tx, was, account)
        await tx.execute(sql`UPDATE account SET code = ${account.code}, name = ${account.name}, type = ${account.type}, currency = ${account.currency},
          description = ${account.description}, takes_postings = ${account.takesPostings}, takes_payments = ${account.takesPayments}, archived = ${account.archived}, bank_number = ${account.bankNumber}
          WHERE client_id = current_client() AND code = ${code}`)
        await markStages(tx, ['mapping', 'settlements', 'bank', 'books'])
      },
    })
    return saved.version
  } catch (error) {
    throw takenOf(error, account) ?? error
  }
}

const uniqueViolation = '23505'
const takenOf = (error: unknown, { code, bankNumber }: Account): Refused | null => {
  if (sqlState(error) !== uniqueViolation) return null
  const { cause } = error as { cause?: { constraint?: unknown } }
  return cause?.constraint === 'account_bank_number' && bankNumber !== null
    ? new Refused('bank_number_taken', { number: bankNumber })
    : new Refused('account_taken', { code })
}

const refuseMoved = async (tx: Transaction, was: Account, wanted: Account): Promise<void> => {
  const uses = await loadUses(tx, was.code)
  const moved =
    was.code !== wanted.code
      ? 'number'
      : was.type !== wanted.type
        ? 'type'
        : was.currency !== wanted.currency
          ? 'currency'
          : null
  if (moved !== null && uses.length > 0) throw new Refused('account_in_use', { what: moved, uses: usesText(uses) })
  const paid = was.takesPayments && !wanted.takesPayments ? await paidInto(tx, was.code) : 0
  if (paid > 0)
    throw new Refused('account_in_use', { what: 'payments', uses: usesText([{ use: 'sources', count: paid }]) })
  if (!wanted.archived || was.archived) return
  // What was booked stays on it: of an archived account that is what is read.
  const inTheWay = uses.filter(({ use }) => use !== 'entries' && use !== 'bank_lines' && use !== 'decisions')
  if (inTheWay.length > 0) throw new Refused('account_not_empty', { uses: usesText(inTheWay) })
  if ((await balanceOf(tx, was.code)) !== 0) throw new Refused('account_not_empty', { uses: 'its balance is not zero' })
}
