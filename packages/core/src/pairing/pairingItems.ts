/** A payout's transfer, waiting for its deposit. Minor units; plus is money into the bank account. */
export interface OpenTransfer {
  readonly id: string
  readonly source: string
  readonly bankAccount: string
  readonly currency: string
  /** Date of the transfer entry. */
  readonly date: string
  readonly amount: number
  /** The payout's reference at its source. */
  readonly reference: string | null
}

export interface OpenBankLine {
  readonly id: string
  readonly bankAccount: string
  readonly currency: string
  readonly date: string
  readonly amount: number
  readonly description: string
  readonly reference: string
}

export interface PairingOptions {
  /** A deposit is dated 0 to so many days after its payout. */
  readonly windowDays: number
  /** Most members on the many side of a group. */
  readonly maxGroup: number
  /** A deposit may be short of its payout by up to this (minor units); null: not sought. */
  readonly bankFeeUpTo: number | null
  /** Confirmed wordings per source, besides its key. */
  readonly bankTexts: ReadonlyMap<string, readonly string[]>
  /** Sources that pay into or draw from each bank account, by its name; absent: all that are known pay into each. */
  readonly payers?: ReadonlyMap<string, ReadonlySet<string>>
  /** Bank lines that bear the reference of a payout that is decided already, by id: they go with no other. */
  readonly boundLines?: Iterable<string>
  /** Payouts whose reference a bank line bears that is decided already, by id: likewise. */
  readonly boundTransfers?: Iterable<string>
  /**
   * Doubts references that may be mistyped or cut off, and texts that carry the names of two sources (rules of pairing, section 7). Absent: references and
   * names are taken as they stand.
   */
  readonly doubtReferences?: boolean
  /** Until when data is known: a grouping whose window ends later is not certain by uniqueness. Null: complete. */
  readonly completeTo: string | null
  /** Days that a source's deposits took so far, from the least to the most; evidence, never a bound. */
  readonly usualLags?: ReadonlyMap<string, { readonly from: number; readonly to: number }>
}

/** Bank lines and transfers that could be the same money. Both lists in order of (date, id). */
export interface Grouping {
  readonly bankLines: readonly OpenBankLine[]
  readonly transfers: readonly OpenTransfer[]
  /** Its members' keys, where somebody has put them together already. */
  readonly keys?: readonly string[]
}

/** Names an item among both sides. */
export const keyOfLine = (line: { readonly id: string }): string => `b${line.id}`
export const keyOfTransfer = (transfer: { readonly id: string }): string => `t${transfer.id}`

/** Keys of a grouping's members. */
export const keysOf = ({ bankLines, transfers, keys }: Grouping): readonly string[] =>
  keys ?? [...bankLines.map(keyOfLine), ...transfers.map(keyOfTransfer)]

/** A grouping that knows its members' keys. */
export const keyed = (grouping: Grouping): Grouping & { readonly keys: readonly string[] } => ({
  bankLines: grouping.bankLines,
  transfers: grouping.transfers,
  keys: keysOf(grouping),
})

/** What the bank says of a line: its reference and its description, on lines of their own. */
export const textOfLine = (line: OpenBankLine): string => `${line.reference} \n ${line.description}`

export const byDateAndId = (left: { date: string; id: string }, right: { date: string; id: string }): number =>
  left.date !== right.date ? (left.date < right.date ? -1 : 1) : left.id === right.id ? 0 : left.id < right.id ? -1 : 1

/** Days from the last payout to the last bank line. */
export const lagDays = (grouping: Grouping, daysBetween: (from: string, to: string) => number): number =>
  daysBetween((grouping.transfers.at(-1) as OpenTransfer).date, (grouping.bankLines.at(-1) as OpenBankLine).date)
