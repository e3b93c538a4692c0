import type { CustomerCandidate } from './findCustomers.ts'
import type { InvoiceCandidate } from './findInvoices.ts'

/** What speaks for an act, the most telling first. */
export const actEvidence = [
  'reference',
  'customer_id',
  'email',
  'exact_name',
  'like_name',
  'amount_date',
  'none',
] as const
export type ActEvidence = (typeof actEvidence)[number]

/** What a source's table says for one sort of evidence: the act is done in the draft, proposed for a person, or nothing is. */
export type Readiness = 'done' | 'proposed' | 'left'
export type ActTable = Readonly<Record<ActEvidence, Readiness>>

export const usualActs: ActTable = {
  reference: 'done',
  customer_id: 'done',
  email: 'done',
  exact_name: 'proposed',
  like_name: 'proposed',
  amount_date: 'proposed',
  none: 'left',
}

export type PaymentAct =
  /** Pays these invoices, the oldest first. */
  | { readonly act: 'apply'; readonly invoices: readonly string[]; readonly customer: string }
  /** Money of a known customer without an open invoice. */
  | { readonly act: 'receipt'; readonly customer: string }
  | { readonly act: 'leave' }

export interface Decision {
  readonly what: PaymentAct
  readonly by: ActEvidence
  readonly readiness: Readiness
  /** Customers or invoices of equal evidence: a person must say which. */
  readonly tied: boolean
}

/**
 * Decides what is to be done with a collection, by a source's table. Two candidates of equal evidence never decide by
 * themselves: what the table would do is then proposed at most.
 */
export const decideAct = (
  candidates: {
    readonly customers: readonly CustomerCandidate[]
    readonly invoices: readonly InvoiceCandidate[]
    /** Open invoices of the one customer found, if one was. */
    readonly openOfCustomer: readonly string[]
  },
  table: ActTable,
): Decision => {
  const { customers, invoices, openOfCustomer } = candidates
  const [invoice] = invoices
  const [customer] = customers
  const decision = (what: PaymentAct, by: ActEvidence, tied: boolean): Decision => {
    const said = table[by]
    return { what, by, tied, readiness: tied && said === 'done' ? 'proposed' : said }
  }
  if (invoice?.by === 'reference') {
    const payers = new Set(invoices.map(one => one.invoice.customer))
    const numbers = invoices.map(one => one.invoice.number)
    return decision(
      { act: 'apply', invoices: numbers, customer: invoice.invoice.customer },
      'reference',
      payers.size > 1,
    )
  }
  if (customer) {
    const tied = customers.length > 1
    const exact = invoices.filter(one => one.invoice.customer === customer.customer.code)
    const numbers = exact.length === 1 ? exact.map(one => one.invoice.number) : openOfCustomer
    const what: PaymentAct =
      numbers.length > 0
        ? { act: 'apply', invoices: numbers, customer: customer.customer.code }
        : { act: 'receipt', customer: customer.customer.code }
    return decision(what, customer.by, tied)
  }
  if (invoice)
    return decision(
      { act: 'apply', invoices: [invoice.invoice.number], customer: invoice.invoice.customer },
      'amount_date',
      invoices.length > 1,
    )
  return decision({ act: 'leave' }, 'none', false)
}
