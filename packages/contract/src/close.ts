import { z } from 'zod'
import { outcome } from './clearing.ts'
import { endpoint, nothing } from './endpoint.ts'
import { minor, month } from './shared.ts'

export const closeMonth = z.object({
  month,
  locked: z.boolean(),
  blocked: z.number(),
  proposed: z.number(),
  unpaired: z.number(),
  corrections: z.number(),
  waitingAmount: minor,
  ready: z.boolean(),
})
export type CloseMonth = z.infer<typeof closeMonth>
export const closePage = z.object({ months: z.array(closeMonth) })
export type ClosePage = z.infer<typeof closePage>
/** What is still open in a month: what is asked about before it is locked. */
export const monthState = z.object({
  month,
  locked: z.boolean(),
  /** Why it was locked though something was open. */
  reason: z.string(),
  blocked: z.number(),
  proposed: z.number(),
  corrections: z.number(),
  /** Payouts and bank lines of the month that are in no pairing. */
  unpairedPayouts: z.number(),
  openBankLines: z.number(),
  /** Clearing accounts that are not closed at the month's end. */
  unproved: z.array(z.object({ account: z.string(), name: z.string(), outcome: outcome.nullable() })),
  /** Tax codes whose tax is not what its base calls for, beyond rounding; destinations and classes whose tax is not what the grid says. */
  taxOff: z.array(z.string()),
  /** Whether any of that is so: then a lock needs a reason. */
  open: z.boolean(),
  /** An earlier month that is not locked, or a later one that is: months are locked in order, and opened the other way round. */
  before: month.nullable(),
})
export type MonthState = z.infer<typeof monthState>

export const lockBody = z.object({ month, locked: z.boolean(), reason: z.string().trim().max(500).default('') })

export const closeEndpoints = {
  months: endpoint({
    method: 'GET',
    path: '/close',
    right: 'read',
    does: 'The months, and what waits in each.',
    answer: closePage,
  }),
  month: endpoint({
    method: 'GET',
    path: '/close/:month',
    right: 'read',
    does: 'What is open in a month.',
    answer: monthState,
  }),
  setLocked: endpoint({
    method: 'PUT',
    path: '/close/lock',
    right: 'close',
    does: 'Locks a month, or opens it again.',
    body: lockBody,
    answer: nothing,
  }),
}
