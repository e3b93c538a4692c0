import type { Trace } from '@culvert/contract'
import { type ConditionName, isPayout, type Kind, kinds, type Resolution, type Route, sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { type ResolvedPart, resolveStored, type StoredLine, weightedAs } from '../activity/activityLines.ts'
import { type SettlementKey, settlementName } from '../activity/settlementKey.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { is } from '../database/rows.ts'
import { isDocument } from '../ledger/documentSorts.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'
import { bankSteps } from './bankSteps.ts'
import { generationOf, type Step } from './step.ts'
import { taxWayOf } from './taxWay.ts'
import type { Found } from './traceStart.ts'

const linkTo = (key: SettlementKey): string =>
  `/settlements/${encodeURIComponent(key.source)}/${encodeURIComponent(key.key)}/${key.currency}`

/** Parts of a step that are named where nobody asks for more. */
const fewest = 4

/** The steps from order to bank line, the one where one stands marked. */
export const stepsOf = async (tx: Transaction, found: Found, named: number = fewest): Promise<Trace> => {
  const steps = [
    orderStep(found, named),
    lineStep(found, named),
    routeStep(found, named),
    await entryStep(tx, found),
    ...(await bankSteps(tx, found)),
  ]
  return {
    title: found.title,
    amount: found.amount,
    currency: found.key.currency,
    steps: steps.map(step => ({ ...step, here: step.sort === found.here })),
  }
}

const orderStep = ({ lines, key }: Found, named: number): Step => {
  const orders = new Map<string, number>()
  for (const line of lines) if (line.orderId) orders.set(line.orderId, (orders.get(line.orderId) ?? 0) + line.amount)
  const biggest = [...orders].sort(([, left], [, right]) => Math.abs(right) - Math.abs(left))
  return {
    sort: 'order',
    title: orders.size === 1 ? `Order ${biggest[0]?.[0]}` : `${orders.size} orders`,
    detail: orders.size === 0 ? 'these lines name no order' : '',
    count: orders.size,
    amount: orders.size === 0 ? null : sumMinor(orders.values(), amount => amount),
    currency: key.currency,
    link: null,
    items: biggest
      .slice(0, named)
      .map(([order, amount]) => ({ title: order, detail: '', amount, link: `order:${order}` })),
  }
}

const lineStep = ({ lines, key }: Found, named: number): Step => {
  const biggest = [...lines].sort((left, right) => Math.abs(right.amount) - Math.abs(left.amount))
  return {
    sort: 'line',
    title: lines.length === 1 ? `Activity line ${lines[0]?.lineId}` : `${lines.length} activity lines`,
    detail: `${settlementName(key)}`,
    count: lines.length,
    amount: sumMinor(lines, line => line.amount),
    currency: key.currency,
    link: linkTo(key),
    items: biggest.slice(0, named).map(line => ({
      title: line.lineId,
      amount: line.amount,
      link: `line:${line.source}/${line.lineId}`,
      detail: [kinds[line.kind as Kind].label, line.category, line.description].filter(Boolean).join(' · '),
    })),
  }
}

const routeText = (route: Route, client: ClientSetup): string => {
  const code = route.account ?? client.setup.items?.get(route.item ?? '')?.account ?? null
  const account = route.elsewhere
    ? 'booked elsewhere'
    : code === null
      ? ''
      : `${route.item ? `item ${route.item}, ` : ''}${code} ${client.setup.accounts.get(code)?.name ?? ''}`
  const when = [route.category, route.region && `to ${route.region}`, route.sku].filter(Boolean).join(' · ')
  return `${kinds[route.kind].label}${when ? ` · ${when}` : ''} → ${account}${route.taxCode ? `, ${route.taxCode}` : ''}`
}

const routeDetail = (routes: number, unmapped: number, mapVersion: number): string => {
  if (unmapped > 0) return `${unmapped} lines have no route`
  return routes === 0 ? 'a payout goes to the bank account of its source' : `version ${mapVersion} of the map`
}

interface Way {
  readonly title: string
  readonly link: string
  readonly why: string
}

type WeighedWay = Way & { readonly amount: number; readonly count: number }

const addWay = (ways: Map<string, WeighedWay>, way: Way, amount: number): void => {
  const before = ways.get(way.title) ?? { ...way, amount: 0, count: 0 }
  ways.set(way.title, { ...before, amount: before.amount + amount, count: before.count + 1 })
}

const heaviestOf = (ways: ReadonlyMap<string, WeighedWay>, named: number): Step['items'] =>
  [...ways.values()]
    .sort((left, right) => Math.abs(right.amount) - Math.abs(left.amount))
    .slice(0, named)
    .map(({ count, why, ...way }) => ({ ...way, detail: `${count === 1 ? '1 line' : `${count} lines`}${why}` }))

const routeStep = ({ lines, client, supplies, key }: Found, named: number): Step => {
  const ways = new Map<string, WeighedWay>()
  const taxes = new Map<string, WeighedWay>()
  let unmapped = 0
  const mapping = `/mapping/${encodeURIComponent(key.source)}`
  for (const line of lines) {
    if (isPayout(line.kind as Kind)) continue
    const parts = resolveStored(line, client, supplies)
    // All parts of a line take one route.
    const { resolution } = parts[0] as ResolvedPart
    if (resolution.route === null && !resolution.ok) unmapped++
    const way = wayOf(line, resolution, { client, mapping })
    if (way !== null) addWay(ways, way, line.amount)
    for (const part of parts) {
      const tax = taxWayOf(line, part, { client, supplies, parts: parts.length })
      if (tax !== null) addWay(taxes, tax, part.part.amount)
    }
  }
  return {
    sort: 'route',
    title: ways.size === 0 ? 'No route' : ways.size === 1 ? 'One route' : `${ways.size} routes`,
    detail: routeDetail(ways.size, unmapped, client.mapVersion),
    count: ways.size,
    amount: null,
    currency: null,
    link: mapping,
    items: [...heaviestOf(ways, named), ...heaviestOf(taxes, named)],
  }
}

const conditionWords: Record<ConditionName | 'from', string> = {
  sku: 'SKU',
  category: 'category',
  location: 'location',
  method: 'card brand',
  gateway: 'means of payment',
  taxLabel: 'tax label',
  region: 'region',
  source: 'source',
  from: 'date',
}

/** What decided between the route and the next that would have served the line. */
const beforeText = (line: StoredLine, { setup }: ClientSetup): string => {
  const next = setup.routes.explain(weightedAs(line))?.over[0]
  return next ? ` · before a wider one, by ${conditionWords[next.by]}` : ''
}

/** How a line found its account: by a route, by a rule alone or over a route, or by its gateway's clearing account. */
const wayOf = (
  line: StoredLine,
  resolution: Resolution,
  { client, mapping }: { client: ClientSetup; mapping: string },
): { title: string; link: string; why: string } | null => {
  const rules = resolution.ok && !resolution.elsewhere ? resolution.rules : []
  const byRule = rules.length === 0 ? '' : `${rules.length === 1 ? 'rule' : 'rules'} ${rules.join(', ')}`
  const { route } = resolution
  if (route)
    return {
      title: `${routeText(route, client)}${byRule && `, then ${byRule}`}`,
      link: `${mapping}?route=${route.id}`,
      why: beforeText(line, client),
    }
  if (!resolution.ok) return null
  if (resolution.elsewhere)
    return { title: 'collected for an order that its channel has booked', link: '/payments', why: '' }
  const account = `${resolution.account} ${client.setup.accounts.get(resolution.account ?? '')?.name ?? ''}`
  return byRule
    ? { title: `${byRule} → ${account}`, link: '/mapping/rules', why: '' }
    : { title: `paid by the means of another source → ${account}`, link: mapping, why: '' }
}

const entryStep = async (tx: Transaction, found: Found): Promise<Step> => {
  const generation = await generationOf(tx, found)
  const { key } = found
  const entries =
    generation === null
      ? []
      : await rowsOf(
          tx,
          { number: is.text, date: is.date, document: is.text, total: is.whole },
          sql`
    SELECT e.fiscal_year || '-' || e.number AS number, e.date::text, e.document,
      (SELECT sum(greatest(l.amount, 0))::bigint FROM entry_line l WHERE l.client_id = e.client_id
        AND l.fiscal_year = e.fiscal_year AND l.number = e.number) AS total
    FROM entry e WHERE e.client_id = current_client() AND e.source = ${key.source} AND e.key = ${key.key}
      AND e.currency = ${key.currency} AND e.generation = ${generation} AND (${isDocument('booksLines')} OR ${isDocument('mirrors')})
      AND e.payout_line IS NULL
    ORDER BY e.fiscal_year, e.number`,
        )
  const [first] = entries
  return {
    sort: 'entry',
    count: entries.length,
    amount: found.entry && found.here === 'entry' ? found.amount : (first?.total ?? null),
    currency: key.currency,
    title: first ? `Entry ${entries.map(entry => entry.number).join(', ')}` : 'Not posted',
    detail:
      found.entry && found.here === 'entry'
        ? `line ${found.entry.line}, ${found.title}`
        : first
          ? first.date
          : 'proposed or blocked',
    link: first ? `/books/entries/${first.number}` : linkTo(key),
    items:
      entries.length < 2
        ? []
        : entries.map(entry => ({
            title: entry.number,
            detail: `${entry.document}, ${entry.date}`,
            amount: entry.total,
            link: `/books/entries/${entry.number}`,
          })),
  }
}
