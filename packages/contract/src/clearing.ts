import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { changedCount, currency, localDate, minor } from './shared.ts'

/** How a proof came out: closed; explained, but something is to be mended; or open. */
export const outcome = z.enum(['closed', 'explained', 'open'])
export type ProofOutcome = z.infer<typeof outcome>

export const clearingRow = z.object({
  account: z.string(),
  name: z.string(),
  /** Its sources by name: it is proved against the sum of what they report. */
  sourceName: z.string(),
  /** False for a channel: its account is the control of its orders. */
  holdsMoney: z.boolean(),
  currency,
  books: minor,
  reported: minor.nullable(),
  reportedOn: localDate.nullable(),
  unexplained: minor.nullable(),
  outcome: outcome.nullable(),
  entries: z.number(),
})
export type ClearingRow = z.infer<typeof clearingRow>

/** An account whose balance somebody outside can state: gift cards, reserves, advances, tax. */
export const balanceRow = z.object({
  account: z.string(),
  name: z.string(),
  type: z.string(),
  currency,
  /** At the date of what was stated, or now. */
  books: minor,
  stated: minor.nullable(),
  statedOn: localDate.nullable(),
  statedBy: z.string().nullable(),
})
export type BalanceRow = z.infer<typeof balanceRow>
export const clearingList = z.object({ accounts: z.array(clearingRow), balances: z.array(balanceRow) })
export type ClearingList = z.infer<typeof clearingList>

/** What a document of a proof is: pages and traces are found by it, never by its name. */
export const documentRef = z.discriminatedUnion('of', [
  z.object({ of: z.literal('settlement'), source: z.string(), key: z.string() }),
  z.object({ of: z.literal('order'), source: z.string(), order: z.string() }),
  z.object({ of: z.literal('line'), source: z.string(), lineId: z.string() }),
  z.object({ of: z.literal('entry'), fiscalYear: z.number().int(), number: z.number().int() }),
  z.object({ of: z.literal('source'), source: z.string() }),
  z.object({ of: z.literal('account'), account: z.string() }),
])
export type ProofDocumentRef = z.infer<typeof documentRef>

const movement = z.object({ name: z.string(), date: localDate, amount: minor, ref: documentRef.nullable() })

export const proofPage = z.object({
  account: z.string(),
  name: z.string(),
  /** clearing: against a processor; orders: of a channel; balance: against what was stated. */
  sort: z.enum(['clearing', 'orders', 'balance']),
  /** Who says what the balance is. */
  sourceName: z.string(),
  currency,
  date: localDate,
  reportedOn: localDate.nullable(),
  ledger: minor,
  reported: minor.nullable(),
  causes: z.array(
    z.object({
      cause: z.string(),
      amount: minor,
      documents: z.array(
        z.object({ name: z.string(), amount: minor, date: localDate.nullable(), ref: documentRef.nullable() }),
      ),
    }),
  ),
  unexplained: minor.nullable(),
  outcome: outcome.nullable(),
  /** Rows of files that could not be read and were set aside: they keep it from being closed. */
  rowsAside: z.array(z.object({ name: z.string(), ref: documentRef, date: localDate.nullable() })),
  /** At a channel's account: the orders that make up what it reports, the largest first, and how many there are. */
  openOrders: z.object({
    total: z.number(),
    orders: z.array(z.object({ name: z.string(), amount: minor, date: localDate, ref: documentRef })),
  }),
  /** Where what is unexplained may come from, the most telling first. */
  leads: z.array(
    z.object({
      sort: z.enum(['wrong_entry', 'does_not_foot', 'single', 'sign', 'double', 'swapped_digits', 'pair']),
      movements: z.array(movement),
      /** What the amount would be with its digits in their order. */
      meant: minor.nullable(),
    }),
  ),
  /** Days without activity on a source that is usually busy, and statements that lack in its numbers. */
  missing: z.array(
    z.object({ source: z.string(), name: z.string(), days: z.array(localDate), statements: z.array(z.string()) }),
  ),
  waterline: z.object({
    books: z.array(z.object({ date: localDate, balance: minor })),
    reported: z.array(z.object({ date: localDate, balance: minor })),
  }),
  ageing: z.array(minor).length(4),
})
export type ProofPage = z.infer<typeof proofPage>

/** What somebody outside says that an account holds at the end of a day, debit positive; null takes it away. */
export const statedBody = z.object({ currency, date: localDate, amount: minor.nullable() })

/** What a source left to other books, and whether the opening balances are what its processor held then; null: all of it is booked here. */
export const cutOver = z.object({
  cutOver: z
    .object({
      /** Last day booked elsewhere. */
      lastDay: localDate,
      /** Settlements and days that are booked elsewhere, and the end of the last. */
      settlements: z.number(),
      until: localDate.nullable(),
      accounts: z.array(
        z.object({
          account: z.string(),
          name: z.string(),
          currency,
          /** Of the books at the end of the last day; a debit is plus. */
          opening: minor,
          reported: minor.nullable(),
          reportedOn: localDate.nullable(),
          causes: z.array(z.object({ cause: z.string(), amount: minor })),
          /** What no cause explains; null where nobody has said what was held. */
          difference: minor.nullable(),
          outcome: outcome.nullable(),
        }),
      ),
    })
    .nullable(),
})
export type CutOver = z.infer<typeof cutOver>

/** What somebody says of a day, a statement or an order that a proof names. */
export const proofAnswerBody = z.object({
  source: z.string().min(1).max(60),
  about: z.enum(['day', 'statement', 'order']),
  /** The day, the statement's number, or the order. */
  name: z.string().min(1).max(200),
  reason: z.string().trim().min(3).max(500),
  /** Last day on which it counts; absent: for good. */
  until: localDate.optional(),
})

export const clearingEndpoints = {
  answerProof: endpoint({
    method: 'POST',
    path: '/clearing/answers',
    right: 'settle',
    does: 'Says that nothing happened on a day or under a statement number, or why an order stays open.',
    body: proofAnswerBody,
    answer: changedCount,
  }),
  undoProofAnswer: endpoint({
    method: 'POST',
    path: '/clearing/answers/undo',
    right: 'settle',
    does: 'Withdraws what was said of a day, a statement or an order.',
    body: proofAnswerBody.pick({ source: true, about: true, name: true }),
    answer: changedCount,
  }),
  clearing: endpoint({
    method: 'GET',
    path: '/clearing',
    right: 'read',
    does: 'Clearing accounts, and what others state, with how they come out.',
    answer: clearingList,
  }),
  proof: endpoint({
    method: 'GET',
    path: '/clearing/:account',
    right: 'read',
    does: 'The proof of one account at a date.',
    query: z.object({ date: z.iso.date().optional(), currency: z.string().length(3).optional() }),
    answer: proofPage,
  }),
  cutOver: endpoint({
    method: 'GET',
    path: '/clearing/cut-over/:source',
    right: 'read',
    does: 'What a source left to other books, with the opening balances held against what its processor held then.',
    answer: cutOver,
  }),
  stateBalance: endpoint({
    method: 'PUT',
    path: '/clearing/:account/stated',
    right: 'settle',
    does: 'Notes what somebody outside states of an account, or takes it away.',
    body: statedBody,
    answer: changedCount,
  }),
}
