import type { DecidedPayment, OneSidedRow, PaymentDecision } from '@culvert/contract'
import { amountText, currencySign, dateText } from '../ui/formats.ts'

export type DecisionSort = PaymentDecision['as']

/** What can be decided, as a person says it. */
export const decisionWords: Record<DecisionSort, string> = {
  attached: 'Attach it to a payment of the other side',
  price_reduction: 'Price reduction',
  written_off: 'Write it off',
  gift: 'Gift',
  own_test: 'Our own test',
  sale: 'Sale without an order',
  as_routed: 'It is what its route says',
  waits: 'Wait for the other side',
  set_aside: 'Set aside',
}

/** The same, said of what was decided. */
export const decidedWords: Record<DecisionSort, string> = {
  attached: 'attached',
  price_reduction: 'price reduction',
  written_off: 'written off',
  gift: 'gift',
  own_test: 'own test',
  sale: 'sale without an order',
  as_routed: 'as its route says',
  waits: 'waits',
  set_aside: 'set aside',
}

const evidenceWords: Record<OneSidedRow['candidates'][number]['evidence'][number], string> = {
  same_amount: 'same amount',
  same_name: 'same name',
  like_order: 'order number alike',
  same_day: 'same day',
}

/** What speaks for two payments being one: “same amount, order number alike; 1 day apart”. */
export const evidenceText = ({ evidence, lag }: OneSidedRow['candidates'][number]): string => {
  const days = Math.abs(lag)
  const said = evidence.map(one => evidenceWords[one]).join(', ')
  return days === 0 ? said : `${said}; ${days === 1 ? '1 day' : `${days} days`} apart`
}

export const hindranceText: Record<NonNullable<OneSidedRow['hindered']>, string> = {
  not_posted: 'its settlement is to be posted first',
  no_account: 'it stands on no account',
  taxed_by_route: 'its route took tax out of it: take its settlement back and route it anew',
}

/** Whether deciding so makes an entry. */
export const isBooked = (as: DecisionSort): boolean =>
  !(['attached', 'as_routed', 'waits', 'set_aside'] as readonly DecisionSort[]).includes(as)

/** Whether it asks for an account; of a tender a test is undone like its order was made. */
export const asksForAccount = (as: DecisionSort, row: OneSidedRow): boolean =>
  as === 'written_off' || as === 'gift' || as === 'sale' || (as === 'own_test' && isCollection(row))

export const isCollection = ({ sort }: OneSidedRow): boolean =>
  sort === 'collected_without_order' || sort === 'refund_without_order'

/** What is shown of a decision's other side or day. */
export const decidedDetail = (row: DecidedPayment): string => {
  if (row.attachedTo) return `to ${row.attachedTo.order ?? row.attachedTo.lineId}`
  if (row.until) return `until ${dateText(row.until)}`
  return row.account ?? ''
}

/** What a decision does, before it is done. */
export const consequenceText = (row: OneSidedRow, as: DecisionSort, at: { today: string; locale: string }): string => {
  const { currency } = row.line
  const amount = `${currencySign(currency)} ${amountText(Math.abs(row.amount), currency, at.locale)}`
  const held = row.held ? `${row.held.account} ${row.held.name}` : 'where it stands'
  const posts = `Posts an entry dated ${dateText(at.today)}, or the first open day after it: ${amount}, against ${held}`
  switch (as) {
    case 'attached':
      return 'The two are one payment from now on, and the collection books nothing; where it is posted, a correction follows.'
    case 'price_reduction':
      return `${posts}, like a discount on the order, with its tax.`
    case 'own_test':
      return isCollection(row) ? `${posts}, without tax.` : `${posts}, like a refund of the order, with its tax.`
    case 'sale':
      return `${posts}, with the tax in it.`
    case 'written_off':
    case 'gift':
      return `${posts}, without tax.`
    case 'as_routed':
      return `Posts nothing: it stays on ${held}.`
    case 'waits':
      return 'Posts nothing. It is listed again after that day.'
    case 'set_aside':
      return 'Posts nothing. The proof keeps counting it.'
  }
}
