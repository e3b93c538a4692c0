import type { Trace, TraceStart, TraceStep } from '@culvert/contract'
import { isPayout, type Kind, kinds, type Route, sumMinor } from '@culvert/core'
import { sql } from 'drizzle-orm'
import { parseTransferId } from '../bank/transferId.ts'
import { rowsOf, type Transaction } from '../database/connect.ts'
import { lineColumns, resolveStored, type StoredLine, settlementLines } from '../settlements/activityLines.ts'
import { composeFor } from '../settlements/composeFor.ts'
import { type ClientSetup, loadSetup } from '../settlements/loadSetup.ts'
import { postedAs } from '../settlements/postedAs.ts'
import { type SettlementKey, settlementName } from '../settlements/settlementKey.ts'

/** Some lines of one settlement, what they were booked under, and where on their way one stands. */
interface Found {
  readonly title: string
  readonly amount: number
  readonly key: SettlementKey
  readonly generation: number | null
  readonly client: ClientSetup
  readonly lines: readonly StoredLine[]
  readonly here: TraceStep['sort']
  /** The entry line one came from. */
  readonly entry: { readonly number: string; readonly line: number } | null
}

/** The path of an amount from order to bank line, from wherever one stands on it; null if there is no such place. */
export const loadTrace = async (tx: Transaction, start: TraceStart): Promise<Trace | null> => {
  const found = await findStart(tx, start)
  return found && traceOf(tx, found)
}

const findStart = async (tx: Transaction, start: TraceStart): Promise<Found | null> => {
  switch (start.at) {
    case 'entry_line':
      return fromEntryLine(tx, start)
    case 'statement':
    case 'settlement':
      return fromSettlement(tx, start)
    case 'draft_line':
      return fromDraftLine(tx, start)
    case 'line':
    case 'order':
      return fromLines(tx, start)
    case 'transfer':
      return fromTransfer(tx, start.id)
    case 'bank_line':
      return fromBankLine(tx, start)
  }
}

const linkTo = (key: SettlementKey): string =>
  `/settlements/${encodeURIComponent(key.source)}/${encodeURIComponent(key.key)}/${key.currency}`

const loadLines = async (tx: Transaction, key: SettlementKey, generation: number | null) => {
  const posted = generation === null ? await postedAs(tx, key) : await postedAs(tx, key, generation)
  const client = await loadSetup(tx, posted?.mapVersion ?? null)
  const lines = (await settlementLines(tx, key, posted?.pullNo ?? 'now')).filter(line => line.status === 'available')
  return { client, lines, posted }
}

const fromEntryLine = async (tx: Transaction, start: { entry: string; line: number }): Promise<Found | null> => {
  const [year, number] = start.entry.split('-').map(Number)
  const [row] = await rowsOf<{
    source: string | null
    key: string | null
    currency: string
    generation: number | null
    document: string
    payout_line: string | null
    account: string
    name: string
    amount: number
    buckets: string[]
  }>(
    tx,
    sql`
    SELECT e.source, e.key, e.currency, e.generation, coalesce(r.document, e.document) AS document, e.payout_line, l.account, a.name,
      l.amount, l.buckets
    FROM entry e JOIN entry_line l USING (client_id, fiscal_year, number) JOIN account a ON a.client_id = e.client_id AND a.code = l.account
    LEFT JOIN entry r ON r.client_id = e.client_id AND r.fiscal_year = e.reverses_year AND r.number = e.reverses_number
    WHERE e.client_id = current_client() AND e.fiscal_year = ${year} AND e.number = ${number} AND l.line_no = ${start.line}`,
  )
  if (!row || row.source === null || row.key === null) return null
  const key = { source: row.source, key: row.key, currency: row.currency }
  const { client, lines } = await loadLines(tx, key, row.generation)
  return {
    title: `${row.account} ${row.name}`,
    amount: row.amount,
    key,
    generation: row.generation,
    client,
    lines: linesBehind(lines, client, row),
    here: row.document === 'transfer' ? 'transfer' : 'entry',
    entry: { number: start.entry, line: start.line },
  }
}

const linesBehind = (
  lines: readonly StoredLine[],
  client: ClientSetup,
  entryLine: { payout_line: string | null; buckets: readonly string[] },
): StoredLine[] => {
  if (entryLine.payout_line !== null) return lines.filter(line => line.lineId === entryLine.payout_line)
  // The clearing account's line is made of no bucket: all that was booked stands behind it.
  const wanted = new Set(entryLine.buckets)
  return lines.filter(line => {
    if (isPayout(line.kind as Kind)) return false
    const { bucket } = resolveStored(line, client)
    return wanted.size === 0 || (bucket !== null && wanted.has(bucket))
  })
}

const fromSettlement = async (
  tx: Transaction,
  start: SettlementKey & { kind?: string; category?: string | undefined },
): Promise<Found | null> => {
  const key = { source: start.source, key: start.key, currency: start.currency }
  const { client, lines } = await loadLines(tx, key, null)
  if (lines.length === 0) return null
  const mine =
    start.kind === undefined
      ? lines.filter(line => !isPayout(line.kind as Kind))
      : lines.filter(line => line.kind === start.kind && (line.category ?? '') === (start.category ?? ''))
  const kindLabel = start.kind === undefined ? settlementName(key) : (kinds[start.kind as Kind]?.label ?? start.kind)
  return {
    title: start.category ? `${kindLabel} · ${start.category}` : kindLabel,
    amount: sumMinor(mine, line => line.amount),
    key,
    generation: null,
    client,
    lines: mine,
    here: 'line',
    entry: null,
  }
}

const fromDraftLine = async (
  tx: Transaction,
  start: SettlementKey & { entry: number; line: number },
): Promise<Found | null> => {
  const key = { source: start.source, key: start.key, currency: start.currency }
  const { client, lines } = await loadLines(tx, key, null)
  const composed = await composeFor(tx, client, key)
  const entry = composed?.entries[start.entry]
  const line = entry?.lines[start.line - 1]
  if (!entry || !line) return null
  return {
    title: `${line.account} ${client.setup.accounts.get(line.account)?.name ?? ''}`,
    amount: line.amount,
    key,
    generation: null,
    client,
    lines: linesBehind(lines, client, { payout_line: entry.payoutLine, buckets: line.buckets }),
    here: entry.document === 'transfer' ? 'transfer' : 'entry',
    entry: null,
  }
}

const fromLines = async (
  tx: Transaction,
  start: { at: 'line'; source: string; lineId: string } | { at: 'order'; order: string },
): Promise<Found | null> => {
  const where =
    start.at === 'line'
      ? sql`l.source = ${start.source} AND l.line_id = ${start.lineId}`
      : sql`l.order_id = ${start.order}`
  const rows = await rowsOf<StoredLine & { key: string }>(
    tx,
    sql`
    SELECT ${lineColumns}, l.settlement_key AS key FROM activity_line l WHERE l.client_id = current_client() AND ${where}
      AND NOT EXISTS (SELECT FROM activity_superseded x WHERE x.client_id = l.client_id AND x.source = l.source
        AND x.line_id = l.line_id AND x.revision = l.revision)
    ORDER BY l.occurred_at, l.line_id`,
  )
  const [first] = rows
  if (!first) return null
  const key = { source: first.source, key: first.key, currency: first.currency }
  const posted = await postedAs(tx, key)
  const mine = rows.filter(
    line => line.key === first.key && line.source === first.source && line.currency === first.currency,
  )
  return {
    title: start.at === 'line' ? `${kinds[first.kind as Kind].label} ${first.lineId}` : `Order ${start.order}`,
    amount: sumMinor(mine, line => line.amount),
    key,
    generation: null,
    client: await loadSetup(tx, posted?.mapVersion ?? null),
    lines: mine,
    here: start.at,
    entry: null,
  }
}

const fromTransfer = async (tx: Transaction, id: string): Promise<Found | null> => {
  const parsed = parseTransferId(id)
  if (!parsed) return null
  const [row] = await rowsOf<{ key: string; currency: string; amount: number; entry: string }>(
    tx,
    sql`
    SELECT key, currency, amount, fiscal_year || '-' || number AS entry FROM transfer WHERE client_id = current_client()
      AND source = ${parsed.source} AND payout_line = ${parsed.payoutLine} AND generation = ${parsed.generation}`,
  )
  if (!row) return null
  const key = { source: parsed.source, key: row.key, currency: row.currency }
  const { client, lines } = await loadLines(tx, key, parsed.generation)
  return {
    title: `Transfer of ${settlementName(key)}`,
    amount: row.amount,
    key,
    generation: parsed.generation,
    client,
    lines: lines.filter(line => !isPayout(line.kind as Kind)),
    here: 'transfer',
    entry: null,
  }
}

const fromBankLine = async (tx: Transaction, start: { account: string; id: string }): Promise<Found | null> => {
  const [row] = await rowsOf<{ source: string; payout_line: string; generation: number }>(
    tx,
    sql`
    SELECT t.source, t.payout_line, t.generation FROM paired_bank_line b JOIN paired_transfer t USING (client_id, pairing_id)
    WHERE b.client_id = current_client() AND b.bank_account = ${start.account} AND b.line_id = ${start.id} AND b.active LIMIT 1`,
  )
  if (!row) return null
  const found = await fromTransfer(tx, `${row.source}/${row.generation}/${row.payout_line}`)
  return found && { ...found, title: `Bank line ${start.id}`, here: 'bank_line' }
}

// The steps ---------------------------------------------------------------------------------------------------------

const shown = 4

const traceOf = async (tx: Transaction, found: Found): Promise<Trace> => {
  const steps = [
    orderStep(found),
    lineStep(found),
    routeStep(found),
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

type Step = Omit<TraceStep, 'here'>

const orderStep = ({ lines, key }: Found): Step => {
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
      .slice(0, shown)
      .map(([order, amount]) => ({ title: order, detail: '', amount, link: `order:${order}` })),
  }
}

const lineStep = ({ lines, key }: Found): Step => {
  const biggest = [...lines].sort((left, right) => Math.abs(right.amount) - Math.abs(left.amount))
  return {
    sort: 'line',
    title: lines.length === 1 ? `Activity line ${lines[0]?.lineId}` : `${lines.length} activity lines`,
    detail: `${settlementName(key)}`,
    count: lines.length,
    amount: sumMinor(lines, line => line.amount),
    currency: key.currency,
    link: linkTo(key),
    items: biggest.slice(0, shown).map(line => ({
      title: line.lineId,
      amount: line.amount,
      link: `line:${line.source}/${line.lineId}`,
      detail: [kinds[line.kind as Kind].label, line.category, line.description].filter(Boolean).join(' · '),
    })),
  }
}

const routeText = (route: Route, client: ClientSetup): string => {
  const account =
    route.account === null ? '' : `${route.account} ${client.setup.accounts.get(route.account)?.name ?? ''}`
  const when = [route.category, route.region && `to ${route.region}`, route.sku].filter(Boolean).join(' · ')
  return `${kinds[route.kind].label}${when ? ` · ${when}` : ''} → ${account}${route.taxCode ? `, ${route.taxCode}` : ''}`
}

const routeDetail = (routes: number, unmapped: number, mapVersion: number): string => {
  if (unmapped > 0) return `${unmapped} lines have no route`
  return routes === 0 ? 'a payout goes to the bank account of its source' : `version ${mapVersion} of the map`
}

const routeStep = ({ lines, client, key }: Found): Step => {
  const routes = new Map<number, { route: Route; amount: number; count: number }>()
  let unmapped = 0
  for (const line of lines) {
    if (isPayout(line.kind as Kind)) continue
    const { resolution } = resolveStored(line, client)
    if (!resolution.route) {
      unmapped++
      continue
    }
    const before = routes.get(resolution.route.id) ?? { route: resolution.route, amount: 0, count: 0 }
    routes.set(resolution.route.id, { ...before, amount: before.amount + line.amount, count: before.count + 1 })
  }
  const heaviest = [...routes.values()].sort((left, right) => Math.abs(right.amount) - Math.abs(left.amount))
  return {
    sort: 'route',
    title: routes.size === 0 ? 'No route' : routes.size === 1 ? 'One route' : `${routes.size} routes`,
    detail: routeDetail(routes.size, unmapped, client.mapVersion),
    count: routes.size,
    amount: null,
    currency: null,
    link: `/mapping/${encodeURIComponent(key.source)}`,
    items: heaviest.slice(0, shown).map(({ route, amount, count }) => ({
      title: routeText(route, client),
      detail: count === 1 ? '1 line' : `${count} lines`,
      amount,
      link: `/mapping/${encodeURIComponent(key.source)}?route=${route.id}`,
    })),
  }
}

const generationOf = async (tx: Transaction, { key, generation }: Found): Promise<number | null> => {
  if (generation !== null) return generation
  const [row] = await rowsOf<{ generation: number }>(
    tx,
    sql`SELECT generation FROM settlement WHERE client_id = current_client()
    AND source = ${key.source} AND key = ${key.key} AND currency = ${key.currency} AND state = 'posted'`,
  )
  return row?.generation ?? null
}

const entryStep = async (tx: Transaction, found: Found): Promise<Step> => {
  const generation = await generationOf(tx, found)
  const { key } = found
  const entries =
    generation === null
      ? []
      : await rowsOf<{ number: string; date: string; document: string; total: number }>(
          tx,
          sql`
    SELECT e.fiscal_year || '-' || e.number AS number, e.date::text, e.document,
      (SELECT sum(greatest(l.amount, 0))::bigint FROM entry_line l WHERE l.client_id = e.client_id
        AND l.fiscal_year = e.fiscal_year AND l.number = e.number) AS total
    FROM entry e WHERE e.client_id = current_client() AND e.source = ${key.source} AND e.key = ${key.key}
      AND e.currency = ${key.currency} AND e.generation = ${generation} AND e.document IN ('journal', 'correction', 'reversal')
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

const bankSteps = async (tx: Transaction, found: Found): Promise<Step[]> => {
  const generation = await generationOf(tx, found)
  const { key } = found
  const transfers =
    generation === null
      ? []
      : await rowsOf<{
          source: string
          payout_line: string
          date: string
          amount: number
          bank_account: string
          entry: string
          lines: { id: string; date: string; amount: number; description: string }[] | null
        }>(
          tx,
          sql`
    SELECT t.source, t.payout_line, t.date::text, t.amount, t.bank_account, t.fiscal_year || '-' || t.number AS entry,
      (SELECT json_agg(json_build_object('id', b.line_id, 'date', b.date, 'amount', b.amount, 'description', b.description) ORDER BY b.date)
        FROM paired_transfer m JOIN paired_bank_line n USING (client_id, pairing_id)
        JOIN bank_line b ON b.client_id = n.client_id AND b.bank_account = n.bank_account AND b.line_id = n.line_id
        WHERE m.client_id = t.client_id AND m.source = t.source AND m.payout_line = t.payout_line AND m.generation = t.generation
          AND m.active) AS lines
    FROM transfer t WHERE t.client_id = current_client() AND t.source = ${key.source} AND t.key = ${key.key}
      AND t.currency = ${key.currency} AND t.generation = ${generation} ORDER BY t.date`,
        )
  const bankLines = transfers.flatMap(transfer => transfer.lines ?? [])
  const [transfer] = transfers
  const [bankLine] = bankLines
  return [
    {
      sort: 'transfer',
      count: transfers.length,
      amount: transfers.length > 0 ? sumMinor(transfers, one => one.amount) : null,
      currency: key.currency,
      title: transfer ? `Transfer to ${transfer.bank_account}` : 'No transfer yet',
      detail: transfer
        ? `${transfer.date}, entry ${transfer.entry}`
        : 'a payout makes one when the settlement is posted',
      link: transfer ? `/books/entries/${transfer.entry}` : null,
      items: [],
    },
    {
      sort: 'bank_line',
      count: bankLines.length,
      amount: bankLines.length > 0 ? sumMinor(bankLines, line => line.amount) : null,
      currency: key.currency,
      title: bankLine
        ? bankLines.length === 1
          ? `Bank line ${bankLine.id}`
          : `${bankLines.length} bank lines`
        : 'No bank line yet',
      detail: bankLine ? `${bankLine.date} ${bankLine.description}` : 'confirm its deposit on the bank’s page',
      link: transfer ? `/bank/${encodeURIComponent(transfer.bank_account)}` : null,
      items:
        bankLines.length < 2
          ? []
          : bankLines.map(line => ({
              title: line.id,
              detail: `${line.date} ${line.description}`,
              amount: line.amount,
              link: null,
            })),
    },
  ]
}
