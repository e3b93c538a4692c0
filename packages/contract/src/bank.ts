import { z } from 'zod'
import { endpoint } from './endpoint.ts'
import { importPage } from './imports.ts'
import { orJob, startedJob } from './jobs.ts'
import { changedCount, currency, localDate, minor } from './shared.ts'

export const transferItem = z.object({
  id: z.string(),
  source: z.string(),
  sourceName: z.string(),
  key: z.string(),
  currency,
  date: localDate,
  amount: minor,
  reference: z.string().nullable(),
  entry: z.string(),
})
export type TransferItem = z.infer<typeof transferItem>
export const bankItem = z.object({
  id: z.string(),
  date: localDate,
  amount: minor,
  currency,
  description: z.string(),
  reference: z.string(),
})
export type BankItem = z.infer<typeof bankItem>
export const pairingEvidence = z.object({
  exactSum: z.boolean(),
  payerNamed: z.boolean(),
  referenceFound: z.boolean(),
  lagDays: z.number(),
  /** Within what this source's deposits took so far; null: nothing is known of them. */
  lagUsual: z.boolean().nullable().default(null),
  /** Its payouts follow each other; null for one payout and one deposit. */
  consecutive: z.boolean().nullable().default(null),
})

/** Bank lines and transfers that may be the same money. */
export const pairingRow = z.object({
  sureness: z.enum(['certain', 'likely', 'possible']),
  difference: minor,
  transfers: z.array(transferItem),
  bankLines: z.array(bankItem),
  evidence: pairingEvidence,
  others: z.array(z.object({ transfers: z.array(z.string()), bankLines: z.array(z.string()) })),
  waitsFor: localDate.nullable(),
})
export type PairingRow = z.infer<typeof pairingRow>

/** What was decided about bank lines and transfers, and stands. */
export const decidedRow = z.object({
  pairingId: z.string(),
  sort: z.enum(['paired', 'coded', 'set_aside']),
  /** How sure the program was; by_hand where a person chose the members. */
  sureness: z.enum(['certain', 'likely', 'possible', 'by_hand']),
  /** Deposited less paid out. */
  difference: minor,
  transfers: z.array(transferItem),
  bankLines: z.array(bankItem),
  evidence: pairingEvidence.nullable(),
  /** Why it was set aside, or what was written beside a coded line. */
  note: z.string(),
  /** The entry that it posted, and the account on its other side. */
  entry: z.string().nullable(),
  account: z.string().nullable(),
})
export type DecidedRow = z.infer<typeof decidedRow>

/** What the pairing engine needs besides the open items; maps as lists of pairs. */
export const pairingFacts = z.object({
  windowDays: z.number(),
  maxGroup: z.number(),
  bankFeeUpTo: minor.nullable(),
  /** Keys and confirmed wordings of the sources that pay into the account or draw from it. */
  bankTexts: z.array(z.tuple([z.string(), z.array(z.string())])),
  /** Open lines and payouts that references bind to what is decided already. */
  boundLines: z.array(z.string()),
  boundTransfers: z.array(z.string()),
  /** References and names that may deceive make nothing certain. */
  doubtReferences: z.boolean(),
  completeTo: localDate,
  /** How far the statement and each source that uses the account are known; source null: the statement, to null: not at all. */
  reach: z.array(z.object({ source: z.string().nullable(), name: z.string(), to: localDate.nullable() })),
  usualLags: z.array(z.tuple([z.string(), z.object({ from: z.number(), to: z.number() })])),
})
export type PairingFacts = z.infer<typeof pairingFacts>

export const bankPage = z.object({
  account: z.object({ code: z.string(), name: z.string(), currency, bankNumber: z.string().nullable() }),
  accounts: z.array(z.object({ code: z.string(), name: z.string() })),
  /** The bank lets its lines be pulled. */
  granted: z.boolean(),
  from: localDate,
  to: localDate,
  statementTo: localDate.nullable(),
  booksTo: localDate.nullable(),
  /** All that is open on the account, whatever its date: what fits what is worked out from it. */
  transfers: z.array(transferItem),
  lines: z.array(bankItem),
  facts: pairingFacts,
  /** Decided, with a member between the two dates. */
  decided: z.array(decidedRow),
  /** Where the last difference was booked: what is offered for the next. */
  differenceAccount: z.string().nullable(),
})
export type BankPage = z.infer<typeof bankPage>

/** What the engine proposes for the open items. */
export const proposalList = z.object({
  proposals: z.array(pairingRow),
  groupsNotSearched: z.array(z.string()),
  tooManyFit: z.array(z.object({ id: z.string(), count: z.number() })),
})
export type ProposalList = z.infer<typeof proposalList>

export const confirmBody = z.object({
  account: z.string(),
  groups: z
    .array(
      z.object({
        transfers: z.array(z.string()).min(1),
        bankLines: z.array(z.string()).min(1),
        /** Where what lies between the two sides is booked; without it they must agree to the cent. */
        difference: z.object({ account: z.string() }).optional(),
      }),
    )
    .min(1)
    .max(20_000),
})
/** Why members are not tied, or not set aside, and how it is said. */
export const memberRefusals = {
  transfer_not_open: 'a transfer of it is not open any more',
  line_not_open: 'a bank line of it is not open any more',
  in_another_group: 'something of it is in another group',
  several_currencies: 'its members are in several currencies',
  currencies: 'its two sides are in currencies that cannot be compared',
  rate_missing: 'no exchange rate is known on or before the day of its deposit',
  account_unusable: 'no account is named for what rounding leaves of its difference',
  sides_differ: 'its two sides do not agree',
  difference_refused: 'the account named for the difference cannot take it',
} as const
export type MemberRefusal = keyof typeof memberRefusals
const memberRefusal = z.enum(Object.keys(memberRefusals) as [MemberRefusal, ...MemberRefusal[]])

export const confirmOutcome = z.object({
  confirmed: z.number(),
  /** Entries posted for differences. */
  entries: z.number(),
  refused: z.array(z.object({ reason: memberRefusal, bankLine: z.string() })),
  /** What was decided, to be taken apart again by. */
  pairings: z.array(z.string()).default([]),
})
export type ConfirmOutcome = z.infer<typeof confirmOutcome>

/** What was decided of bank lines and payouts, to be taken apart again by. */
const decidedCount = changedCount.extend({ pairings: z.array(z.string()) })

/** A bank line sent straight to an account; tax is taken out of it by the code. */
export const codeBody = z.object({
  bankLine: z.string(),
  account: z.string().min(1),
  taxCode: z.string().min(1).nullable(),
  memo: z.string().max(200).default(''),
})
export const bankAsideBody = z.object({
  transfers: z.array(z.string()).max(500).default([]),
  bankLines: z.array(z.string()).max(500).default([]),
  reason: z.string().trim().min(3).max(300),
})
/** Words by which the bank names a source; `known` false forgets them. */
/** What a bank granted one client for one account: where it is asked, and the key and secret that it gave. */
export const bankGrantBody = z.object({
  address: z.url({ protocol: /^https?$/ }).max(500),
  credentials: z.object({ key: z.string().min(1).max(500), secret: z.string().min(1).max(500) }),
})

export const wordingBody = z.object({
  source: z.string().min(1),
  wording: z.string().trim().min(3).max(120),
  known: z.boolean().default(true),
})
export const wordingList = z.object({
  sources: z.array(z.object({ source: z.string(), name: z.string(), wordings: z.array(z.string()) })),
})
export type WordingList = z.infer<typeof wordingList>
export const statementOutcome = z.object({
  added: z.number(),
  same: z.number(),
  from: localDate.nullable(),
  to: localDate.nullable(),
  accounts: z.array(z.string()),
})
export type StatementOutcome = z.infer<typeof statementOutcome>
export const statementList = z.object({
  accounts: z.array(
    z.object({
      code: z.string(),
      name: z.string(),
      currency,
      bankNumber: z.string().nullable(),
      lines: z.number(),
      from: localDate.nullable(),
      to: localDate.nullable(),
      bank: minor,
      books: minor,
      open: z.number(),
    }),
  ),
})

export type StatementList = z.infer<typeof statementList>

/** A bank account held against its statements. */
export const bankProofPage = z.object({
  account: z.object({ code: z.string(), name: z.string(), currency }),
  /** Statements that say no balances, by which nothing can be proved. */
  withoutBalances: z.number(),
  /** One after the other; those that tell nothing new are left out. */
  statements: z.array(
    z.object({
      number: z.string(),
      format: z.string(),
      from: localDate,
      to: localDate,
      opening: minor,
      closing: minor,
      lines: z.number(),
      sum: minor,
      /** Its lines lead from one balance to the other. */
      foots: z.boolean(),
    }),
  ),
  /** Null: no statement says both its balances. */
  proof: z
    .object({
      date: localDate,
      books: minor,
      unexplained: minor,
      statement: minor,
      state: z.enum(['closed', 'explained', 'open']),
    })
    .nullable(),
  causes: z.array(
    z.object({
      cause: z.enum(['opening', 'unbooked', 'on_the_way', 'overdue', 'others', 'gap']),
      amount: minor,
      count: z.number(),
      items: z.array(
        z.object({
          date: localDate,
          title: z.string(),
          detail: z.string(),
          amount: minor,
          link: z.string().nullable(),
        }),
      ),
    }),
  ),
  gaps: z.array(z.object({ from: localDate, to: localDate, amount: minor, before: z.string() })),
})
export type BankProofPage = z.infer<typeof bankProofPage>

const range = z.object({ from: z.iso.date().optional(), to: z.iso.date().optional() })
export const bankEndpoints = {
  bankAccounts: endpoint({
    method: 'GET',
    path: '/bank',
    right: 'read',
    does: 'Bank accounts, with what the bank and the books say.',
    answer: statementList,
  }),
  uploadStatement: endpoint({
    method: 'POST',
    path: '/bank/statements',
    right: 'bring',
    does: 'Brings in a bank statement.',
    query: z.object({
      name: z.string().max(300).default('statement'),
      /** Said of a file that does not say it itself. */
      encoding: z.string().max(40).optional(),
      sheet: z.string().max(200).optional(),
      account: z.string().max(20).optional(),
      /** The bank's own number of `account`, kept once the statement is in. */
      number: z.string().max(60).optional(),
    }),
    body: 'file',
    answer: orJob(statementOutcome),
  }),
  importedStatement: endpoint({
    method: 'GET',
    path: '/bank-imports/:job',
    right: 'read',
    does: 'What a bank statement brought in, and what rests on it.',
    answer: importPage,
  }),
  takeStatementBack: endpoint({
    method: 'POST',
    path: '/bank-imports/:job/take-back',
    right: 'bring',
    does: 'Takes back what a bank statement brought in, while nothing rests on it.',
    answer: importPage,
  }),
  grantBank: endpoint({
    method: 'PUT',
    path: '/bank/:account/grant',
    right: 'connect',
    does: 'Keeps what a bank has granted for an account.',
    body: bankGrantBody,
    answer: changedCount,
  }),
  wordings: endpoint({
    method: 'GET',
    path: '/bank-wordings',
    right: 'read',
    does: 'The words by which the bank names each source.',
    answer: wordingList,
  }),
  saveWording: endpoint({
    method: 'POST',
    path: '/bank-wordings',
    right: 'pair',
    does: 'Learns or forgets words by which the bank names a source.',
    body: wordingBody,
    answer: changedCount,
  }),
  bank: endpoint({
    method: 'GET',
    path: '/bank/:account',
    right: 'read',
    does: 'Payouts and bank lines of an account.',
    query: range,
    answer: bankPage,
  }),
  bankProof: endpoint({
    method: 'GET',
    path: '/bank/:account/proof',
    right: 'read',
    does: 'A bank account held against its statements, up to the end of the last one by a day.',
    query: z.object({ to: z.iso.date().optional() }),
    answer: bankProofPage,
  }),
  proposals: endpoint({
    method: 'GET',
    path: '/bank/:account/pairings',
    right: 'read',
    does: 'Pairings proposed for what is open.',
    answer: proposalList,
  }),
  code: endpoint({
    method: 'POST',
    path: '/bank/:account/code',
    right: 'pair',
    does: 'Books a bank line to an account.',
    body: codeBody,
    answer: decidedCount,
  }),
  setAsideItems: endpoint({
    method: 'POST',
    path: '/bank/:account/set-aside',
    right: 'pair',
    does: 'Sets payouts and bank lines aside, with a reason.',
    body: bankAsideBody,
    answer: decidedCount,
  }),
  pullBank: endpoint({
    method: 'POST',
    path: '/bank/:account/pull',
    right: 'bring',
    does: 'Pulls an account’s lines from its bank.',
    answer: startedJob,
    status: 202,
  }),
  confirm: endpoint({
    method: 'POST',
    path: '/bank/confirm',
    right: 'pair',
    does: 'Confirms pairings.',
    body: confirmBody,
    answer: orJob(confirmOutcome),
  }),
  confirmCertain: endpoint({
    method: 'POST',
    path: '/bank/:account/confirm-certain',
    right: 'pair',
    does: 'Confirms all pairings that are certain.',
    answer: orJob(confirmOutcome),
  }),
  undoPairings: endpoint({
    method: 'POST',
    path: '/bank/undo',
    right: 'pair',
    does: 'Takes pairings apart.',
    body: z.object({ pairings: z.array(z.string()).min(1).max(5000) }),
    answer: changedCount,
  }),
}
