import type { SavedColumns } from '@culvert/contract'
import {
  type ActivityLine,
  type BankLine,
  bankChoiceReader,
  checkBankChoice,
  checkChoice,
  expectedText,
  FaultList,
  type FileFault,
  mappedReader,
  mappingOf,
  plainNumber,
} from '@culvert/core'

export interface PreviewAsked {
  readonly said: SavedColumns
  readonly header: readonly string[]
  readonly rows: readonly (readonly string[])[]
}

/** A row that what was said makes of the file. */
export interface MadeRow {
  readonly row: number
  readonly line: ActivityLine | BankLine
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
}

const lackingOf = ({ said }: PreviewAsked, words: readonly WordSeen[]): Preview['lacking'] => {
  const faults =
    said.of === 'bank'
      ? checkBankChoice(said.choice)
      : checkChoice(
          said.choice,
          words.map(one => one.word),
        )
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

const wordsOf = ({ said, header, rows }: PreviewAsked): readonly WordSeen[] => {
  if (said.of === 'bank') return []
  const { columns, numbers } = said.choice
  const placeOf = (meaning: string) => {
    const name = columns.find(one => one.meaning === meaning)?.name
    return name === undefined ? -1 : header.findIndex(one => one.trim() === name)
  }
  const at = placeOf('kind')
  if (at < 0) return []
  const amountAt = ['gross', 'amount', 'credit', 'net'].map(placeOf).find(place => place >= 0) ?? -1
  const seen = new Map<string, { rows: number; amount: number }>()
  for (const row of rows) {
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
  rows.forEach((record, at) => {
    for (const line of read(record, at + 2)) {
      lines++
      sums[line.currency] = (sums[line.currency] ?? 0) + line.amount
      if (made.length < mostShown) made.push({ row: at + 2, line })
    }
  })
  return { lacking, made, lines, faults: shown(faults), faultCount: faults.count, words, sums }
}

const shown = (faults: FaultList): Preview['faults'] =>
  faults.shown.map(fault => ({ ...fault, expected: expectedText(fault) }))

const readerOf = (
  { said, header }: PreviewAsked,
  faults: FaultList,
): ((record: readonly string[], row: number) => readonly (ActivityLine | BankLine)[]) | null => {
  if (said.of === 'bank') {
    const choice = { ...said.choice, account: said.choice.account ?? '-' }
    const reader = bankChoiceReader(choice, header, faults)
    return (
      reader &&
      ((record, row) => {
        const line = reader.read(record, row, faults)
        return line ? [line] : []
      })
    )
  }
  const reader = mappedReader(mappingOf(said.choice, 'preview'), header, { source: 'preview', faults })
  return reader && ((record, row) => reader.read(record, row, faults) ?? [])
}
