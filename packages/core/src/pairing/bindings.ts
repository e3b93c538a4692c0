import { dayNumber } from '../activity/localDate.ts'
import { isTellingReference, type ReadText, WordsIndex } from './bankWording.ts'
import type { OpenBankLine, OpenTransfer, PairingOptions } from './pairingItems.ts'

/** Days after a payout up to which a bank line that bears its reference may be its deposit, and equal amounts take certainty away. */
export const referenceDays = 30

/**
 * What references bind (rules of pairing, section 7): a bank line that bears references of payouts goes with none but these, and a payout whose reference
 * is borne in time goes with none but the lines that bear it, whatever the amounts.
 */
export class Bindings {
  private readonly borneBy = new Map<OpenBankLine, OpenTransfer[]>()
  private readonly bearersOf = new Map<OpenTransfer, OpenBankLine[]>()
  /** Ids of payouts whose reference any bank line bears, whenever it is dated, or bore that is decided. */
  private readonly borneTransfers: Set<string>
  /** Ids. */
  private readonly boundLines: Set<string>
  private readonly boundTransfers: Set<string>

  constructor(
    transfers: readonly OpenTransfer[],
    bankLines: readonly OpenBankLine[],
    options: Pick<PairingOptions, 'boundLines' | 'boundTransfers'>,
    textOf: (line: OpenBankLine) => ReadText,
  ) {
    this.boundLines = new Set(options.boundLines ?? [])
    this.boundTransfers = new Set(options.boundTransfers ?? [])
    this.borneTransfers = new Set(this.boundTransfers)
    const references = new WordsIndex<OpenTransfer>()
    for (const transfer of transfers)
      if (isTellingReference(transfer.reference)) references.add(transfer.reference, transfer)
    for (const line of bankLines)
      for (const { meaning: transfer } of references.in(textOf(line)))
        if (transfer.bankAccount === line.bankAccount) this.note(line, transfer)
  }

  private note(line: OpenBankLine, transfer: OpenTransfer): void {
    if (this.bears(line, transfer)) return
    append(this.borneBy, line, transfer)
    this.boundLines.add(line.id)
    this.borneTransfers.add(transfer.id)
    const lag = dayNumber(line.date) - dayNumber(transfer.date)
    if (lag < 0 || lag > referenceDays) return
    append(this.bearersOf, transfer, line)
    this.boundTransfers.add(transfer.id)
  }

  bears(line: OpenBankLine, transfer: OpenTransfer): boolean {
    return this.borneBy.get(line)?.includes(transfer) === true
  }
  /** Payouts that a line bears, of any date and amount. */
  borne(line: OpenBankLine): readonly OpenTransfer[] {
    return this.borneBy.get(line) ?? []
  }
  /** Lines that bear a payout, dated 0 to 30 days after it. */
  bearers(transfer: OpenTransfer): readonly OpenBankLine[] {
    return this.bearersOf.get(transfer) ?? []
  }
  /** Whether a payout has a reference that no bank line bears: it may stand mistyped or cut off in one. */
  isUnborne({ id, reference }: OpenTransfer): boolean {
    return reference !== null && reference !== '' && !this.borneTransfers.has(id)
  }
  isBound(item: OpenBankLine | OpenTransfer): boolean {
    return 'source' in item ? this.boundTransfers.has(item.id) : this.boundLines.has(item.id)
  }
  /** Whether the two may be the same money by their dates and references. */
  mayMeet(line: OpenBankLine, transfer: OpenTransfer, windowDays: number): boolean {
    const lag = dayNumber(line.date) - dayNumber(transfer.date)
    if (lag < 0) return false
    if (this.bears(line, transfer)) return lag <= referenceDays
    return lag <= windowDays && !this.isBound(line) && !this.isBound(transfer)
  }
}

const append = <Key, Item>(lists: Map<Key, Item[]>, key: Key, item: Item): void => {
  const list = lists.get(key)
  if (list) list.push(item)
  else lists.set(key, [item])
}
