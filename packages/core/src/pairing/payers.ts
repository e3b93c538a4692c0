import { type FoundWords, foldText, type ReadText, WordsIndex } from './bankWording.ts'
import type { OpenBankLine, OpenTransfer, PairingOptions } from './pairingItems.ts'

/**
 * Whom bank lines name as their payer: of the keys and confirmed wordings of all sources that pay into the account the longest that stands in the text; two
 * as long of different sources name nobody.
 */
export class Payers {
  private readonly wordings = new Map<string, WordsIndex<string>>()
  private readonly known = new Map<OpenBankLine, string | null>()
  private readonly sources: readonly (readonly [string, readonly string[]])[]
  private readonly options: PairingOptions
  private readonly textOf: (line: OpenBankLine) => ReadText

  constructor(transfers: readonly OpenTransfer[], options: PairingOptions, textOf: (line: OpenBankLine) => ReadText) {
    this.options = options
    this.textOf = textOf
    const keys = new Set([...options.bankTexts.keys(), ...transfers.map(transfer => transfer.source)])
    this.sources = [...keys].map(key => [key, [key, ...(options.bankTexts.get(key) ?? [])]] as const)
  }

  /** The source that a line names; null where it names nobody. */
  named(line: OpenBankLine): string | null {
    const known = this.known.get(line)
    if (known !== undefined) return known
    const found = longest(this.wordingsIn(line))
    this.known.set(line, found)
    return found
  }

  /**
   * Whether a line that names `source` also carries the key or a wording of another source that pays into its account. What stands within a wording of
   * `source` is a part of that name and names nobody: `open` in `open hall`.
   */
  carriesAnother(line: OpenBankLine, source: string): boolean {
    const found = this.wordingsIn(line)
    const own = found.filter(({ meaning }) => meaning === source)
    return found.some(one => one.meaning !== source && !own.some(name => isWithin(one, name)))
  }

  private wordingsIn(line: OpenBankLine) {
    return this.indexOf(line.bankAccount).in(this.textOf(line))
  }

  private indexOf(bankAccount: string): WordsIndex<string> {
    const known = this.wordings.get(bankAccount)
    if (known) return known
    const payers = this.options.payers?.get(bankAccount)
    const index = new WordsIndex<string>()
    for (const [source, wordings] of this.sources)
      if (this.options.payers === undefined || payers?.has(source))
        for (const wording of wordings) index.add(wording, source)
    this.wordings.set(bankAccount, index)
    return index
  }
}

const isWithin = (part: FoundWords<string>, whole: FoundWords<string>): boolean =>
  part.at >= whole.at && part.at + part.sought.length <= whole.at + whole.sought.length

const longest = (found: readonly { readonly sought: string; readonly meaning: string }[]): string | null => {
  let best: string | null = null
  let length = 0
  if (found.length === 1) return (found[0] as (typeof found)[0]).meaning
  for (const { sought, meaning } of found) {
    const own = [...foldText(sought)].length
    if (own > length) [best, length] = [meaning, own]
    else if (own === length && meaning !== best) best = null
  }
  return best
}
