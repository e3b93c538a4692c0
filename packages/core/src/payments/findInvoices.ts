import { daysBetween } from '../activity/localDate.ts'
import { containsWords } from '../pairing/bankWording.ts'

/** An invoice that is not wholly paid. Minor units of `currency`. */
export interface OpenInvoice {
  readonly number: string
  readonly customer: string
  readonly currency: string
  readonly open: number
  /** Local dates. */
  readonly date: string
  readonly due: string
}

/** Money that came in and is not assigned yet. Minor units, above zero. */
export interface Collection {
  readonly currency: string
  readonly amount: number
  readonly date: string
  /** All that it says: order, reference, description. */
  readonly texts: readonly string[]
}

export type InvoiceEvidence = 'reference' | 'amount_date'

export interface InvoiceCandidate {
  readonly invoice: OpenInvoice
  readonly by: InvoiceEvidence
}

/** Days after its date within which an invoice of exactly the amount is thought of. */
const amountWithinDays = 90
const letterOrDigit = /[\p{L}\p{N}]/u

/** A number tells when it has three characters or more, a digit among them. */
const isTelling = (number: string): boolean => number.length >= 3 && /\d/.test(number) && letterOrDigit.test(number)

const evidenceFor = (collection: Collection, invoice: OpenInvoice): InvoiceEvidence | null => {
  if (invoice.currency !== collection.currency) return null
  if (isTelling(invoice.number) && collection.texts.some(text => containsWords(text, invoice.number)))
    return 'reference'
  const age = daysBetween(invoice.date, collection.date)
  return invoice.open === collection.amount && age >= 0 && age <= amountWithinDays ? 'amount_date' : null
}

/**
 * The open invoices that a collection may pay, by the most telling evidence any has: its number named as a whole word, else
 * exactly the open amount lately. `customer` narrows amounts to one customer's; a number that is named needs no customer.
 */
export const findInvoices = (
  collection: Collection,
  invoices: readonly OpenInvoice[],
  customer: string | null,
): readonly InvoiceCandidate[] => {
  const found = invoices.flatMap(invoice => {
    const by = evidenceFor(collection, invoice)
    return by === null || (by === 'amount_date' && customer !== null && invoice.customer !== customer)
      ? []
      : [{ invoice, by }]
  })
  const named = found.filter(one => one.by === 'reference')
  return named.length > 0 ? named : found
}
