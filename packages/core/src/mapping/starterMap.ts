import { type AccountType, type Kind, kinds } from '../activity/kinds.ts'
import { isStock } from '../activity/kindTraits.ts'
import { compareText } from './compareText.ts'
import { foldText } from './folded.ts'
import { type Concept, meansOf, says, wantedOf } from './lexicon.ts'
import { proposeTaxCode, type TaxProposal } from './proposeTaxCode.ts'
import type { Route } from './route.ts'

export interface StarterAccount {
  readonly code: string
  readonly name: string
  readonly type: AccountType
}

/** Something that a source reports, with its money of late (minor units): what a route could be made for. */
export interface SeenLabel {
  readonly kind: Kind
  readonly category?: string | null
  readonly gateway?: string | null
  readonly method?: string | null
  readonly taxLabel?: string | null
  /** ISO 3166, where a region is told apart: an account may be named after it. */
  readonly region?: string | null
  readonly amount: number
  readonly lines?: number
}

/** Why an account was proposed, as data: words of its name that the label names, words that its kind is called by, or its type alone. */
export interface ProposalReason {
  readonly named: readonly string[]
  readonly called: readonly string[]
  readonly onlyOfType: boolean
}

export interface Proposal {
  readonly account: string
  /** The words of the account's name that spoke for it; empty when only its type did. */
  readonly words: readonly string[]
  readonly reason: ProposalReason
  /** Nothing else comes near; a proposal that is not sure wants a look. */
  readonly sure: boolean
}

export interface StarterRoute extends SeenLabel {
  /** Null where none of the chart fits: `make` says what would. */
  readonly proposal: Proposal | null
  readonly make: { readonly name: string; readonly type: AccountType } | null
  /** As the routes made before tax the same. */
  readonly tax: TaxProposal
}

/** Points for a word that the label names, and for one that accounts of the kind are called by. */
const forName = 4
const forCalling = 3
const againstOther = 4
const perWord = 0.15
/** A sure proposal has at least so many points, and so many more than the next. */
const surePoints = 2.5
const sureLead = 1

const wordsOf = (text: string | null | undefined): string[] =>
  foldText(text ?? '')
    .split(' ')
    .filter(word => word.length > 2 || /\d/.test(word))

// "Glaze kits" and "Sales, glaze kit": plural and compound words count as the same.
const sameWord = (one: string, other: string): boolean => {
  const [short, long] = one.length <= other.length ? [one, other] : [other, one]
  if (short === long) return true
  if (/\d/.test(short) || short.length < 4) return false
  return long.startsWith(short) || long.endsWith(short) || (short.length > 4 && short.slice(0, 5) === long.slice(0, 5))
}

const regionNames = new Map<string, string>()

/** A region's country by name in the languages whose words are known, since charts say "Sales, Germany" and not "DE". */
const countryWords = (region: string | null | undefined): string => {
  const country = region?.slice(0, 2) ?? ''
  if (!/^[A-Z]{2}$/.test(country)) return ''
  const known = regionNames.get(country)
  if (known !== undefined) return known
  const names = ['en', 'de', 'fr', 'es', 'it', 'nl'].map(
    language => new Intl.DisplayNames([language], { type: 'region', fallback: 'none' }).of(country) ?? '',
  )
  regionNames.set(country, names.join(' '))
  return names.join(' ')
}

interface Scored {
  readonly account: StarterAccount
  readonly points: number
  readonly named: readonly string[]
  readonly called: readonly string[]
}

/** The account of the chart that fits a label best; null where nothing but the type speaks for any, and several have it. */
export const proposeAccount = (
  seen: Omit<SeenLabel, 'amount'>,
  accounts: readonly StarterAccount[],
): Proposal | null => {
  const types: readonly AccountType[] = typesFor(seen.kind)
  const candidates = accounts.filter(account => types.includes(account.type))
  const scored = candidates
    .map(account => score(account, seen))
    .sort((left, right) => right.points - left.points || compareText(left.account.code, right.account.code))
  const [best, next] = scored
  if (!best) return null
  if (best.named.length + best.called.length === 0 || best.points <= 0) {
    return isStock(seen.kind) && candidates.length === 1 ? proposalOf(best, { sure: false, onlyOfType: true }) : null
  }
  const lead = best.points - Math.max(0, next?.points ?? 0)
  // A category with no account of its own goes where its kind goes, but that is for a person to say.
  const unnamed = wordsOf(seen.category).length > 0 && best.named.length === 0 && splitByCategory.has(seen.kind)
  return proposalOf(best, { sure: best.points >= surePoints && lead >= sureLead && !unnamed, onlyOfType: false })
}

const splitByCategory: ReadonlySet<Kind> = new Set([
  'sale',
  'collected',
  'refund',
  'other_charge',
  'surcharge',
  'purchase',
])

const typesFor = (kind: Kind): readonly AccountType[] => {
  // Where a chart has no account of disputed payments, one of returns or losses is better than none.
  if (kind === 'chargeback' || kind === 'chargeback_reversal') return ['current_asset', 'income', 'expense']
  return kind === 'tax' || kind === 'tax_refund' ? ['tax'] : kinds[kind].accountTypes
}

const proposalOf = ({ account, named, called }: Scored, more: { sure: boolean; onlyOfType: boolean }): Proposal => ({
  account: account.code,
  words: [...new Set([...named, ...called])],
  reason: { named, called, onlyOfType: more.onlyOfType },
  sure: more.sure,
})

const score = (account: StarterAccount, seen: Omit<SeenLabel, 'amount'>): Scored => {
  const names = wordsOf(account.name)
  const labels = [seen.category, seen.gateway, seen.taxLabel, countryWords(seen.region)].flatMap(wordsOf)
  const wanted = wantedOf[seen.kind]
  const means =
    seen.kind === 'tender' || seen.kind === 'tender_returned' ? meansOf([...labels, ...wordsOf(seen.method)]) : null
  const called: readonly Concept[] = means ? [means] : (wanted?.called ?? [])
  const named = names.filter(name => labels.some(label => sameWord(label, name)))
  const calledWords = names.filter(name => called.some(concept => says(name, concept)))
  const others = names.filter(name => wanted?.not?.some(concept => says(name, concept)) && !calledWords.includes(name))
  // The first concept a kind is called by says it best; of several words that say it, the first counts whole.
  const rank = called.findIndex(concept => names.some(name => says(name, concept)))
  const points =
    forName * named.length +
    (rank < 0 ? 0 : forCalling / (1 + rank / 2)) +
    0.5 * Math.max(0, calledWords.length - 1) -
    againstOther * others.length -
    perWord * names.length
  return { account, points, named, called: calledWords }
}

/**
 * The starter map of a source: for everything seen, heaviest first, the account that fits or the one to make. Of two
 * things that would make an account of one name, one makes it. Regions are told apart only where the chart has an account
 * of their own for them.
 */
export const starterMap = (
  seen: readonly SeenLabel[],
  accounts: readonly StarterAccount[],
  routes: readonly Route[] = [],
): StarterRoute[] =>
  foldRegions(seen, accounts)
    .sort((left, right) => Math.abs(right.amount) - Math.abs(left.amount))
    .map(one => {
      const proposal = proposeAccount(one, accounts)
      const label = { kind: one.kind, region: one.region ?? null }
      return {
        ...one,
        proposal,
        tax: proposeTaxCode(label, proposal?.account ?? null, routes),
        make: proposal ? null : accountToMake(one),
      }
    })

const foldRegions = (seen: readonly SeenLabel[], accounts: readonly StarterAccount[]): SeenLabel[] => {
  const folded = new Map<string, SeenLabel>()
  for (const { region, ...label } of seen) {
    const country = region?.slice(0, 2) ?? null
    const own = country !== null && hasOwnAccount({ ...label, region: country }, accounts)
    const key = JSON.stringify([
      label.kind,
      label.category,
      label.gateway,
      label.method,
      label.taxLabel,
      own && country,
    ])
    const before = folded.get(key)
    folded.set(key, {
      ...label,
      region: own ? country : null,
      amount: (before?.amount ?? 0) + label.amount,
      lines: (before?.lines ?? 0) + (label.lines ?? 0),
    })
  }
  return [...folded.values()]
}

const hasOwnAccount = (label: Omit<SeenLabel, 'amount'>, accounts: readonly StarterAccount[]): boolean => {
  const proposed = proposeAccount(label, accounts)?.account
  return proposed !== undefined && proposed !== proposeAccount({ ...label, region: null }, accounts)?.account
}

/** What would be made for a label that no account of the chart fits. */
export const accountToMake = ({
  kind,
  category,
  gateway,
  taxLabel,
}: SeenLabel): { name: string; type: AccountType } => {
  // Means of payment are called by their own name: cash is held, what others take is owed by them.
  if ((kind === 'tender' || kind === 'tender_returned') && gateway)
    return { name: gateway, type: meansOf(wordsOf(gateway)) === 'cash' ? 'current_asset' : 'clearing' }
  const label = [category, gateway, taxLabel].find(Boolean)
  const [type] = typesFor(kind)
  return { name: label ? `${kinds[kind].label}, ${label}` : kinds[kind].label, type: type as AccountType }
}
