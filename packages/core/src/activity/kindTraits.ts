import type { Kind } from './kinds.ts'

const tenders = ['tender', 'tender_returned'] as const
const collections = ['collected', 'collected_back'] as const

/**
 * What several kinds have in common, wherever activity is read. The one place where kinds are listed by trait: conditions of statements, partial indexes and
 * the database's own functions are made from it.
 */
export const kindTraits = {
  payout: ['payout', 'payout_returned'],
  reserve: ['reserve_kept', 'reserve_released'],
  /** Stock that a till records: it moves what is owed to suppliers, not the source's balance with the seller. */
  stock: ['stock_received', 'supplier_credit'],
  /** Money that a channel says was paid by some means. */
  tender: tenders,
  /** Money that a gateway says it collected. */
  collection: collections,
  /** Either side of what was paid for an order. */
  tie: [...tenders, ...collections],
  /** Money that goes back to the customer, on either side. */
  given_back: ['tender_returned', 'collected_back'],
  dispute: ['chargeback', 'chargeback_reversal'],
  /** Tax and nothing else once a tax code serves the line. */
  tax: ['tax', 'tax_refund', 'tax_withheld'],
  /** What is supplied, with what goes along and what is given back: where a client decides tax apart from accounts, its tax rows say their code. */
  supply: [
    'sale',
    'refund',
    'shipping',
    'shipping_refund',
    'discount',
    'other_charge',
    'surcharge',
    'tax',
    'tax_refund',
    'tax_withheld',
  ],
  /** Goes back to a supply before it; a discount does where it names an order. */
  going_back: ['refund', 'shipping_refund', 'tax_refund', 'discount'],
  /** Taxed as the goods of its order are, where the source says so. */
  going_along: ['shipping', 'shipping_refund', 'discount', 'other_charge'],
} as const satisfies Record<string, readonly Kind[]>

export type KindTrait = keyof typeof kindTraits
export const kindTraitNames = Object.keys(kindTraits) as KindTrait[]

const of = <Trait extends KindTrait>(trait: Trait) => {
  const kinds = new Set<string>(kindTraits[trait])
  return (kind: string): kind is (typeof kindTraits)[Trait][number] => kinds.has(kind)
}

export const isPayout = of('payout')
export const isReserve = of('reserve')
export const isStock = of('stock')
export const isTender = of('tender')
export const isCollection = of('collection')
export const goesBack = of('given_back')
export const isTaxKind = of('tax')
export const isSupply = of('supply')
/** Whether a kind is one that goes back to a supply before it. */
export const mayGoBack = of('going_back')
/** Whether a kind may be taxed as the goods of its order are. */
export const mayGoAlong = of('going_along')
/** Whether what a line of the kind says of itself names goods; of any other it is free text, and may name a person. */
export const namesGoods = (kind: string): boolean => isSupply(kind)
