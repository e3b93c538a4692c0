const letterOrDigit = /[\p{L}\p{N}]/u

// By code point: a letter beyond the basic plane is two units, and neither of them a letter.
const signBefore = (text: string, at: number): string => {
  const unit = text.charCodeAt(at - 1)
  return unit >= 0xdc00 && unit <= 0xdfff && at > 1 ? text.slice(at - 2, at) : text.slice(Math.max(0, at - 1), at)
}
const signAfter = (text: string, at: number): string => String.fromCodePoint(text.codePointAt(at) ?? 0x20)

/** True when folded `text` has `sought` at a place as whole words: a word ends where letters and digits end. */
const standsAt = (text: string, sought: string, at: number): boolean =>
  at >= 0 &&
  text.startsWith(sought, at) &&
  !letterOrDigit.test(at === 0 ? ' ' : signBefore(text, at)) &&
  !letterOrDigit.test(signAfter(text, at + sought.length))

/** Letter case and the width of blanks do not matter in what the bank writes. */
export const foldText = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[^\S\n]+/g, ' ')
    .trim()

/** True when `text` contains `wanted` as whole words, letter case apart; a word ends where letters and digits end. */
export const containsWords = (text: string, wanted: string): boolean => containsFolded(foldText(text), foldText(wanted))

/** The same of texts that are folded already. */
export const containsFolded = (text: string, sought: string): boolean => {
  if (sought === '') return false
  for (let at = text.indexOf(sought); at >= 0; at = text.indexOf(sought, at + 1))
    if (standsAt(text, sought, at)) return true
  return false
}

/** What is left of a bank text once words that hold a digit are dropped: equal texts have one payer. */
export const payerWording = (text: string): string =>
  text
    .split(/\s+/)
    .filter(word => !/\p{N}/u.test(word))
    .join(' ')
    .toLowerCase()
    .replace(/[^\p{L}]+/gu, ' ')
    .trim()

/** A reference can prove a pairing when it has five characters or more, a digit among them. */
export const isTellingReference = (reference: string | null): reference is string =>
  reference !== null && reference.length >= 5 && /\p{Nd}/u.test(reference)

const word = /[\p{L}\p{N}]+/gu

/**
 * Texts to be found in bank lines as whole words, by the longest word of each, since references begin alike: a line is looked through once, however
 * many there are. Each text carries what it stands for.
 */
export class WordsIndex<Meaning> {
  private readonly byWord = new Map<string, { sought: string; offset: number; meaning: Meaning }[]>()

  /** Adds a text; one without a letter or digit is never found. */
  add(text: string, meaning: Meaning): void {
    const sought = foldText(text)
    const words = [...sought.matchAll(word)]
    const [longest] = words.sort((left, right) => right[0].length - left[0].length)
    if (!longest) return
    const entry = { sought, offset: longest.index, meaning }
    const known = this.byWord.get(longest[0])
    if (known) known.push(entry)
    else this.byWord.set(longest[0], [entry])
  }
  /** Everything that stands in a text, once for each place; `at`: where it begins in the folded text. */
  in({ folded, words }: ReadText): FoundWords<Meaning>[] {
    const found: FoundWords<Meaning>[] = []
    for (const { text, at } of words)
      for (const { sought, offset, meaning } of this.byWord.get(text) ?? [])
        if (standsAt(folded, sought, at - offset)) found.push({ sought, meaning, at: at - offset })
    return found
  }
}

/** A text that stands in another, and where it begins there. */
export interface FoundWords<Meaning> {
  readonly sought: string
  readonly meaning: Meaning
  readonly at: number
}

/** A text, folded, and its words with their places. */
export interface ReadText {
  readonly folded: string
  readonly words: readonly { readonly text: string; readonly at: number }[]
}
export const readText = (text: string): ReadText => {
  const folded = foldText(text)
  const words: { text: string; at: number }[] = []
  for (const match of folded.matchAll(word)) words.push({ text: match[0], at: match.index })
  return { folded, words }
}

/**
 * Words of a bank line's text that could name its payer: the longest run of words without a digit, as written. Empty where there is none.
 * @example proposeWording('SKM PAYMENTS 2291 OPENH') // 'SKM PAYMENTS'
 */
export const proposeWording = (text: string): string => {
  const runs: string[][] = [[]]
  for (const word of text.trim().split(/\s+/))
    if (/\p{N}/u.test(word)) runs.push([])
    else runs.at(-1)?.push(word)
  return runs.map(run => run.join(' ')).reduce((longest, run) => (run.length > longest.length ? run : longest), '')
}
