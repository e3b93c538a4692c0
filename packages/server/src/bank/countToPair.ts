import { sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { type Look, together, type Waiting, type WaitingIn } from '../course/stages.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { loadInBase } from '../setup/inBase.ts'
import { loadOpenItems, type OpenItems } from './openItems.ts'
import { pairBeside } from './pairBeside.ts'

/** Open items up to which an account is paired to be counted; beyond it items of one amount are taken for one thing. */
const mostPaired = 400

/** What is to pair, in base; the note says how many bank lines there are. */
export const countWaiting = async (look: Look): Promise<Waiting> => {
  const { counted, few, inBase } = await look(async tx => ({ ...(await loadToPair(tx)), inBase: await loadInBase(tx) }))
  for (const { currency, open } of few) counted.push(await byPairing(currency, open))
  return together(counted, inBase)
}

/** What is to pair: payouts and deposits that belong together are one thing to decide, and one sum of money. Accounts with few items are yet to be paired. */
const loadToPair = async (
  tx: Transaction,
): Promise<{ counted: WaitingIn[]; few: readonly { currency: string; open: OpenItems }[] }> => {
  const accounts = await rowsOf(
    tx,
    { account: is.text, currency: is.text, items: is.whole },
    sql`
    SELECT account, a.currency, sum(items)::int AS items FROM (
      SELECT bank_account AS account, count(*) AS items FROM transfer
      WHERE client_id = current_client() AND NOT paired AND NOT reversed GROUP BY 1
      UNION ALL SELECT bank_account, count(*) FROM open_bank_line WHERE client_id = current_client() GROUP BY 1
    ) open JOIN account a ON a.client_id = current_client() AND a.code = open.account GROUP BY 1, 2 ORDER BY 1`,
  )
  const few = accounts.filter(on => on.items <= mostPaired)
  const counted = await byAmount(
    tx,
    accounts.filter(on => !few.includes(on)).map(on => on.account),
  )
  const toPair: { currency: string; open: OpenItems }[] = []
  for (const { account, currency } of few) toPair.push({ currency, open: await loadOpenItems(tx, account) })
  return { counted, few: toPair }
}

const byPairing = async (currency: string, open: OpenItems): Promise<WaitingIn> => {
  const { transfers, lines, facts } = open
  const { proposals } = await pairBeside({ transfers, lines, facts })
  const tied = {
    transfers: new Set(proposals.flatMap(({ transfers }) => transfers.map(transfer => transfer.id))),
    lines: new Set(proposals.flatMap(({ bankLines }) => bankLines.map(line => line.id))),
  }
  const alone = [
    ...open.transfers.filter(transfer => !tied.transfers.has(transfer.id)),
    ...open.lines.filter(line => !tied.lines.has(line.id)),
  ]
  return {
    currency,
    waiting: proposals.length + alone.length,
    amount: sumMinor(
      [
        ...proposals.map(({ transfers }) => sumMinor(transfers, transfer => transfer.amount)),
        ...alone.map(item => item.amount),
      ],
      Math.abs,
    ),
    note: open.lines.length,
  }
}

const byAmount = (tx: Transaction, accounts: readonly string[]): Promise<WaitingIn[]> =>
  rowsOf(
    tx,
    { currency: is.text, waiting: is.whole, amount: is.minor, note: is.whole },
    sql`
    SELECT currency, sum(greatest(paid, came))::int AS waiting, sum(abs(amount) * greatest(paid, came))::bigint AS amount,
      sum(came)::int AS note
    FROM (
      SELECT currency, bank_account, amount, sum(paid) AS paid, sum(came) AS came FROM (
        SELECT currency, bank_account, amount, 1 AS paid, 0 AS came FROM transfer
        WHERE client_id = current_client() AND NOT paired AND NOT reversed AND bank_account = ANY(${sql.param([...accounts])}::text[])
        UNION ALL
        SELECT a.currency, o.bank_account, o.amount, 0, 1
        FROM open_bank_line o JOIN account a ON a.client_id = o.client_id AND a.code = o.bank_account
        WHERE o.client_id = current_client() AND o.bank_account = ANY(${sql.param([...accounts])}::text[])
      ) items GROUP BY 1, 2, 3
    ) alike GROUP BY 1`,
  )
