import type { ActivityLine } from '../activity/activityLine.ts'
import { isSupply, mayGoAlong, mayGoBack } from '../activity/kindTraits.ts'
import { compareText } from '../mapping/compareText.ts'
import type { ClassBook } from './productClass.ts'

/** What a supply is taxed by, apart from its kind, label and source: whose date and region count, and its product class. */
export interface SupplyFacts {
  /** Tax date, a local date. */
  readonly date: string
  readonly region: string | null
  readonly class: string
  /** Id of the line whose date and region count; null: the line's own. */
  readonly of: string | null
}

/** A line with its local date. */
export type DatedLine = Pick<
  ActivityLine,
  | 'source'
  | 'lineId'
  | 'kind'
  | 'instant'
  | 'orderId'
  | 'relatedId'
  | 'sku'
  | 'category'
  | 'region'
  | 'currency'
  | 'amount'
> & { readonly localDate: string }

const goesBack = (line: DatedLine): boolean =>
  mayGoBack(line.kind) && (line.kind !== 'discount' || Boolean(line.orderId))

/** Whether a line is taxed as its order's goods are: it names the order and no product of its own. */
export const goesAlong = (line: Pick<DatedLine, 'kind' | 'orderId' | 'sku' | 'category'>): boolean =>
  mayGoAlong(line.kind) && Boolean(line.orderId) && !line.sku && !line.category

/** Whether a refund names its order and none of its goods: where its source says so it touches all of them. */
export const isUnitemisedRefund = (line: Pick<DatedLine, 'kind' | 'orderId' | 'sku' | 'category'>): boolean =>
  line.kind === 'refund' && Boolean(line.orderId) && !line.sku && !line.category

/** A class of an order's goods and what they come to, minor units; in order of code point. */
export interface BasketPart {
  readonly class: string
  readonly amount: bigint
}

/** Lines of supplies that are known, made ready for asking. */
export interface SupplyBook {
  /** What a supply is taxed by: its own date and region, or of what goes back those of the supply that it belongs to. */
  factsOf(line: DatedLine): SupplyFacts
  /** Classes that an order's sales come to above zero; empty where it has none, or comes to no more than zero. */
  basketOf(line: Pick<DatedLine, 'source' | 'orderId' | 'currency'>): readonly BasketPart[]
}

const orderKey = (line: Pick<DatedLine, 'source' | 'orderId'>): string => JSON.stringify([line.source, line.orderId])
const lineKey = (source: string, lineId: string): string => JSON.stringify([source, lineId])

/**
 * Indexes the lines of supplies known at the time, in whatever settlement, pending and failed ones apart. What goes back belongs to the line that
 * `related_id` names, followed on from there (in a circle: to none); else to the order's earliest sale with its SKU, else with its category,
 * else to the earliest.
 */
export const supplyBook = (lines: Iterable<DatedLine>, classes: ClassBook): SupplyBook => {
  const byId = new Map<string, DatedLine>()
  const orders = new Map<string, OrderSales>()
  for (const line of lines) {
    if (!isSupply(line.kind)) continue
    byId.set(lineKey(line.source, line.lineId), line)
    if (line.kind !== 'sale' || !line.orderId) continue
    const order = orders.get(orderKey(line)) ?? new OrderSales(classes)
    orders.set(orderKey(line), order)
    order.add(line)
  }

  const soldAs = (line: DatedLine): DatedLine | null =>
    (line.orderId ? orders.get(orderKey(line))?.soldAs(line) : null) ?? null
  const supplyOf = (line: DatedLine): DatedLine | null => {
    const passed = new Set<string>()
    let at = line
    for (;;) {
      const key = lineKey(at.source, at.lineId)
      if (passed.has(key)) return null
      passed.add(key)
      const named = at.relatedId ? byId.get(lineKey(at.source, at.relatedId)) : undefined
      const next = named ?? soldAs(at)
      if (!next) return at === line ? null : at
      if (!goesBack(next)) return next
      at = next
    }
  }
  const classOf = (line: DatedLine, supply: DatedLine | null): string =>
    line.kind === 'refund' && !line.sku && !line.category && supply ? classes.classOf(supply) : classes.classOf(line)

  return {
    factsOf: line => {
      const supply = goesBack(line) ? supplyOf(line) : null
      const { localDate: date, region } = supply ?? line
      return { date, region, class: classOf(line, supply), of: supply?.lineId ?? null }
    },
    basketOf: line => orders.get(orderKey(line))?.basketIn(line.currency) ?? [],
  }
}

/** An order's sales, made ready once: an order may have as many as a source likes, and each line of it asks. */
class OrderSales {
  private first: DatedLine | null = null
  private readonly bySku = new Map<string, DatedLine>()
  private readonly byCategory = new Map<string, DatedLine>()
  private readonly sums = new Map<string, Map<string, bigint>>()

  constructor(private readonly classes: ClassBook) {}

  add(sale: DatedLine): void {
    if (this.first === null || byTime(sale, this.first) < 0) this.first = sale
    keepEarliest(this.bySku, sale.sku, sale)
    keepEarliest(this.byCategory, sale.category, sale)
    const sums = this.sums.get(sale.currency) ?? new Map<string, bigint>()
    this.sums.set(sale.currency, sums)
    const name = this.classes.classOf(sale)
    sums.set(name, (sums.get(name) ?? 0n) + BigInt(sale.amount))
  }

  /** The earliest with the line's SKU, else with its category, else of all. */
  soldAs({ sku, category }: DatedLine): DatedLine | null {
    return this.bySku.get(sku ?? '') ?? this.byCategory.get(category ?? '') ?? this.first
  }

  basketIn(currency: string): readonly BasketPart[] {
    const sums = this.sums.get(currency) ?? new Map<string, bigint>()
    if ([...sums.values()].reduce((sum, amount) => sum + amount, 0n) <= 0n) return []
    return [...sums]
      .filter(([, amount]) => amount > 0n)
      .map(([name, amount]) => ({ class: name, amount }))
      .sort((left, right) => compareText(left.class, right.class))
  }
}

// Empty ones equal none.
const keepEarliest = (earliest: Map<string, DatedLine>, name: string | null, sale: DatedLine): void => {
  if (!name) return
  const known = earliest.get(name)
  if (!known || byTime(sale, known) < 0) earliest.set(name, sale)
}

const byTime = (left: DatedLine, right: DatedLine): number =>
  left.instant - right.instant || compareText(left.lineId, right.lineId)
