import { editDistance } from '../mapping/editDistance.ts'
import type { Named } from '../mapping/findNamed.ts'
import { foldName } from '../mapping/folded.ts'

/** Somebody who buys, as the ledger knows them. */
export interface Customer extends Named {
  readonly emails: readonly string[]
  /** The customer's own id at each source, by source key. */
  readonly sourceIds: Readonly<Record<string, string>>
}

/** What a collection says of who paid. */
export interface Payer {
  readonly source: string
  readonly customerId: string | null
  readonly email: string | null
  readonly name: string | null
}

/** What speaks for a customer, the most telling first. */
export const customerEvidence = ['customer_id', 'email', 'exact_name', 'like_name'] as const
export type CustomerEvidence = (typeof customerEvidence)[number]

export interface CustomerCandidate {
  readonly customer: Customer
  readonly by: CustomerEvidence
}

/** Letters by which a folded name may differ: none in short ones, where every letter tells. */
const typosIn = (name: string): number => (name.length < 6 ? 0 : name.length < 12 ? 1 : 2)

const foldEmail = (email: string): string => email.trim().toLowerCase()

const evidenceFor = (payer: Payer, customer: Customer): CustomerEvidence | null => {
  if (payer.customerId !== null && customer.sourceIds[payer.source] === payer.customerId) return 'customer_id'
  const email = payer.email === null ? '' : foldEmail(payer.email)
  if (email !== '' && customer.emails.some(known => foldEmail(known) === email)) return 'email'
  const name = payer.name === null ? '' : foldName(payer.name)
  if (name === '') return null
  const known = [customer.name, ...customer.otherNames].map(foldName)
  if (known.includes(name)) return 'exact_name'
  return known.some(one => one !== '' && editDistance(one, name, typosIn(name)) <= typosIn(name)) ? 'like_name' : null
}

/**
 * The customers who may have paid, by the most telling evidence that any of them has: weaker evidence for others is not told,
 * and never breaks a tie. More than one: a person decides.
 */
export const findCustomers = (payer: Payer, customers: readonly Customer[]): readonly CustomerCandidate[] => {
  const found = customers.flatMap(customer => {
    const by = evidenceFor(payer, customer)
    return by === null ? [] : [{ customer, by }]
  })
  const strongest = customerEvidence.find(evidence => found.some(one => one.by === evidence))
  return found.filter(one => one.by === strongest)
}
