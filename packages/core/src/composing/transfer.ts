import { convertWide, rateOn } from '../money/exchange.ts'
import { isMinor } from '../money/minor.ts'
import { type DraftEntry, finishedLines, mergeParts } from './draft.ts'
import type { PayoutLine, SettlementActivity } from './settlementActivity.ts'
import { notBefore, payoutDate } from './settlementDates.ts'
import type { BankRow, Setup, Source } from './setup.ts'

type Outcome =
  | { readonly ok: true; readonly entry: DraftEntry }
  | { readonly ok: false; readonly reasons: readonly TransferBlock[] }

export type TransferBlock = 'unmapped' | 'account_unusable' | 'rate_missing' | 'out_of_range'

/** The bank row that serves a region and currency: the part wins over the country, the country over none. */
export const bankRowFor = (rows: readonly BankRow[], region: string | null, currency: string): BankRow | null => {
  const rank = (row: BankRow): number => {
    if (row.currency !== currency) return 0
    if (row.region === null) return 1
    if (region === row.region) return row.region.includes('-') ? 3 : 2
    return !row.region.includes('-') && region?.startsWith(`${row.region}-`) ? 2 : 0
  }
  let best: BankRow | null = null
  for (const row of rows) if (rank(row) > (best ? rank(best) : 0)) best = row
  return best
}

/** Composes a payout's transfer: bank against clearing, in the direction that the money went. */
export const composeTransfer = (
  payout: PayoutLine,
  context: { activity: SettlementActivity; setup: Setup; source: Source },
): Outcome => {
  const { activity, setup, source } = context
  const { currency } = activity
  // A payout below zero is paid in, one above zero drawn; a return takes the rows of what it returns.
  const paidIn = payout.kind === 'payout' ? payout.amount < 0 : payout.amount > 0
  const bank = bankRowFor(paidIn ? source.paysInto : source.drawnFrom, payout.region || source.options.place, currency)
  const clearing = source.clearing[currency]
  const account = bank ? setup.accounts.get(bank.account) : undefined
  const date = notBefore(payoutDate(payout, activity), source)
  const rate = currency === setup.base ? null : rateOn(setup.rates, { currency, base: setup.base, date })
  const reasons: TransferBlock[] = []
  if (!bank || clearing === undefined) reasons.push('unmapped')
  if (bank && (!account || account.archived)) reasons.push('account_unusable')
  if (currency !== setup.base && rate === null) reasons.push('rate_missing')
  const money = { currency, base: setup.base, rate, exchangeRounding: setup.exchangeRounding }
  if (rate !== null && !isMinor(convertWide(payout.amount, rate, money))) reasons.push('out_of_range')
  if (!bank || clearing === undefined || reasons.length > 0) return { ok: false, reasons }
  const part = (code: string, amount: number) => ({
    account: code,
    taxCode: '',
    segments: '',
    amount,
    bucket: null,
    routes: [],
  })
  const merged = mergeParts([part(bank.account, -payout.amount), part(clearing, payout.amount)])
  const lines = finishedLines(merged, money)
  if (!Array.isArray(lines)) return { ok: false, reasons: [lines] }
  return { ok: true, entry: { document: 'transfer', date, currency, payoutLine: payout.lineId, lines } }
}
