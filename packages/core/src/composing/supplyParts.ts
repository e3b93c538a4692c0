import type { WeightedLine } from '../activity/activityLine.ts'
import type { Kind } from '../activity/kinds.ts'
import { isSupply } from '../activity/kindTraits.ts'
import type { Fraction } from '../money/fraction.ts'
import { splitMinor } from '../money/splitMinor.ts'
import { type BasketPart, type DatedLine, goesAlong, isUnitemisedRefund, type SupplyBook } from '../tax/supply.ts'
import { resolveLine } from './resolveLine.ts'
import type { Setup, Source } from './setup.ts'

/**
 * A line as it is taxed: with the date, region and class of what it belongs to; one that goes along with its order's goods, or gives them back without
 * saying which, in a part for each of their classes. In a client without tax rows, and of what is no supply, the line as it is. The parts add up to the line.
 */
export const supplyParts = (
  line: DatedLine,
  weighted: WeightedLine,
  context: {
    readonly book: SupplyBook
    readonly setup: Setup
    readonly source: Source
    /** It undoes an order as a whole, whatever the source's option says: a credited chargeback. */
    readonly undoesOrder?: boolean
  },
): readonly WeightedLine[] => {
  const { book, setup, source, undoesOrder = false } = context
  if (!setup.taxRows || !isSupply(line.kind)) return [weighted]
  const { date, region, class: own, of } = book.factsOf(line)
  const lost = of === null && undoes.has(line.kind)
  const { ancillaryFollows, refundFollows } = source.options
  const along = (ancillaryFollows && goesAlong(line)) || ((refundFollows || undoesOrder) && isUnitemisedRefund(line))
  const basket = along ? book.basketOf(line) : []
  const as = (productClass: string): WeightedLine => ({
    ...weighted,
    supply: { date, region, class: productClass, ...(lost && { lost }) },
  })
  if (basket.length === 0) return [along ? unsplit(as('')) : as(own)]
  return splitOverGoods(line, as(''), { basket, setup, source })
}

/** A line that goes along with goods, in a part for each of their classes; `weighted` says its tax date and region. The parts add up to the line. */
export const splitOverGoods = (
  line: Pick<DatedLine, 'lineId' | 'amount'>,
  weighted: WeightedLine,
  context: { readonly basket: readonly BasketPart[]; readonly setup: Setup; readonly source: Source },
): readonly WeightedLine[] => {
  const { basket } = context
  const supply = weighted.supply ?? { date: weighted.localDate, region: weighted.region }
  const [first, ...others] = basket
  if (first && others.length === 0) return [{ ...weighted, supply: { ...supply, class: first.class } }]
  const amounts = splitMinor(
    line.amount,
    basket.map(part => part.amount),
  )
  const parts = basket.map((part, index) => ({
    ...weighted,
    supply: { ...supply, class: part.class },
    amount: amounts[index] as number,
    part: { lineId: line.lineId, whole: line.amount },
  }))
  const { taxAmount } = weighted
  if (taxAmount === null) return parts
  const taxes = splitMinor(taxAmount, taxWeights(parts, basket, context))
  return parts.map((part, index) => ({ ...part, taxAmount: taxes[index] as number }))
}

/** Kinds that undo a supply; a discount may stand without one. */
const undoes: ReadonlySet<Kind> = new Set(['refund', 'shipping_refund', 'tax_refund'])

const unsplit = ({ supply, ...line }: WeightedLine): WeightedLine => ({
  ...line,
  ...(supply && { supply: { ...supply, unsplit: true as const } }),
})

/** What each part's code would bear on it, exact, over one denominator; the parts' own amounts where none would bear any. */
const taxWeights = (
  parts: readonly WeightedLine[],
  basket: readonly BasketPart[],
  { setup, source }: { readonly setup: Setup; readonly source: Source },
): readonly bigint[] => {
  const borne = parts.map((part): Fraction => {
    // An account that lacks, or is of another currency, changes nothing about the code.
    const resolution = resolveLine({ ...part, taxAmount: null }, setup, source, '')
    const resolved = resolution.ok ? (resolution.elsewhere ? null : resolution) : resolution.taxed
    if (!resolved?.rates || !resolved.taxCode || resolved.taxCode.reverseCharge || resolved.taxCode.basis === 'none')
      return { numerator: 0n, denominator: 1n }
    const { numerator, denominator } = resolved.rates.total
    const size = BigInt(Math.abs(part.amount))
    return { numerator: size * numerator, denominator: 100n * denominator + numerator }
  })
  const common = borne.reduce((product, { denominator }) => product * denominator, 1n)
  const weights = borne.map(({ numerator, denominator }) => (numerator * common) / denominator)
  return weights.every(weight => weight === 0n) ? basket.map(part => part.amount) : weights
}
