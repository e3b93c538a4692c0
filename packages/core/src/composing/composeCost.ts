import type { ActivityLine } from '../activity/activityLine.ts'
import type { Kind } from '../activity/kinds.ts'
import { costOn, type Item } from '../mapping/item.ts'
import type { Fraction } from '../money/fraction.ts'
import { scaleMinor } from '../money/minor.ts'
import { parseQuantity, sumQuantities } from '../money/quantity.ts'
import { type DraftEntry, finishLines, mergeParts } from './draft.ts'

/** Accounts that the cost of what is sold goes between. */
export interface CostAccounts {
  readonly costOfSales: string
  readonly inventory: string
  readonly base: string
}

/** A line whose cost could not be booked: no quantity to multiply, or no item or cost for its SKU on its date. */
export interface WithoutCost {
  readonly lineId: string
  readonly sku: string
  readonly reason: 'no_item' | 'no_cost' | 'no_quantity'
}

export interface ComposedCost {
  readonly entry: DraftEntry | null
  readonly without: readonly WithoutCost[]
}

const signOf: Partial<Record<Kind, 1 | -1>> = { sale: 1, refund: -1 }

/**
 * Composes the cost of what was sold: cost of sales against inventory, quantity × the item's cost on the line's local date,
 * rounded once per SKU and cost. A refund that names a quantity returns it to stock; one without is money only.
 * `date` (local date) is the entry's.
 */
export const composeCost = (
  lines: readonly { readonly line: ActivityLine; readonly localDate: string }[],
  context: {
    readonly items: ReadonlyMap<string, Item>
    readonly accounts: CostAccounts
    readonly date: string
  },
): ComposedCost => {
  const without: WithoutCost[] = []
  const groups = new Map<string, { cost: number; quantities: Fraction[] }>()
  for (const { line, localDate } of lines) {
    const sign = signOf[line.kind]
    if (sign === undefined || line.sku === null) continue
    const quantity = line.quantity === null ? null : parseQuantity(line.quantity)
    if (quantity === null) {
      if (line.kind === 'sale') without.push({ lineId: line.lineId, sku: line.sku, reason: 'no_quantity' })
      continue
    }
    const item = context.items.get(line.sku)
    const cost = item ? costOn(item, localDate) : null
    if (cost === null) {
      without.push({ lineId: line.lineId, sku: line.sku, reason: item ? 'no_cost' : 'no_item' })
      continue
    }
    const key = JSON.stringify([line.sku, cost])
    const group = groups.get(key) ?? { cost, quantities: [] }
    groups.set(key, group)
    group.quantities.push(signed(quantity, sign))
  }
  return { entry: costEntry([...groups.values()], context), without }
}

// A quantity's size, with the sign of its kind: sources write what is returned as 1 or as -1.
const signed = ({ numerator, denominator }: Fraction, sign: 1 | -1): Fraction => ({
  numerator: BigInt(sign) * (numerator < 0n ? -numerator : numerator),
  denominator,
})

const costEntry = (
  groups: readonly { cost: number; quantities: readonly Fraction[] }[],
  { accounts, date }: { accounts: CostAccounts; date: string },
): DraftEntry | null => {
  const rest = { taxCode: '', segments: '', bucket: null, routes: [] }
  const merged = mergeParts(
    groups.flatMap(({ cost, quantities }) => {
      const { numerator, denominator } = sumQuantities(quantities)
      const amount = scaleMinor(cost, numerator, denominator)
      return [
        { ...rest, account: accounts.costOfSales, amount },
        { ...rest, account: accounts.inventory, amount: amount === 0 ? 0 : -amount },
      ]
    }),
  )
  if (merged.length === 0) return null
  const { base } = accounts
  const lines = finishLines(merged, { currency: base, base, rate: null, exchangeRounding: null })
  return lines && { document: 'cost', date, currency: base, payoutLine: null, lines }
}
