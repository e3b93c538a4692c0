import type { SavedColumns } from '@culvert/contract'
import {
  type ActivityLine,
  type BankLine,
  bankChoiceReader,
  checkBankChoice,
  checkChoice,
  checkRowChoice,
  expectedText,
  FaultList,
  type FileFault,
  kinds,
  mappedReader,
  mappingOf,
  plainNumber,
  type ReportedBalance,
  rowChoiceReader,
  type SettlementHead,
} from '@culvert/core'

export interface PreviewAsked {
  readonly said: SavedColumns
  /** Rows that are set aside, by their numbers. */
  readonly aside?: ReadonlySet<number>
  readonly header: readonly string[]
  readonly rows: readonly (readonly string[])[]
}

/** A row that what was said makes of the file, as it is shown. */
export interface MadeRow {
  readonly row: number
  readonly key: string
  /** Local date; empty where it tells none. */
  readonly day: string
  readonly what: string
  readonly of: string
  /** Minor units; null where the row tells none. */
  readonly amount: number | null
  readonly currency: string
  readonly state: string
}

/** A word that the file has for a movement, with its rows and what stands in them, as plain decimals. */
export interface WordSeen {
  readonly word: string
  readonly rows: number
  readonly amount: number
}

export interface Preview {
  /** What is lacking before lines can be made, as codes. */
  readonly lacking: readonly { readonly code: string; readonly text: string }[]
  readonly made: readonly MadeRow[]
  readonly lines: number
  readonly faults: readonly (FileFault & { readonly expected: string })[]
  readonly faultCount: number
  readonly words: readonly WordSeen[]
  /** By currency, minor units. */
  readonly sums: Readonly<Record<string, number>>
}

const mostShown = 60

const lackText: Record<string, string> = {
  no_time: 'a column for the day',
  no_amount: 'a column for the amount',
  amount_twice: 'one amount: gross, amount, or credit and debit',
  no_kind: 'what kind the movements are',
  no_currency: 'the currency',
  no_account: 'the account',
  no_settlement: 'the number of the settlement',
  no_available: 'a column for what is available',
}

const lackingOf = ({ said }: PreviewAsked, words: readonly WordSeen[]): Preview['lacking'] => {
  const faults =
    said.of === 'bank'
      ? checkBankChoice(said.choice)
      : said.of === 'activity'
        ? checkChoice(
            said.choice,
            words.map(one => one.word),
          )
        : checkRowChoice(said.of, said.choice)
  return faults.map(fault => ({
    code: fault.code,
    text:
      fault.code === 'meaning_twice'
        ? `${fault.columns.join(' and ')} cannot both be the ${fault.meaning.replaceAll('_', ' ')}`
        : fault.code === 'kind_open'
          ? `the kind of “${fault.word}”`
          : (lackText[fault.code] ?? fault.code),
  }))
}

const wordsOf = ({ said, header, rows, aside }: PreviewAsked): readonly WordSeen[] => {
  if (said.of !== 'activity') return []
  const { columns, numbers } = said.choice
  const placeOf = (meaning: string) => {
    const name = columns.find(one => one.meaning === meaning)?.name
    return name === undefined ? -1 : header.findIndex(one => one.trim() === name)
  }
  const at = placeOf('kind')
  if (at < 0) return []
  const amountAt = ['gross', 'amount', 'credit', 'net'].map(placeOf).find(place => place >= 0) ?? -1
  const seen = new Map<string, { rows: number; amount: number }>()
  for (const [index, row] of rows.entries()) {
    if (aside?.has(index + 2)) continue
    const word = (row[at] ?? '').trim()
    const one = seen.get(word) ?? { rows: 0, amount: 0 }
    one.rows++
    one.amount += Number(plainNumber(row[amountAt] ?? '', numbers) ?? 0)
    seen.set(word, one)
  }
  return [...seen]
    .map(([word, one]) => ({ word, ...one }))
    .sort((left, right) => Math.abs(right.amount) - Math.abs(left.amount))
}

/** What a file comes to by what was said of its columns: the lines that it makes, what cannot be read, and what is lacking. */
export const previewFile = (asked: PreviewAsked): Preview => {
  const { rows } = asked
  const words = wordsOf(asked)
  const lacking = lackingOf(asked, words)
  const nothing = { lacking, made: [], lines: 0, faults: [], faultCount: 0, words, sums: {} }
  if (lacking.some(one => one.code !== 'kind_open' && one.code !== 'no_account')) return nothing
  const faults = new FaultList()
  const read = readerOf(asked, faults)
  if (!read) return { ...nothing, faults: shown(faults), faultCount: faults.count }
  const made: MadeRow[] = []
  const sums: Record<string, number> = {}
  let lines = 0
  // Balances of several days come to nothing together.
  const addsUp = asked.said.of === 'activity' || asked.said.of === 'bank'
  rows.forEach((record, at) => {
    if (asked.aside?.has(at + 2)) return
    for (const line of read(record, at + 2)) {
      lines++
      if (line.amount !== null && addsUp) sums[line.currency] = (sums[line.currency] ?? 0) + line.amount
      if (made.length < mostShown) made.push({ row: at + 2, ...line })
    }
  })
  return { lacking, made, lines, faults: shown(faults), faultCount: faults.count, words, sums }
}

const shown = (faults: FaultList): Preview['faults'] =>
  faults.shown.map(fault => ({ ...fault, expected: expectedText(fault) }))

type Shown = Omit<MadeRow, 'row'>

const shownLine = (line: ActivityLine): Shown => ({
  key: line.lineId,
  day: line.occurredAt.slice(0, 10),
  what: kinds[line.kind].label,
  of: [line.orderId, line.customer].filter(Boolean).join(' · '),
  amount: line.amount,
  currency: line.currency,
  state: line.status,
})

const shownBankLine = (line: BankLine): Shown => ({
  key: line.lineId,
  day: line.date,
  what: line.description,
  of: line.reference,
  amount: line.amount,
  currency: line.currency,
  state: '',
})

const shownHead = (head: SettlementHead): Shown => ({
  key: head.settlementId,
  day: head.periodEnd ?? head.periodStart ?? '',
  what: head.settlementId,
  of: [head.periodStart && `from ${head.periodStart}`, head.payoutDate && `paid ${head.payoutDate}`]
    .filter(Boolean)
    .join(' · '),
  amount: head.closingBalance,
  currency: head.currency,
  state: '',
})

const shownBalance = (balance: ReportedBalance): Shown => ({
  key: `${balance.date} ${balance.currency}`,
  day: balance.date,
  what: 'available',
  of: '',
  amount: balance.available,
  currency: balance.currency,
  state: '',
})

const ofRows = <One>(
  reader: { read(record: readonly string[], row: number, faults: FaultList): One | null } | null,
  shown: (one: One) => Shown,
  faults: FaultList,
): ReadRow | null =>
  reader &&
  ((record, row) => {
    const one = reader.read(record, row, faults)
    return one === null ? [] : [shown(one)]
  })

type ReadRow = (record: readonly string[], row: number) => readonly Shown[]

const readerOf = ({ said, header }: PreviewAsked, faults: FaultList): ReadRow | null => {
  const context = { source: 'preview', faults }
  switch (said.of) {
    case 'bank': {
      const choice = { ...said.choice, account: said.choice.account ?? '-' }
      return ofRows(bankChoiceReader(choice, header, faults), shownBankLine, faults)
    }
    case 'settlements':
      return ofRows(rowChoiceReader('settlements', said.choice, header, context), shownHead, faults)
    case 'balances':
      return ofRows(rowChoiceReader('balances', said.choice, header, context), shownBalance, faults)
    case 'activity': {
      const reader = mappedReader(mappingOf(said.choice, 'preview'), header, context)
      return reader && ((record, row) => (reader.read(record, row, faults) ?? []).map(shownLine))
    }
  }
}
