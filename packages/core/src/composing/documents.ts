/** What each sort of document counts as, wherever entries are read. */
export interface DocumentTraits {
  /** Books lines of a settlement to the accounts that they are routed to. */
  readonly booksLines: boolean
  /** Moves a payout out of a clearing account. */
  readonly movesPayout: boolean
  /** The mirror of an entry that was taken back. */
  readonly mirrors: boolean
  /** What the books began with, before anything that the application knows. */
  readonly opens: boolean
  /** Made from a bank line. */
  readonly fromBank: boolean
  /** What somebody decided of a payment: it counts by the line that it names. */
  readonly decides: boolean
  /** May be in the ledger already when a settlement comes to be posted: its like is looked for among these. */
  readonly mayRepeat: boolean
}

const none: DocumentTraits = {
  booksLines: false,
  movesPayout: false,
  mirrors: false,
  opens: false,
  fromBank: false,
  decides: false,
  mayRepeat: false,
}

/** The documents of the ledger. The database is given the same table. */
export const documents = {
  journal: { ...none, booksLines: true, mayRepeat: true },
  transfer: { ...none, movesPayout: true },
  cost: none,
  correction: { ...none, booksLines: true },
  reversal: { ...none, mirrors: true },
  by_hand: { ...none, mayRepeat: true },
  bank: { ...none, fromBank: true },
  decision: { ...none, decides: true },
  opening: { ...none, opens: true },
} as const satisfies Record<string, DocumentTraits>

export type DocumentName = keyof typeof documents
export const documentNames = Object.keys(documents) as DocumentName[]
