import type { MissingBank, MissingPage, UnfitAccount } from '@culvert/contract'
import { freeCode, type StarterAccount } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { revisionAsOf } from '../activity/storedLines.ts'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { kindIs } from '../database/kinds.ts'
import { is } from '../database/rows.ts'
import { loadInBase } from '../setup/inBase.ts'

// Accounts that a source lacks of its own: where it pays into, what its money passes through, and where rounding goes.

const sourceShape = { source: is.text, name: is.text }

/** What a source reports in a currency that no clearing account of it is in. */
export const missingClearings = async (
  tx: Transaction,
  of: { readonly chart: MissingPage['chart']; readonly taken: readonly StarterAccount[] },
): Promise<MissingBank[]> => {
  const { convert } = await loadInBase(tx)
  const rows = await rowsOf(
    tx,
    { ...sourceShape, currency: is.text, amount: is.minor, lines: is.whole, used: is.list(is.text) },
    sql`SELECT s.source, s.name, k.currency, sum(abs(k.gross))::bigint AS amount, sum(k.lines)::int AS lines,
        (SELECT coalesce(json_agg(c.account), '[]') FROM source_clearing c WHERE c.client_id = s.client_id) AS used
      FROM source s JOIN settlement k ON k.client_id = s.client_id AND k.source = s.source
      WHERE s.client_id = current_client()
        AND NOT EXISTS (SELECT FROM source_clearing c WHERE c.client_id = s.client_id AND c.source = s.source AND c.currency = k.currency)
      GROUP BY s.client_id, s.source, s.name, k.currency ORDER BY 1, 3`,
  )
  const taken = [...of.taken]
  return rows.map(({ source, name, currency, amount, lines, used }) => {
    const free = of.chart.filter(
      account =>
        account.type === 'clearing' &&
        !account.archived &&
        account.currency === currency &&
        !used.includes(account.code),
    )
    const [only] = free
    const make = { code: freeCode(taken, 'clearing'), name: `${name} clearing ${currency}`, type: 'clearing' as const }
    if (!only) taken.push(make)
    return {
      key: JSON.stringify([source, currency]),
      ...{ source, name, currency, lines, make },
      amount: convert(amount, currency),
      use: only ? { account: only.code, sure: free.length === 1 } : null,
    }
  })
}

// What accounts of rounding are called, in six languages, before those of exchange.
const roundingWords = [/round|rundung|arrondi|redondeo|arrotond|afrond/i, /exchange|kurs|change|cambio|koers/i]

/** The account of what rounding leaves, once a source reports in another currency than the client's; null: it is there, or nothing needs it. */
export const missingRounding = async (
  tx: Transaction,
  of: {
    readonly accounts: readonly StarterAccount[]
    readonly starting: readonly StarterAccount[]
    readonly taken: readonly StarterAccount[]
  },
): Promise<MissingBank | null> => {
  const row = await oneRow(
    tx,
    { base: is.text, told: is.yes, lines: is.whole, other: is.maybe(is.text) },
    sql`SELECT c.base, EXISTS (SELECT FROM account a WHERE a.client_id = c.client_id AND a.code = c.exchange_rounding AND NOT a.archived) AS told,
        count(k.key)::int AS lines, min(k.currency) AS other
      FROM client c LEFT JOIN settlement k ON k.client_id = c.client_id AND k.currency <> c.base
      WHERE c.client_id = current_client() GROUP BY c.client_id, c.base, c.exchange_rounding`,
  )
  if (row.told || row.other === null) return null
  const named = (accounts: readonly StarterAccount[]) =>
    roundingWords
      .map(word =>
        accounts.find(({ type, name }) => ['other_income', 'expense', 'income'].includes(type) && word.test(name)),
      )
      .find(account => account !== undefined)
  const use = named(of.accounts)
  const usual = named(of.starting)
  const type = usual?.type ?? 'expense'
  return {
    ...{ key: 'rounding', source: '', name: '', currency: row.base, amount: 0, lines: row.lines },
    use: use ? { account: use.code, sure: true } : null,
    make: { code: freeCode(of.taken, type), name: usual?.name ?? 'Exchange rounding', type },
  }
}

/** Currencies in which a source pays out, and no bank account is said for. Amounts in base, minor units. */
export const missingBanks = async (
  tx: Transaction,
  of: {
    readonly chart: MissingPage['chart']
    readonly taken: readonly StarterAccount[]
    readonly starting: readonly StarterAccount[]
    /** First day that is looked at; null: nothing was reported. */
    readonly from: string | null
  },
): Promise<MissingBank[]> => {
  if (of.from === null) return []
  const { convert } = await loadInBase(tx)
  const rows = await rowsOf(
    tx,
    { ...sourceShape, currency: is.text, amount: is.minor, lines: is.whole },
    sql`SELECT s.source, s.name, l.currency, sum(l.amount)::bigint AS amount, count(*)::int AS lines FROM source s
      JOIN line_as_of l ON l.client_id = s.client_id AND l.source = s.source
      WHERE s.client_id = current_client() AND ${kindIs('payout', 'l.kind')} AND l.status = 'available'
        AND l.local_date >= ${of.from}::date AND ${revisionAsOf('now')}
        AND NOT EXISTS (SELECT FROM source_bank b WHERE b.client_id = s.client_id AND b.source = s.source AND b.direction = 'into' AND b.currency = l.currency)
      GROUP BY 1, 2, 3 ORDER BY 1, 3`,
  )
  const usual = of.starting.find(account => account.type === 'bank')
  // Sources that pay out in one currency share a new bank account; no two of different currencies take one number.
  const taken = [...of.taken]
  const made = new Map<string, NewAccount>()
  const makeIn = (currency: string): NewAccount => {
    const known = made.get(currency)
    if (known) return known
    const fits =
      usual !== undefined &&
      !taken.some(account => account.code === usual.code) &&
      taken.every(account => account.code.length === usual.code.length)
    const name = usual?.name ?? 'Bank account'
    const make = {
      code: fits ? usual.code : freeCode(taken, 'bank'),
      name: made.size === 0 ? name : `${name} ${currency}`,
      type: 'bank' as const,
    }
    taken.push(make)
    made.set(currency, make)
    return make
  }
  return rows.map(({ source, name, currency, amount, lines }) => {
    const there = of.chart.filter(account => account.takesPayments && account.currency === currency)
    const [only] = there
    return {
      key: JSON.stringify([source, currency]),
      ...{ source, name, currency, lines },
      amount: Math.abs(convert(amount, currency)),
      use: only ? { account: only.code, sure: there.length === 1 } : null,
      make: makeIn(currency),
    }
  })
}
type NewAccount = MissingBank['make']

/** Clearing accounts that cannot serve as they are. */
export const unfitAccounts = (tx: Transaction): Promise<UnfitAccount[]> =>
  rowsOf(
    tx,
    { ...sourceShape, account: is.text, currency: is.text, why: is.oneOf('type', 'currency', 'archived') },
    sql`SELECT s.source, s.name, c.account, c.currency,
        CASE WHEN a.archived OR NOT a.takes_postings THEN 'archived' WHEN a.type <> 'clearing' THEN 'type' ELSE 'currency' END AS why
      FROM source s JOIN source_clearing c USING (client_id, source) JOIN account a ON a.client_id = c.client_id AND a.code = c.account
      WHERE s.client_id = current_client() AND (a.archived OR NOT a.takes_postings OR a.type <> 'clearing' OR a.currency <> c.currency)
      ORDER BY s.name, c.currency`,
  )
