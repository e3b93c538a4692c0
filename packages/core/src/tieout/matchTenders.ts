import type { ActivityLine } from '../activity/activityLine.ts'

export interface TenderMatch {
  readonly tender: ActivityLine
  readonly collection: ActivityLine
}

const byTime = (left: ActivityLine, right: ActivityLine): number =>
  left.instant - right.instant || (left.lineId < right.lineId ? -1 : 1)

/**
 * Matches channels' tenders with gateways' collections of the same order, gateway and currency, one to one: equal
 * amounts first, the rest in order of time. A matched collection books nothing, also where the amounts differ.
 */
export const matchTenders = (lines: readonly ActivityLine[]): TenderMatch[] => {
  const groups = new Map<string, { tenders: ActivityLine[]; collections: ActivityLine[] }>()
  for (const line of lines) {
    if (line.status !== 'available' || line.orderId === null) continue
    const side = sideOf(line)
    if (!side) continue
    const key = JSON.stringify([side.gateway, line.currency, line.orderId, side.back])
    const group = groups.get(key) ?? { tenders: [], collections: [] }
    groups.set(key, group)
    group[side.list].push(line)
  }
  return [...groups.values()].flatMap(matchGroup)
}

const sideOf = (line: ActivityLine) => {
  const back = line.kind === 'tender_returned' || line.kind === 'collected_back'
  if (line.kind === 'tender' || line.kind === 'tender_returned')
    return line.gateway === null || line.gateway === line.source
      ? null
      : ({ gateway: line.gateway, back, list: 'tenders' } as const)
  if (line.kind === 'collected' || line.kind === 'collected_back')
    return { gateway: line.source, back, list: 'collections' } as const
  return null
}

const matchGroup = (group: { tenders: ActivityLine[]; collections: ActivityLine[] }): TenderMatch[] => {
  const tenders = [...group.tenders].sort(byTime)
  const left = [...group.collections].sort(byTime)
  const take = (fits: (collection: ActivityLine) => boolean): ActivityLine | undefined => {
    const at = left.findIndex(fits)
    return at < 0 ? undefined : left.splice(at, 1)[0]
  }
  const matches: TenderMatch[] = []
  const rest = tenders.filter(tender => {
    const collection = take(candidate => candidate.amount === -tender.amount)
    if (collection) matches.push({ tender, collection })
    return !collection
  })
  for (const tender of rest) {
    const collection = take(() => true)
    if (collection) matches.push({ tender, collection })
  }
  return matches
}
