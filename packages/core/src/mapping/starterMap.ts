import { type AccountType, type Kind, kinds } from '../activity/kinds.ts'

export interface StarterAccount {
  readonly code: string
  readonly name: string
  readonly type: AccountType
}
export interface Proposal {
  readonly account: string
  /** Words of the account's name that spoke for it; empty when only its type did. */
  readonly words: readonly string[]
}

const wordsOf = (text: string): string[] =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(word => word.length > 2)

const alike = (one: string, other: string): boolean =>
  one === other || (one.length > 4 && other.length > 4 && one.slice(0, 5) === other.slice(0, 5))

/**
 * The account of the chart that fits a kind (and category) best: of a type usual for the kind, the one whose name
 * shares most words with the category and the kind's own name; null if no account is of such a type or no word agrees.
 */
export const proposeAccount = (
  seen: { kind: Kind; category: string | null },
  accounts: readonly StarterAccount[],
): Proposal | null => {
  const facts = kinds[seen.kind]
  const types: readonly AccountType[] = facts.accountTypes
  const categoryWords = wordsOf(seen.category ?? '')
  const kindWords = wordsOf(facts.label)
  let best: { proposal: Proposal; score: number } | null = null
  for (const account of accounts) {
    if (!types.includes(account.type)) continue
    const names = wordsOf(account.name)
    const hits = (wanted: readonly string[]) => wanted.filter(word => names.some(name => alike(name, word)))
    const byCategory = hits(categoryWords)
    const byKind = hits(kindWords)
    const score = 3 * byCategory.length + 2 * byKind.length - 0.1 * names.length
    if (byCategory.length + byKind.length === 0) continue
    if (!best || score > best.score)
      best = { score, proposal: { account: account.code, words: [...byCategory, ...byKind] } }
  }
  return best?.proposal ?? null
}
