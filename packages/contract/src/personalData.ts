import { z } from 'zod'
import { endpoint } from './endpoint.ts'

// What is kept of customers.

/** What a source may tell of customers: nothing, their name, or all that it reports. */
export const personalScopes = ['none', 'name', 'all'] as const
export const personalScope = z.enum(personalScopes)
export type PersonalScope = z.infer<typeof personalScope>

export const personalOfSource = z.object({
  scope: personalScope,
  /** Of how many orders and lines anything is kept; a name; more than a name. */
  persons: z.number(),
  names: z.number(),
  more: z.number(),
  erased: z.number(),
})
export type PersonalOfSource = z.infer<typeof personalOfSource>

export const customerRow = z.object({
  personId: z.string(),
  source: z.string(),
  customer: z.string().nullable(),
  email: z.string().nullable(),
  shipTo: z.string().nullable(),
  /** Lines that tell of them, and the days between which. */
  lines: z.number(),
  first: z.string().nullable(),
  last: z.string().nullable(),
})
export type CustomerRow = z.infer<typeof customerRow>
const ids = z.object({ ids: z.array(z.guid()).min(1).max(2000) })

export const personalDataEndpoints = {
  personalOfSource: endpoint({
    method: 'GET',
    path: '/sources/:source/personal-data',
    right: 'read',
    does: 'What a source may tell of customers, and what is kept of them.',
    answer: personalOfSource,
  }),
  setPersonalScope: endpoint({
    method: 'PUT',
    path: '/sources/:source/personal-data',
    right: 'connect',
    does: 'Says what a source may tell of customers; what is kept beyond that is erased.',
    body: z.object({ scope: personalScope }),
    answer: personalOfSource,
  }),
  customers: endpoint({
    method: 'GET',
    path: '/customers',
    right: 'read',
    does: 'Customers by name or address, with the lines that tell of them.',
    query: z.object({ q: z.string().trim().max(200) }),
    answer: z.object({ customers: z.array(customerRow), more: z.boolean() }),
  }),
  exportCustomers: endpoint({
    method: 'POST',
    path: '/customers/export',
    right: 'connect',
    does: 'All that is kept of customers, to be handed to them: JSON.',
    body: ids,
    answer: z.object({ name: z.string(), text: z.string() }),
  }),
  eraseCustomers: endpoint({
    method: 'POST',
    path: '/customers/erase',
    right: 'erase',
    does: 'Erases what is kept of customers; the books stay as they are.',
    body: ids,
    answer: z.object({ erased: z.number() }),
  }),
}
