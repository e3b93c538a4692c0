import type { AccountType, Kind } from '../activity/kinds.ts'
import { freeCode } from './freeCode.ts'
import {
  accountToMake,
  type ProposalReason,
  proposeAccount,
  type SeenLabel,
  type StarterAccount,
} from './starterMap.ts'
import type { StartingChart } from './startingCharts.ts'

/** Something that a source reports and no route serves, with its money in base (minor units). */
export interface OpenLabel extends SeenLabel {
  readonly source: string
  readonly lines: number
}

/** A route that is to be made, by what it names. */
export interface MissingRoute {
  readonly source: string
  readonly kind: Kind
  readonly category: string | null
  readonly gateway: string | null
  readonly taxLabel: string | null
  readonly region: string | null
}

export interface NewCode {
  readonly code: string
  readonly name: string
  readonly type: AccountType
}

/** An account that routes lack: what exists that would serve, and what would be made where nothing does, or in its place. */
export interface MissingAccount {
  readonly key: string
  /** The kind that gives it its name; `kinds` are all that share it. */
  readonly kind: Kind
  readonly kinds: readonly Kind[]
  /** What else it is told apart by: a category, means of payment, label of tax or country; null: all of them. */
  readonly label: string | null
  readonly sources: readonly { readonly source: string; readonly lines: number; readonly kinds: readonly Kind[] }[]
  readonly amount: number
  readonly use: { readonly account: string; readonly reason: ProposalReason; readonly sure: boolean } | null
  readonly make: NewCode
  readonly routes: readonly MissingRoute[]
}

/** Kinds that belong together share one account: what was kept and what is released, what was charged and what is given back. */
const leaders: Readonly<Partial<Record<Kind, Kind>>> = {
  reserve_released: 'reserve_kept',
  advance_repaid: 'advance_received',
  shipping_refund: 'shipping',
  chargeback_reversal: 'chargeback',
  gift_card_redeemed: 'gift_card_sold',
  tax_refund: 'tax',
  tax_withheld: 'tax',
  tender_returned: 'tender',
  collected_back: 'collected',
}

/** A fee that is given back goes where it was charged: of those seen the heaviest. */
const feeKinds: readonly Kind[] = ['selling_fee', 'processing_fee', 'fulfilment_fee', 'other_fee']

interface Group {
  readonly kind: Kind
  readonly label: string | null
  readonly of: {
    readonly category: string | null
    readonly gateway: string | null
    readonly taxLabel: string | null
    readonly region: string | null
  }
  readonly labels: OpenLabel[]
}

/**
 * The accounts that what was seen lacks, the heaviest first. Categories and regions are told apart only where the chart names an account after them; what is made
 * takes its name and number from a starting chart of the country where that fits the client's own numbering.
 */
export const proposeMissing = (
  seen: readonly OpenLabel[],
  of: {
    readonly accounts: readonly StarterAccount[]
    readonly starting: StartingChart
    /** All whose numbers are given, archived ones among them. */
    readonly numbered?: readonly StarterAccount[]
  },
): MissingAccount[] => {
  const { accounts, starting } = of
  const feeLeader = heaviest(seen.filter(one => feeKinds.includes(one.kind)))?.kind ?? 'other_fee'
  const groups = new Map<string, Group>()
  for (const one of seen) {
    const apart = toldApart(one, accounts)
    const kind = one.kind === 'fee_refund' ? feeLeader : (leaders[one.kind] ?? one.kind)
    const label = apart.category ?? apart.gateway ?? apart.taxLabel ?? apart.region
    const key = JSON.stringify([kind, apart.category, apart.gateway, apart.taxLabel, apart.region])
    const group = groups.get(key) ?? { kind, label, of: apart, labels: [] }
    group.labels.push(one)
    groups.set(key, group)
  }
  const taken = [...(of.numbered ?? accounts)]
  return [...groups.entries()]
    .sort(([, left], [, right]) => weightOf(right) - weightOf(left))
    .map(([key, group]): MissingAccount => {
      const proposal = proposeAccount({ ...group.of, kind: group.kind }, accountsFor(group, groups.values(), accounts))
      const make = newCode(group, taken, starting)
      // Two that are made in one act do not take one number.
      if (!proposal) taken.push(make)
      return {
        ...{ key, kind: group.kind, label: group.label, make },
        kinds: [...new Set(group.labels.map(one => one.kind))],
        sources: sourcesOf(group.labels),
        amount: group.labels.reduce((sum, one) => sum + one.amount, 0),
        use: proposal && { account: proposal.account, reason: proposal.reason, sure: proposal.sure },
        routes: routesOf(group),
      }
    })
}

/** What is named after a category or country of its own is not for the rest. */
const accountsFor = (
  group: Group,
  groups: Iterable<Group>,
  accounts: readonly StarterAccount[],
): readonly StarterAccount[] => {
  if (group.of.category !== null || group.of.region !== null) return accounts
  const named = new Set(
    [...groups].flatMap(({ kind, of }) =>
      kind === group.kind && (of.category !== null || of.region !== null)
        ? (proposeAccount({ ...of, kind }, accounts)?.account ?? [])
        : [],
    ),
  )
  return accounts.filter(account => !named.has(account.code))
}

const weightOf = ({ labels }: Pick<Group, 'labels'>): number =>
  labels.reduce((sum, one) => sum + Math.abs(one.amount), 0)

const heaviest = (labels: readonly OpenLabel[]): OpenLabel | undefined =>
  [...labels].sort((left, right) => Math.abs(right.amount) - Math.abs(left.amount))[0]

/** By what of a label an account is chosen: means of payment always, the rest where the chart names an account after it. */
const toldApart = (one: OpenLabel, accounts: readonly StarterAccount[]): Group['of'] => {
  const { kind, gateway = null, taxLabel = null, category = null } = one
  const region = one.region?.slice(0, 2) ?? null
  const wide = { kind, gateway }
  const without = proposeAccount(wide, accounts)?.account ?? null
  const named = (part: { category?: string; region?: string; taxLabel?: string }): boolean => {
    const proposal = proposeAccount({ ...wide, ...part }, accounts)
    return proposal !== null && proposal.account !== without && proposal.reason.named.length > 0
  }
  return {
    gateway,
    taxLabel: taxLabel !== null && taxLabel !== '' && named({ taxLabel }) ? taxLabel : null,
    category: category !== null && category !== '' && named({ category }) ? category : null,
    region: region !== null && named({ region }) ? region : null,
  }
}

const sourcesOf = (labels: readonly OpenLabel[]): MissingAccount['sources'] =>
  [...new Set(labels.map(one => one.source))].map(source => {
    const own = labels.filter(one => one.source === source)
    return {
      source,
      lines: own.reduce((sum, one) => sum + one.lines, 0),
      kinds: [...new Set(own.map(one => one.kind))],
    }
  })

const routesOf = ({ labels, of }: Group): MissingRoute[] => {
  const routes = new Map<string, MissingRoute>()
  for (const { source, kind } of labels) routes.set(JSON.stringify([source, kind]), { source, kind, ...of })
  return [...routes.values()]
}

const newCode = (
  { kind, of }: Pick<Group, 'kind' | 'of'>,
  accounts: readonly StarterAccount[],
  starting: StartingChart,
): NewCode => {
  const label = of.category ?? of.gateway ?? of.taxLabel ?? of.region
  const usual = label === null ? proposeAccount({ kind }, starting.accounts)?.account : undefined
  const known = starting.accounts.find(account => account.code === usual)
  if (!known) {
    const { name, type } = accountToMake({ kind, ...of, amount: 0 })
    return { code: freeCode(accounts, type), name, type }
  }
  const fits =
    !accounts.some(account => account.code === known.code) &&
    accounts.every(account => account.code.length === known.code.length)
  return { ...known, code: fits ? known.code : freeCode(accounts, known.type) }
}
