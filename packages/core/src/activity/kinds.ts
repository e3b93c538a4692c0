/** Where a kind stands in the statement from gross to net. */
export type StatementPart = 'gross' | 'tax' | 'fees' | 'held' | 'tenders' | 'payout'
export const accountTypes = [
  'bank',
  'card',
  'clearing',
  'receivable',
  'inventory',
  'current_asset',
  'fixed_asset',
  'payable',
  'current_liability',
  'tax',
  'loan',
  'equity',
  'income',
  'other_income',
  'cost_of_sales',
  'expense',
] as const
export type AccountType = (typeof accountTypes)[number]

interface KindFacts {
  readonly label: string
  readonly part: StatementPart
  /** Account types that a route of this kind usually points to; any other is a warning. */
  readonly accountTypes: readonly AccountType[]
  /** What the kind means, in a sentence a bookkeeper can act on. */
  readonly meaning: string
}

const kind = (label: string, part: StatementPart, types: string, meaning: string): KindFacts => ({
  label,
  part,
  accountTypes: types.split(' ') as AccountType[],
  meaning,
})

/** Every sort of movement that a source can report. Signs are from the seller's side: plus raises what is owed to it. */
export const kinds = {
  sale: kind('Sale', 'gross', 'income', 'Price of goods sold, as the buyer paid it'),
  refund: kind('Refund', 'gross', 'income', 'Price given back; its tax goes back with it'),
  shipping: kind('Shipping', 'gross', 'income', 'What buyers pay for postage: income, not your cost of posting'),
  shipping_refund: kind('Shipping refund', 'gross', 'income', 'Postage given back to the buyer'),
  discount: kind('Discount', 'gross', 'income', 'Price taken off by a voucher or offer; lowers sales'),
  other_charge: kind('Other charge', 'gross', 'income', 'Paid by the buyer for extras such as wrapping or engraving'),
  surcharge: kind('Surcharge', 'gross', 'income', 'Added to the price for a way of paying'),
  tip: kind('Tip', 'gross', 'current_liability', 'Given for the staff: owed to them, not income'),
  tax: kind('Tax', 'tax', 'tax income', 'Tax charged beside the price'),
  tax_refund: kind('Tax refund', 'tax', 'tax income', 'Tax given back with a refund'),
  tax_withheld: kind('Tax withheld', 'tax', 'tax', 'Tax that the marketplace keeps and pays to the authority itself'),
  gift_card_sold: kind(
    'Gift card sold',
    'gross',
    'current_liability',
    'Money for goods not chosen yet: owed, not income',
  ),
  gift_card_redeemed: kind(
    'Gift card redeemed',
    'gross',
    'current_liability',
    'A gift card used to pay: lowers what is owed',
  ),
  processing_fee: kind('Processing fee', 'fees', 'expense', 'The processor’s charge for taking a payment'),
  selling_fee: kind('Selling fee', 'fees', 'expense', 'The marketplace’s share of each sale'),
  fulfilment_fee: kind('Fulfilment fee', 'fees', 'expense', 'Charged for storing, packing and sending'),
  advertising_fee: kind('Advertising fee', 'fees', 'expense', 'Charged for promoted listings'),
  subscription_fee: kind('Subscription fee', 'fees', 'expense', 'Charged for having the shop or account'),
  other_fee: kind('Other fee', 'fees', 'expense', 'Any charge of the source that has no kind of its own'),
  fee_refund: kind('Fee refund', 'fees', 'expense', 'A charge given back'),
  chargeback: kind(
    'Chargeback',
    'gross',
    'current_asset',
    'A payment taken back by the buyer’s bank: disputed until it is won or lost',
  ),
  chargeback_fee: kind('Chargeback fee', 'fees', 'expense', 'Charged for handling a chargeback'),
  chargeback_reversal: kind(
    'Chargeback reversal',
    'gross',
    'current_asset',
    'A chargeback decided in the seller’s favour: closes what was disputed',
  ),
  reserve_kept: kind('Reserve kept', 'held', 'current_asset', 'Yours, but held back and not paid out yet'),
  reserve_released: kind('Reserve released', 'held', 'current_asset', 'Held-back money that is free again'),
  advance_received: kind(
    'Advance received',
    'held',
    'current_liability loan',
    'Lent by the source against coming sales',
  ),
  advance_repaid: kind('Advance repaid', 'held', 'current_liability loan', 'Kept back to pay off an advance'),
  adjustment: kind(
    'Adjustment',
    'gross',
    'expense income other_income',
    'A correction by the source, for instance a lost parcel',
  ),
  cash_rounding: kind('Cash rounding', 'gross', 'expense other_income', 'Cents that cash cannot pay'),
  cash_variance: kind(
    'Cash variance',
    'gross',
    'expense other_income',
    'Counted in the drawer, less what the till expected',
  ),
  purchase: kind('Purchase', 'held', 'expense cost_of_sales inventory', 'Paid to a supplier out of the balance'),
  transfer_in: kind('Transfer in', 'held', 'bank', 'The balance topped up from a bank account'),
  tender: kind(
    'Tender',
    'tenders',
    'clearing current_asset bank receivable current_liability',
    'Paid by this means of payment: owed by whoever took the money',
  ),
  tender_returned: kind(
    'Tender returned',
    'tenders',
    'clearing current_asset bank receivable current_liability',
    'Given back by this means of payment',
  ),
  collected: kind('Collected', 'gross', 'income receivable', 'Taken by the gateway for an order'),
  collected_back: kind('Collected, given back', 'gross', 'income receivable', 'Returned to the payer by the gateway'),
  stock_received: kind('Stock received', 'gross', 'inventory', 'Goods that the till records as bought'),
  supplier_credit: kind('Supplier credit', 'gross', 'inventory', 'Goods sent back to a supplier'),
  conversion: kind(
    'Conversion',
    'held',
    'current_asset clearing',
    'Balance changed into another currency; both lines close one account',
  ),
  payout: kind('Payout', 'payout', 'bank', 'Paid to your bank account, or drawn from it when negative'),
  payout_returned: kind('Payout returned', 'payout', 'bank', 'A payout that the bank sent back'),
} as const satisfies Record<string, KindFacts>

export type Kind = keyof typeof kinds

export const kindNames = Object.keys(kinds) as Kind[]

export const isKind = (text: string): text is Kind => Object.hasOwn(kinds, text)
