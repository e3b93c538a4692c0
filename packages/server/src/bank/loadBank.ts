import type { BankPage, DecidedRow } from '@culvert/contract'
import { addDays } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadOpenItems, transferColumns, transferItem } from './openItems.ts'

/** Everything that the tide table of a bank account is made of: all that is open, and what was decided between two dates. */
export const loadBankPage = async (
  tx: Transaction,
  code: string,
  wanted: { from: string | null; to: string | null },
): Promise<BankPage | null> => {
  const accounts = await rowsOf(
    tx,
    { code: is.text, name: is.text, currency: is.text, bankNumber: is.maybe(is.text) },
    sql`
    SELECT code, name, currency, bank_number AS "bankNumber" FROM account WHERE type IN ('bank', 'card') ORDER BY code`,
  )
  const account = accounts.find(candidate => candidate.code === code)
  if (!account) return null
  const { transfers, lines, facts, known, sourceNames } = await loadOpenItems(tx, code)
  const { from, to } = rangeOf(wanted, known.statementTo, [...transfers, ...lines])
  const grants = await rowsOf(
    tx,
    {},
    sql`SELECT FROM bank_grant WHERE client_id = current_client() AND bank_account = ${code}`,
  )
  const [last] = await rowsOf(
    tx,
    { account: is.text },
    sql`
    SELECT l.account FROM pairing p JOIN entry_line l USING (client_id, fiscal_year, number)
    WHERE p.client_id = current_client() AND p.sort = 'paired' AND l.account <> p.bank_account
    ORDER BY p.fiscal_year DESC, p.number DESC LIMIT 1`,
  )
  return {
    account,
    accounts: accounts.map(({ code: other, name }) => ({ code: other, name })),
    granted: grants.length > 0,
    from,
    to,
    ...known,
    transfers: [...transfers],
    lines: [...lines],
    facts,
    decided: await loadDecided(tx, { code, from, to, sourceNames }),
    differenceAccount: last?.account ?? null,
  }
}

// Without a wish: the last five weeks in which something is open, or of the statement; earlier where older things are
// open still, up to four months.
const rangeOf = (
  wanted: { from: string | null; to: string | null },
  statementTo: string | null,
  open: readonly { date: string }[],
): { from: string; to: string } => {
  if (wanted.from !== null && wanted.to !== null) return { from: wanted.from, to: wanted.to }
  const latest = open.reduce((last, item) => (item.date > last ? item.date : last), '') || statementTo || '2000-01-31'
  const earliest = open.reduce((first, item) => (item.date < first ? item.date : first), addDays(latest, -34))
  return { from: earliest > addDays(latest, -120) ? earliest : addDays(latest, -120), to: latest }
}

const loadDecided = async (
  tx: Transaction,
  wanted: { code: string; from: string; to: string; sourceNames: ReadonlyMap<string, string> },
): Promise<DecidedRow[]> => {
  const rows = await rowsOf(
    tx,
    {
      sort: is.oneOf('set_aside', 'paired', 'coded'),
      account: is.maybe(is.text),
      entry: is.maybe(is.text),
      difference: is.minor,
      sureness: is.oneOf('by_hand', 'certain', 'likely', 'possible'),
      evidence: is.maybe(
        is.record({
          exactSum: is.yes,
          payerNamed: is.yes,
          referenceFound: is.yes,
          lagDays: is.whole,
          lagUsual: is.since(is.maybe(is.yes), null),
          consecutive: is.since(is.maybe(is.yes), null),
        }),
      ),
      note: is.text,
      pairing_id: is.text,
      transfers: is.maybe(
        is.list(
          is.record({
            source: is.text,
            payout_line: is.text,
            generation: is.whole,
            key: is.text,
            currency: is.text,
            date: is.date,
            amount: is.minor,
            reference: is.maybe(is.text),
            entry: is.text,
          }),
        ),
      ),
      lines: is.maybe(
        is.list(
          is.record({
            id: is.text,
            date: is.date,
            amount: is.minor,
            currency: is.text,
            description: is.text,
            reference: is.text,
          }),
        ),
      ),
    },
    sql`
    SELECT p.pairing_id, p.sort, p.sureness, p.difference, p.note, nullif(p.evidence, '{}') AS evidence,
      p.fiscal_year || '-' || p.number AS entry,
      (SELECT l.account FROM entry_line l WHERE l.client_id = p.client_id AND l.fiscal_year = p.fiscal_year
        AND l.number = p.number AND l.account <> p.bank_account ORDER BY abs(l.base_amount) DESC, l.account LIMIT 1) AS account,
      (SELECT json_agg(x) FROM (SELECT ${transferColumns} FROM paired_transfer m
        JOIN transfer t USING (client_id, source, payout_line, generation) WHERE m.client_id = p.client_id
          AND m.pairing_id = p.pairing_id ORDER BY t.date) x) AS transfers,
      (SELECT json_agg(x) FROM (SELECT b.line_id AS id, b.date::text, b.amount, b.currency, b.description, b.reference
        FROM paired_bank_line m JOIN bank_line b USING (client_id, bank_account, line_id)
        WHERE m.client_id = p.client_id AND m.pairing_id = p.pairing_id ORDER BY b.date) x) AS lines
    FROM pairing p
    WHERE p.client_id = current_client() AND p.bank_account = ${wanted.code} AND p.undone_by IS NULL
      AND (EXISTS (SELECT FROM paired_bank_line m JOIN bank_line b USING (client_id, bank_account, line_id)
          WHERE m.client_id = p.client_id AND m.pairing_id = p.pairing_id AND b.date BETWEEN ${wanted.from} AND ${wanted.to})
        OR (p.sort = 'set_aside' AND EXISTS (SELECT FROM paired_transfer m
          JOIN transfer t USING (client_id, source, payout_line, generation)
          WHERE m.client_id = p.client_id AND m.pairing_id = p.pairing_id AND t.date BETWEEN ${wanted.from} AND ${wanted.to})))`,
  )
  return rows
    .map(({ pairing_id: pairingId, transfers, lines, ...row }) => ({
      ...row,
      pairingId,
      transfers: (transfers ?? []).map(transfer => transferItem(transfer, wanted.sourceNames)),
      bankLines: lines ?? [],
    }))
    .sort((left, right) => (firstDate(left) < firstDate(right) ? -1 : 1))
}

const firstDate = ({ bankLines, transfers }: DecidedRow): string => (bankLines[0] ?? transfers[0])?.date ?? ''
