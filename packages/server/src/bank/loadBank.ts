import type { BankItem, BankPage, PairingRow, TransferItem } from '@culvert/contract'
import { addDays, type Grouping, type PairingOptions, proposePairings } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { oneRow, rowsOf, type Transaction } from '../database/connect.ts'
import { loadSetup } from '../settlements/loadSetup.ts'
import { transferId } from './transferId.ts'

/** A deposit comes within so many days of its payout. */
const windowDays = 7
const maxGroup = 12
/** Minor units by which a deposit may be short, as a bank fee. */
const bankFeeUpTo = 500

interface TransferRow {
  readonly source: string
  readonly payout_line: string
  readonly generation: number
  readonly key: string
  readonly currency: string
  readonly date: string
  readonly amount: number
  readonly reference: string | null
  readonly entry: string
}

const transferColumns = sql`t.source, t.payout_line, t.generation, t.key, t.currency, t.date::text, t.amount, t.reference,
  t.fiscal_year || '-' || t.number AS entry`

const openTransfers = (tx: Transaction, account: string) =>
  rowsOf<TransferRow>(
    tx,
    sql`SELECT ${transferColumns} FROM transfer t
    WHERE t.client_id = current_client() AND t.bank_account = ${account} AND NOT t.paired AND NOT t.reversed ORDER BY t.date`,
  )

const openLines = (tx: Transaction, account: string) =>
  rowsOf<BankItem>(
    tx,
    sql`SELECT o.line_id AS id, o.date::text, o.amount, b.currency, b.description, b.reference
    FROM open_bank_line o JOIN bank_line b USING (client_id, bank_account, line_id)
    WHERE o.client_id = current_client() AND o.bank_account = ${account} ORDER BY o.date, o.line_id`,
  )

/** Until when both sides are known: the statement's end, or the source least far pulled. */
const completeTo = async (
  tx: Transaction,
  account: string,
): Promise<{ statementTo: string | null; booksTo: string | null }> => {
  const row = await oneRow<{ statement_to: string | null; pulled_to: string | null }>(
    tx,
    sql`
    SELECT (SELECT max(date)::text FROM bank_line WHERE client_id = current_client() AND bank_account = ${account}) AS statement_to,
      (SELECT min((s.pulled_to AT TIME ZONE c.time_zone)::date)::text FROM source s
        WHERE s.client_id = c.client_id AND EXISTS (SELECT FROM source_bank k WHERE k.client_id = s.client_id
          AND k.source = s.source AND k.account = ${account})) AS pulled_to
    FROM client c WHERE c.client_id = current_client()`,
  )
  return { statementTo: row.statement_to, booksTo: row.pulled_to }
}

/** Days that each source's last confirmed deposits took, but for the quickest and slowest twentieth. */
const usualLags = async (tx: Transaction, account: string) => {
  const rows = await rowsOf<{ source: string; from: number; to: number }>(
    tx,
    sql`
    SELECT source, percentile_disc(0.05) WITHIN GROUP (ORDER BY lag) AS "from", percentile_disc(0.95) WITHIN GROUP (ORDER BY lag) AS "to"
    FROM (SELECT t.source, (SELECT max(b.date) FROM paired_bank_line pb JOIN bank_line b USING (client_id, bank_account, line_id)
        WHERE pb.client_id = pt.client_id AND pb.pairing_id = pt.pairing_id) - t.date AS lag
      FROM (SELECT * FROM transfer WHERE client_id = current_client() AND bank_account = ${account} AND paired
        ORDER BY date DESC LIMIT 300) t
      JOIN paired_transfer pt USING (client_id, source, payout_line, generation) WHERE pt.active) l
    WHERE lag IS NOT NULL GROUP BY source`,
  )
  return new Map(rows.map(({ source, ...lag }) => [source, lag]))
}

/** Everything that the tide table of a bank account shows between two dates. */
export const loadBankPage = async (
  tx: Transaction,
  code: string,
  wanted: { from: string | null; to: string | null },
): Promise<BankPage | null> => {
  const accounts = await rowsOf<BankPage['account']>(
    tx,
    sql`
    SELECT code, name, currency, bank_number AS "bankNumber" FROM account WHERE type IN ('bank', 'card') ORDER BY code`,
  )
  const account = accounts.find(candidate => candidate.code === code)
  if (!account) return null
  const { sourceNames, setup } = await loadSetup(tx)
  const known = await completeTo(tx, code)
  const transfers = (await openTransfers(tx, code)).map(row => transferItem(row, sourceNames))
  const lines = await openLines(tx, code)
  const options: PairingOptions = {
    windowDays,
    maxGroup,
    bankFeeUpTo,
    bankTexts: new Map([...setup.sources].map(([key, source]) => [key, source.bankTexts])),
    usualLags: await usualLags(tx, code),
    completeTo: [known.statementTo, known.booksTo].reduce(
      (least, date) => (date === null || least === null ? '0000-01-01' : date < least ? date : least),
      '9999-12-31',
    ),
  }
  const proposal = proposePairings(
    transfers.map(transfer => ({ ...transfer, bankAccount: code })),
    lines.map(line => ({ ...line, bankAccount: code })),
    options,
  )
  const { from, to } = rangeOf(wanted, known.statementTo, [...transfers, ...lines])
  const transferById = new Map(transfers.map(transfer => [transfer.id, transfer]))
  const lineById = new Map(lines.map(line => [line.id, line]))
  const ids = (grouping: Grouping) => ({
    transfers: grouping.transfers.map(transfer => transfer.id),
    bankLines: grouping.bankLines.map(line => line.id),
  })
  const proposals = proposal.pairings.map(
    (pairing): PairingRow => ({
      pairingId: null,
      sureness: pairing.sureness,
      difference: pairing.difference,
      transfers: pairing.transfers.map(transfer => transferById.get(transfer.id) as TransferItem),
      bankLines: pairing.bankLines.map(line => lineById.get(line.id) as BankItem),
      evidence: pairing.evidence,
      others: pairing.others.map(ids),
      waitsFor: pairing.waitsFor,
    }),
  )
  const inProposal = new Set(proposals.flatMap(row => [...row.transfers, ...row.bankLines].map(item => item.id)))
  const within = (item: { date: string }) => item.date >= from && item.date <= to
  const touches = (row: PairingRow) => row.transfers.some(within) || row.bankLines.some(within)
  const transfersAlone = transfers.filter(transfer => !inProposal.has(transfer.id))
  const linesAlone = lines.filter(line => !inProposal.has(line.id))
  return {
    account,
    accounts: accounts.map(({ code: other, name }) => ({ code: other, name })),
    from,
    to,
    ...known,
    proposals: proposals.filter(touches),
    confirmed: await loadConfirmed(tx, { code, from, to, sourceNames }),
    transfersAlone: transfersAlone.filter(within),
    linesAlone: linesAlone.filter(within),
    groupsNotSearched: [...proposal.groupsNotSearched],
    tooManyFit: [...proposal.tooManyFit],
    certain: proposals.filter(row => row.sureness === 'certain').length,
    open: transfersAlone.length + linesAlone.length + proposals.length,
  }
}

/** All certain pairings of an account, whatever their dates: what "confirm all certain" means. */
export const certainGroups = async (tx: Transaction, code: string) => {
  const page = await loadBankPage(tx, code, { from: '0001-01-01', to: '9999-12-31' })
  return (page?.proposals ?? [])
    .filter(row => row.sureness === 'certain')
    .map(row => ({
      transfers: row.transfers.map(transfer => transfer.id),
      bankLines: row.bankLines.map(line => line.id),
    }))
}

export const transferItem = (row: TransferRow, sourceNames: ReadonlyMap<string, string>): TransferItem => ({
  id: transferId(row),
  source: row.source,
  sourceName: sourceNames.get(row.source) ?? row.source,
  key: row.key,
  currency: row.currency,
  date: row.date,
  amount: row.amount,
  reference: row.reference,
  entry: row.entry,
})

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

const loadConfirmed = async (
  tx: Transaction,
  wanted: { code: string; from: string; to: string; sourceNames: ReadonlyMap<string, string> },
): Promise<PairingRow[]> => {
  const rows = await rowsOf<{
    pairing_id: string
    sureness: PairingRow['sureness']
    evidence: PairingRow['evidence']
    transfers: TransferRow[]
    lines: BankItem[]
  }>(
    tx,
    sql`
    SELECT p.pairing_id, p.sureness, p.evidence,
      (SELECT json_agg(x) FROM (SELECT ${transferColumns} FROM paired_transfer m
        JOIN transfer t USING (client_id, source, payout_line, generation) WHERE m.pairing_id = p.pairing_id ORDER BY t.date) x) AS transfers,
      (SELECT json_agg(x) FROM (SELECT b.line_id AS id, b.date::text, b.amount, b.currency, b.description, b.reference
        FROM paired_bank_line m JOIN bank_line b USING (client_id, bank_account, line_id)
        WHERE m.pairing_id = p.pairing_id ORDER BY b.date) x) AS lines
    FROM pairing p
    WHERE p.client_id = current_client() AND p.bank_account = ${wanted.code} AND p.undone_by IS NULL
      AND EXISTS (SELECT FROM paired_bank_line m JOIN bank_line b USING (client_id, bank_account, line_id)
        WHERE m.client_id = p.client_id AND m.pairing_id = p.pairing_id AND b.date BETWEEN ${wanted.from} AND ${wanted.to})`,
  )
  return rows
    .map(row => ({
      pairingId: row.pairing_id,
      sureness: row.sureness,
      difference: 0,
      evidence: row.evidence,
      others: [],
      waitsFor: null,
      transfers: row.transfers.map(transfer => transferItem(transfer, wanted.sourceNames)),
      bankLines: row.lines,
    }))
    .sort((left, right) => ((left.bankLines[0]?.date ?? '') < (right.bankLines[0]?.date ?? '') ? -1 : 1))
}
