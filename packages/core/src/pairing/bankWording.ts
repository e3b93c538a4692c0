const letterOrDigit = /[\p{L}\p{N}]/u

/** True when `text` contains `wanted` as whole words, letter case apart; a word ends where letters and digits end. */
export const containsWords = (text: string, wanted: string): boolean => {
  const folded = text.toLowerCase()
  const sought = wanted.trim().toLowerCase()
  if (sought === '') return false
  for (let at = folded.indexOf(sought); at >= 0; at = folded.indexOf(sought, at + 1)) {
    const before = at === 0 ? '' : (folded[at - 1] as string)
    const after = folded[at + sought.length] ?? ''
    if (!letterOrDigit.test(before) && !letterOrDigit.test(after)) return true
  }
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
  reference !== null && reference.length >= 5 && /\d/.test(reference)

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
