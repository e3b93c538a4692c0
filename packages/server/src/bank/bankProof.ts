import type { BankProofPage } from '@culvert/contract'
import {
  addDays,
  type BankProof,
  chainStatements,
  defaultTiming,
  type ProofItems,
  type ProvingStatement,
  proveBank,
} from '@culvert/core'
import { type SQL, sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'

type Item = BankProofPage['causes'][number]['items'][number]

/** Things of a cause that are listed; the others are counted and added up. */
const mostListed = 100

const itemShape = {
  date: is.text,
  title: is.text,
  detail: is.text,
  amount: is.minor,
  link: is.maybe(is.text),
  whole: is.minor,
  count: is.whole,
}

/** Rows of a cause, the first of them listed: `rows` gives date, title, detail, amount and link. */
const itemsOf = async (tx: Transaction, rows: SQL): Promise<ProofItems<Item>> => {
  const found = await rowsOf(
    tx,
    itemShape,
    sql`SELECT r.date::text, r.title, r.detail, r.amount, r.link, (sum(r.amount) OVER ())::bigint AS whole, (count(*) OVER ())::int AS count
      FROM (${rows}) r WHERE r.amount <> 0 ORDER BY r.date, r.title LIMIT ${mostListed}`,
  )
  return {
    amount: found[0]?.whole ?? 0,
    count: found[0]?.count ?? 0,
    items: found.map(({ whole: _, count: __, ...item }) => item),
  }
}

// Lines that are neither paired nor coded, those set aside among them.
const unbooked = (account: string, to: string): SQL => sql`
  SELECT b.date, b.description AS title, b.reference AS detail, b.amount, '/bank/' || b.bank_account || '?around=' || b.date AS link FROM bank_line b
  WHERE b.client_id = current_client() AND b.bank_account = ${account} AND b.date <= ${to} AND NOT EXISTS (
    SELECT FROM paired_bank_line k JOIN pairing p USING (client_id, pairing_id)
    WHERE k.client_id = b.client_id AND k.bank_account = b.bank_account AND k.line_id = b.line_id AND p.undone_by IS NULL AND p.sort <> 'set_aside')`

// Entries that stand on the day: reversed ones do not, nor what reverses them.
const standing = (account: string, to: string): SQL => sql`
  SELECT e.fiscal_year, e.number, e.document, e.date, e.memo, sum(l.amount)::bigint AS amount FROM entry_line l
  JOIN entry e USING (client_id, fiscal_year, number)
  WHERE l.client_id = current_client() AND l.account = ${account} AND l.date <= ${to} AND e.reverses_number IS NULL AND NOT EXISTS (
    SELECT FROM entry r WHERE r.client_id = e.client_id AND r.reverses_year = e.fiscal_year AND r.reverses_number = e.number AND r.date <= ${to})
  GROUP BY 1, 2, 3, 4, 5`

// Of each transfer and pairing: what is booked by the day, less what of it has come by then.
const onTheWay = (account: string, to: string): SQL => sql`
  SELECT e.date, coalesce(nullif(e.memo, ''), 'Payout') AS title, 'entry ' || e.fiscal_year || '-' || e.number AS detail, e.amount,
    '/books/entries/' || e.fiscal_year || '-' || e.number AS link
  FROM (${standing(account, to)}) e JOIN transfer t ON t.client_id = current_client() AND t.fiscal_year = e.fiscal_year AND t.number = e.number
  WHERE NOT t.paired
  UNION ALL
  SELECT p.date, 'Paired over the day' AS title, p.pairing_id AS detail, p.booked - p.come AS amount, NULL AS link FROM (
    SELECT k.pairing_id, min(coalesce(t.date, b.date)) AS date,
      coalesce(sum(e.amount), 0)::bigint + coalesce((SELECT sum(x.amount) FROM (${standing(account, to)}) x JOIN pairing q ON q.client_id = current_client()
        AND q.fiscal_year = x.fiscal_year AND q.number = x.number WHERE q.pairing_id = k.pairing_id), 0)::bigint AS booked,
      coalesce((SELECT sum(c.amount) FROM paired_bank_line m JOIN bank_line c USING (client_id, bank_account, line_id)
        WHERE m.client_id = current_client() AND m.pairing_id = k.pairing_id AND c.date <= ${to}), 0)::bigint AS come
    FROM pairing k LEFT JOIN paired_transfer pt ON pt.client_id = k.client_id AND pt.pairing_id = k.pairing_id AND pt.active
    LEFT JOIN transfer t ON t.client_id = pt.client_id AND t.source = pt.source AND t.payout_line = pt.payout_line AND t.generation = pt.generation
    LEFT JOIN (${standing(account, to)}) e ON e.fiscal_year = t.fiscal_year AND e.number = t.number
    LEFT JOIN LATERAL (SELECT min(c.date) AS date FROM paired_bank_line m JOIN bank_line c USING (client_id, bank_account, line_id)
      WHERE m.client_id = k.client_id AND m.pairing_id = k.pairing_id) b ON true
    WHERE k.client_id = current_client() AND k.bank_account = ${account} AND k.undone_by IS NULL AND k.sort <> 'set_aside' GROUP BY k.pairing_id) p`

// What came by no statement and no payout.
const others = (account: string, to: string): SQL => sql`
  SELECT e.date, coalesce(nullif(e.memo, ''), replace(e.document, '_', ' ')) AS title, 'entry ' || e.fiscal_year || '-' || e.number AS detail, e.amount,
    '/books/entries/' || e.fiscal_year || '-' || e.number AS link
  FROM (${standing(account, to)}) e WHERE e.document <> 'opening'
    AND NOT EXISTS (SELECT FROM transfer t WHERE t.client_id = current_client() AND t.fiscal_year = e.fiscal_year AND t.number = e.number)
    AND NOT EXISTS (SELECT FROM pairing p WHERE p.client_id = current_client() AND p.fiscal_year = e.fiscal_year AND p.number = e.number AND p.undone_by IS NULL)`

const loadStatements = (tx: Transaction, account: string) =>
  rowsOf(
    tx,
    {
      number: is.text,
      format: is.text,
      from: is.text,
      to: is.text,
      opening: is.maybe(is.minor),
      closing: is.maybe(is.minor),
      lines: is.whole,
      sum: is.minor,
    },
    sql`SELECT number, format, from_date::text AS "from", to_date::text AS "to", opening, closing, lines, sum FROM statement
      WHERE client_id = current_client() AND bank_account = ${account} ORDER BY from_date, to_date, at`,
  )

/** A bank account held against its statements, up to the end of the last one that ends by `asked` (null: of all). Null for what is no bank account. */
export const loadBankProof = async (
  tx: Transaction,
  account: string,
  asked: string | null,
): Promise<BankProofPage | null> => {
  const [known] = await rowsOf(
    tx,
    { code: is.text, name: is.text, currency: is.text },
    sql`SELECT code, name, currency FROM account WHERE client_id = current_client() AND code = ${account} AND type IN ('bank', 'card')`,
  )
  if (!known) return null
  const all = await loadStatements(tx, account)
  const stated = all.flatMap((one): ProvingStatement[] =>
    one.opening === null || one.closing === null || (asked !== null && one.to > asked)
      ? []
      : [{ ...one, opening: one.opening, closing: one.closing }],
  )
  const chain = chainStatements(stated)
  const to = chain.at(-1)?.to
  const withoutBalances = all.filter(one => one.opening === null || one.closing === null).length
  if (to === undefined) return { account: known, withoutBalances, statements: [], proof: null, causes: [], gaps: [] }
  const proof = await proofAt(tx, { account, to, stated })
  if (!proof) return null
  const { causes, gaps, notFooting, ...told } = proof
  return {
    account: known,
    withoutBalances,
    statements: [...chain, ...notFooting.filter(one => !chain.includes(one))].map(one => ({
      ...one,
      foots: !notFooting.includes(one),
    })),
    proof: told,
    causes: causes.map(one => ({ ...one, items: [...one.items] })),
    gaps: gaps.map(({ statement, ...gap }) => ({ ...gap, before: statement.number })),
  }
}

const proofAt = async (
  tx: Transaction,
  {
    account,
    to,
    stated,
  }: { readonly account: string; readonly to: string; readonly stated: readonly ProvingStatement[] },
): Promise<BankProof<Item> | null> => {
  const oldest = addDays(to, -defaultTiming.onItsWayDays)
  const { books, opening } = await oneRow(
    tx,
    { books: is.minor, opening: is.minor },
    sql`SELECT (SELECT coalesce(sum(amount), 0)::bigint FROM entry_line WHERE client_id = current_client() AND account = ${account} AND date <= ${to}) AS books,
      (SELECT coalesce(sum(amount), 0)::bigint FROM (${standing(account, to)}) e WHERE document = 'opening') AS opening`,
  )
  return proveBank(stated, {
    books,
    openingEntries: opening,
    lineSums: await rowsOf(
      tx,
      { date: is.text, amount: is.minor },
      sql`SELECT date::text, sum(amount)::bigint AS amount FROM bank_line
        WHERE client_id = current_client() AND bank_account = ${account} AND date <= ${to} GROUP BY 1`,
    ),
    unbooked: await itemsOf(tx, unbooked(account, to)),
    onTheWay: await itemsOf(tx, sql`SELECT w.* FROM (${onTheWay(account, to)}) w WHERE w.date >= ${oldest}::date`),
    overdue: await itemsOf(tx, sql`SELECT w.* FROM (${onTheWay(account, to)}) w WHERE w.date < ${oldest}::date`),
    others: await itemsOf(tx, others(account, to)),
  })
}
