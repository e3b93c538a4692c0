import type { OpenBankLine, OpenTransfer, PairingOptions } from '../pairing/pairingItems.ts'

/**
 * The pairing rule once more, by brute force and with nothing of the engine's: every subset of either side is tried, and the
 * best disjoint set is found by trying all. For up to 8 transfers and 8 bank lines.
 */
interface Group {
  readonly lines: readonly OpenBankLine[]
  readonly payouts: readonly OpenTransfer[]
}
export interface OracleAnswer {
  readonly certain: readonly string[]
  readonly likely: readonly string[]
  readonly possible: readonly string[]
}

const dayOf = (date: string): number => Math.round(Date.parse(`${date}T00:00:00Z`) / 86_400_000)
const ordered = <Item extends { date: string; id: string }>(items: readonly Item[]): Item[] =>
  [...items].sort((one, other) => (one.date + one.id < other.date + other.id ? -1 : 1))
const sum = (items: readonly { amount: number }[]): number => items.reduce((whole, item) => whole + item.amount, 0)
export const nameOf = (lines: readonly { id: string }[], payouts: readonly { id: string }[]): string =>
  `${lines.map(line => line.id).join('+')}=${payouts.map(payout => payout.id).join('+')}`

const payerText = (description: string): string =>
  (description.match(/\S+/g) ?? [])
    .filter(word => !/[0-9]/.test(word))
    .map(word => word.toLowerCase().replace(/[^a-zà-ÿ]+/g, ' '))
    .join(' ')
    .replace(/ +/g, ' ')
    .trim()

const saysWord = (line: OpenBankLine, wanted: string): boolean => {
  const escaped = wanted
    .split(/\s+/)
    .map(part => part.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'))
    .join('\\s+')
  return [line.reference, line.description].some(text =>
    new RegExp(`(^|[^\\p{L}\\p{N}])${escaped}($|[^\\p{L}\\p{N}])`, 'iu').test(text),
  )
}

const subsets = <Item>(items: readonly Item[]): Item[][] =>
  Array.from({ length: 2 ** items.length - 1 }, (_, mask) => items.filter((__, at) => ((mask + 1) >> at) & 1))

const bears = (line: OpenBankLine, { reference, bankAccount }: OpenTransfer): boolean =>
  bankAccount === line.bankAccount &&
  reference !== null &&
  reference.length >= 5 &&
  /[0-9]/.test(reference) &&
  saysWord(line, reference)

interface All {
  readonly lines: readonly OpenBankLine[]
  readonly payouts: readonly OpenTransfer[]
  readonly options: PairingOptions
}

const lagBetween = (line: OpenBankLine, payout: OpenTransfer): number => dayOf(line.date) - dayOf(payout.date)

/** Whether references and dates let a bank line and a payout be the same money. */
const mayMeet = (line: OpenBankLine, payout: OpenTransfer, { lines, payouts, options }: All): boolean => {
  const lag = lagBetween(line, payout)
  if (bears(line, payout)) return lag >= 0 && lag <= 30
  if (payouts.some(other => bears(line, other))) return false
  if (lines.some(other => bears(other, payout) && lagBetween(other, payout) >= 0 && lagBetween(other, payout) <= 30))
    return false
  return lag >= 0 && lag <= options.windowDays
}

const isExact = ({ lines, payouts }: Group, all: All): boolean => {
  const { maxGroup } = all.options
  if (lines.length > 1 && payouts.length > 1) return false
  if (Math.max(lines.length, payouts.length) > Math.max(1, maxGroup)) return false
  if (sum(lines) !== sum(payouts)) return false
  const items = [...lines, ...payouts]
  if (items.some(item => item.amount === 0 || item.amount > 0 !== (items[0] as OpenBankLine).amount > 0)) return false
  if (new Set(items.map(item => `${item.bankAccount} ${item.currency}`)).size > 1) return false
  if (new Set(payouts.map(payout => payout.source)).size > 1) return false
  if (new Set(lines.map(line => payerText(line.description))).size > 1) return false
  return lines.every(line => payouts.every(payout => mayMeet(line, payout, all)))
}

const membersOf = ({ lines, payouts }: Group): (OpenBankLine | OpenTransfer)[] => [...lines, ...payouts]
const overlap = (one: Group, other: Group): boolean => membersOf(one).some(item => membersOf(other).includes(item))

/** The source of the longest key or wording that a line's text holds; null for none, or two as long of different sources. */
const payerOf = (line: OpenBankLine, { payouts, options }: All): string | null => {
  const sources = [...new Set([...options.bankTexts.keys(), ...payouts.map(payout => payout.source)])]
  const found = sources.flatMap(source =>
    [source, ...(options.bankTexts.get(source) ?? [])]
      .filter(wording => saysWord(line, wording))
      .map(wording => ({ source, length: wording.split(/\s+/).join(' ').length })),
  )
  const longest = Math.max(...found.map(one => one.length))
  const best = new Set(found.filter(one => one.length === longest).map(one => one.source))
  return best.size === 1 ? ([...best][0] as string) : null
}

/** Whether a line still names a source once every name of `source` is struck out of it. */
const namesBesides = (line: OpenBankLine, source: string, { payouts, options }: All): boolean => {
  const wordingsOf = (key: string) => [key, ...(options.bankTexts.get(key) ?? [])]
  const sources = [...new Set([...options.bankTexts.keys(), ...payouts.map(payout => payout.source)])]
  const others = sources.filter(key => key !== source).flatMap(wordingsOf)
  const struck = (text: string): string =>
    wordingsOf(source)
      .sort((one, other) => other.length - one.length)
      .reduce((rest, name) => {
        const escaped = name.split(/\s+/).join('\\s+')
        return rest.replace(new RegExp(`(?<![\\p{L}\\p{N}])${escaped}(?![\\p{L}\\p{N}])`, 'giu'), ' # ')
      }, text)
  const rest = { ...line, description: struck(line.description), reference: struck(line.reference) }
  return others.some(name => !wordingsOf(source).includes(name) && saysWord(rest, name))
}

/** Whether the reference of another open payout, equal to one of the group's and within 30 days of it, stands in no bank line. */
const doubted = ({ payouts }: Group, all: All): boolean =>
  all.options.doubtReferences === true &&
  payouts.some(payout =>
    all.payouts.some(
      other =>
        !payouts.includes(other) &&
        other.source === payout.source &&
        other.bankAccount === payout.bankAccount &&
        other.amount === payout.amount &&
        Math.abs(dayOf(other.date) - dayOf(payout.date)) <= 30 &&
        other.reference !== null &&
        !all.lines.some(line => bears(line, other)),
    ),
  )

const proved = ({ lines, payouts }: Group): boolean => lines.every(line => payouts.every(payout => bears(line, payout)))

const certainByName = (group: Group, all: All): boolean => {
  const { lines, payouts } = group
  const [{ source }] = payouts as [OpenTransfer]
  if (membersOf(group).some(item => item.amount < 0)) return false
  if (lines.some(line => payerOf(line, all) !== source)) return false
  if (all.options.doubtReferences && lines.some(line => namesBesides(line, source, all))) return false
  const together = (one: OpenBankLine | OpenTransfer): boolean =>
    one.bankAccount === (lines[0] as OpenBankLine).bankAccount && one.currency === (lines[0] as OpenBankLine).currency
  const whole = sum(lines)
  const nearby = (line: OpenBankLine, payout: OpenTransfer): boolean =>
    lagBetween(line, payout) >= 0 && lagBetween(line, payout) <= 30
  const otherPayouts = all.payouts.filter(one => one.source === source && together(one) && !payouts.includes(one))
  const otherLines = all.lines.filter(one => together(one) && !lines.includes(one) && payerOf(one, all) === source)
  if (
    otherPayouts.some(
      one =>
        lines.some(line => nearby(line, one)) &&
        (one.amount === whole || payouts.some(payout => payout.amount === one.amount)),
    )
  )
    return false
  if (
    otherLines.some(
      one =>
        payouts.some(payout => nearby(one, payout)) &&
        (one.amount === whole || lines.some(line => line.amount === one.amount)),
    )
  )
    return false
  // Two payouts too early for the window could stand in the place of a group's member.
  const early = otherPayouts.filter(one => one.amount > 0 && nearby(lines[0] as OpenBankLine, one))
  const twoMake = (amount: number): boolean =>
    early.some((one, at) => early.slice(at + 1).some(other => one.amount + other.amount === amount))
  if (payouts.length > 1 && payouts.some(payout => twoMake(payout.amount))) return false
  const fee = all.options.bankFeeUpTo
  return !lines.some(line =>
    otherPayouts.some(
      one => fee !== null && one.amount > line.amount && one.amount - line.amount <= fee && mayMeet(line, one, all),
    ),
  )
}

const compareGroups = (one: Group, other: Group): number => {
  for (const side of ['lines', 'payouts'] as const) {
    const [mine, theirs] = [one[side], other[side]].map(items => items.map(item => `${item.date} ${item.id}`))
    for (let at = 0; at < Math.min(mine?.length ?? 0, theirs?.length ?? 0); at++)
      if (mine?.[at] !== theirs?.[at]) return (mine?.[at] as string) < (theirs?.[at] as string) ? -1 : 1
    if (mine?.length !== theirs?.length) return (mine?.length ?? 0) - (theirs?.length ?? 0)
  }
  return 0
}

const lagOf = ({ lines, payouts }: Group): number =>
  Math.max(...lines.map(line => dayOf(line.date))) - Math.max(...payouts.map(payout => dayOf(payout.date)))

interface Best {
  readonly value: readonly number[]
  readonly set: readonly Group[]
}

/** Of all disjoint sets the one with the most groups, then the least `cost`, then the smallest sequence. */
const bestOf = (groups: readonly Group[], cost: (group: Group) => number): Group[] => {
  const sorted = [...groups].sort(compareGroups)
  const items = [...new Set(sorted.flatMap(membersOf))]
  const masks = sorted.map(group => membersOf(group).reduce((mask, item) => mask | (1 << items.indexOf(item)), 0))
  const known = new Map<number, Best>()
  const from = (at: number, used: number): Best => {
    if (at === sorted.length) return { value: [0, 0, 0], set: [] }
    const key = used * 1024 + at
    const before = known.get(key)
    if (before) return before
    const without = from(at + 1, used)
    let best = without
    if (((masks[at] as number) & used) === 0) {
      const group = sorted[at] as Group
      const rest = from(at + 1, used | (masks[at] as number))
      const value = [
        (rest.value[0] as number) - 1,
        (rest.value[1] as number) + cost(group),
        (rest.value[2] as number) + lagOf(group) ** 2,
      ]
      const difference = value.map((one, place) => one - (without.value[place] as number)).find(one => one !== 0) ?? 0
      // Equal in all: the sequence that begins with the earlier group is the smaller.
      if (difference <= 0) best = { value, set: [group, ...rest.set] }
    }
    known.set(key, best)
    return best
  }
  return [...from(0, 0).set]
}

const componentsOf = (groups: readonly Group[]): Group[][] => {
  const left = [...groups]
  const found: Group[][] = []
  for (let start = left.pop(); start; start = left.pop()) {
    const component = [start]
    for (const one of component)
      for (let at = left.length - 1; at >= 0; at--)
        if (overlap(one, left[at] as Group)) component.push(...left.splice(at, 1))
    found.push(component)
  }
  return found
}

const isSingle = ({ lines, payouts }: Group): boolean => lines.length + payouts.length === 2

const likelyOf = (free: readonly Group[], exact: readonly Group[]): Group[] =>
  componentsOf(free).flatMap(component => {
    if (component.every(isSingle)) return bestOf(component, group => membersOf(group).length)
    if (component.length > 200) return []
    const crowded = (group: Group): boolean =>
      membersOf(group).some(item => exact.filter(other => membersOf(other).includes(item)).length > 50)
    return bestOf(
      component.filter(group => !crowded(group)),
      group => membersOf(group).length,
    )
  })

export const pairByBruteForce = (
  transfers: readonly OpenTransfer[],
  bankLines: readonly OpenBankLine[],
  options: PairingOptions,
): OracleAnswer => {
  const [payouts, lines] = [ordered(transfers), ordered(bankLines)]
  const candidates: Group[] = [
    ...lines.flatMap(line => subsets(payouts).map(some => ({ lines: [line], payouts: some }))),
    ...payouts.flatMap(payout =>
      subsets(lines)
        .filter(some => some.length > 1)
        .map(some => ({ lines: some, payouts: [payout] })),
    ),
  ]
  const all: All = { lines, payouts, options }
  const exact = candidates.filter(group => isExact(group, all))
  const certain = exact.filter(group => {
    const others = exact.filter(other => other !== group && overlap(group, other))
    return (
      (others.length === 0 && certainByName(group, all)) ||
      (proved(group) && !others.some(proved) && !doubted(group, all))
    )
  })
  const free = exact.filter(group => !certain.some(sure => overlap(sure, group)))
  const likely = likelyOf(free, exact)
  const used = new Set([...certain, ...likely].flatMap(membersOf))
  const fee = options.bankFeeUpTo
  const short = lines.flatMap(line =>
    payouts
      .filter(payout => {
        const missing = payout.amount - line.amount
        const together = payout.bankAccount === line.bankAccount && payout.currency === line.currency
        const open = !used.has(line) && !used.has(payout) && together && mayMeet(line, payout, all)
        return fee !== null && open && line.amount > 0 && missing > 0 && missing <= fee
      })
      .map(payout => ({ lines: [line], payouts: [payout] })),
  )
  const possible = bestOf(short, group => sum(group.payouts) - sum(group.lines))
  const names = (groups: readonly Group[]): string[] => groups.map(group => nameOf(group.lines, group.payouts)).sort()
  return { certain: names(certain), likely: names(likely), possible: names(possible) }
}
