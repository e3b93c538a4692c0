import {
  type ActivityLine,
  type BankLine,
  type BookedActivity,
  type BookedSettlement,
  bookActivity,
  compareText,
  csvRecord,
  type DraftEntry,
  type EntryRow,
  entriesCsv,
  formatAmount,
  type OpenTransfer,
  type PairingProposal,
  proofOfBooked,
  proposePairings,
  proveClearing,
  type SettlementHead,
} from '@culvert/core'
import type { ExampleSetup } from './exampleSetup.ts'

export interface ExampleInput {
  readonly example: ExampleSetup
  readonly lines: readonly ActivityLine[]
  readonly heads: ReadonlyMap<string, readonly SettlementHead[]>
  /** Null where the example has no bank statement. */
  readonly bankLines: readonly BankLine[] | null
}

interface PlacedEntry {
  readonly settlement: BookedSettlement
  readonly entry: DraftEntry
}

/** Everything that an example's input comes to, as the text of its expected files; null: no such file. */
export const runExample = (input: ExampleInput): Record<string, string | null> => {
  const { example } = input
  const booked = bookActivity(
    { lines: input.lines, heads: input.heads, zone: example.zone, cutOffMinutes: example.cutOff, evidence: ['order'] },
    example.setup,
  )
  const entries = placeEntries(booked)
  const pairings =
    input.bankLines && proposePairings(openTransfers(entries, input), openBankLines(input.bankLines), example.pairing)
  return {
    'expected-entries.csv': entriesCsv(entryRows(entries, example)),
    'expected-blocked.csv': blockedCsv(booked),
    'expected-pairings.csv': pairings && pairingsCsv(pairings),
    'expected-proof.csv': example.proofs && proofCsv(input, booked, pairings),
  }
}

/** By date, settlement, journal before transfer, source, currency, payout line. */
const placeEntries = (booked: BookedActivity): PlacedEntry[] => {
  const placed = booked.settlements.flatMap(settlement =>
    settlement.composed.entries.map(entry => ({ settlement, entry })),
  )
  const sortKey = ({ settlement, entry }: PlacedEntry) => [
    entry.date,
    settlement.activity.settlementId ?? '',
    entry.document,
    settlement.activity.source,
    entry.currency,
    entry.payoutLine ?? '',
  ]
  return placed.sort((left, right) => compareTexts(sortKey(left), sortKey(right)))
}

const compareTexts = (left: readonly string[], right: readonly string[]): number => {
  for (let at = 0; at < left.length; at++) {
    const order = compareText(left[at] as string, right[at] as string)
    if (order !== 0) return order
  }
  return 0
}

const entryRows = (entries: readonly PlacedEntry[], { setup }: ExampleSetup): EntryRow[] =>
  entries.flatMap(({ settlement, entry }, index) =>
    entry.lines.map(line => ({
      entry: String(index + 1),
      date: entry.date,
      source: settlement.activity.source,
      settlementId: settlement.activity.settlementId ?? '',
      document: entry.document,
      account: line.account,
      accountName: setup.accounts.get(line.account)?.name ?? '',
      amount: line.amount,
      currency: entry.currency,
      baseAmount: line.baseAmount,
      base: setup.base,
      taxCode: line.taxCode,
      segments: line.segments,
    })),
  )

const blockedCsv = (booked: BookedActivity): string | null => {
  const rows = booked.settlements.flatMap(({ name, activity, composed }) =>
    composed.blocks.map(block => ({
      sort: [name, block.reason, activity.source, activity.currency],
      record: [
        name,
        block.reason,
        block.reason === 'out_of_range' ? '' : formatAmount(block.amount, activity.currency),
      ],
    })),
  )
  if (rows.length === 0) return null
  rows.sort((left, right) => compareTexts(left.sort, right.sort))
  return [['settlement_id', 'reason', 'amount'], ...rows.map(row => row.record)].map(csvRecord).join('')
}

const openTransfers = (entries: readonly PlacedEntry[], { example }: ExampleInput): OpenTransfer[] =>
  entries.flatMap(({ settlement, entry }) => {
    if (entry.payoutLine === null) return []
    const clearing = example.setup.sources.get(settlement.activity.source)?.clearing[entry.currency]
    const bank = entry.lines.find(line => line.account !== clearing)
    if (!bank) return []
    return [
      {
        id: entry.payoutLine,
        source: settlement.activity.source,
        bankAccount: bank.account,
        currency: entry.currency,
        date: entry.date,
        amount: bank.amount,
        reference: settlement.activity.head?.payoutReference ?? null,
      },
    ]
  })

const openBankLines = (lines: readonly BankLine[]) => lines.map(line => ({ ...line, id: line.lineId }))

const pairingsCsv = ({ pairings }: PairingProposal): string =>
  [
    ['group', 'sureness', 'bank_line', 'transfer'],
    ...pairings.flatMap((pairing, index) => [
      ...pairing.bankLines.map(line => [String(index + 1), pairing.sureness, line.id, '']),
      ...pairing.transfers.map(transfer => [String(index + 1), pairing.sureness, '', transfer.id]),
    ]),
  ]
    .map(csvRecord)
    .join('')

const proofCsv = (input: ExampleInput, booked: BookedActivity, pairings: PairingProposal | null): string => {
  const rows = (input.example.proofs ?? []).flatMap(wanted => {
    const { setup, zone } = input.example
    const proof = proveClearing(
      proofOfBooked(wanted, { setup, zone, lines: input.lines, heads: input.heads, booked, pairings }),
    )
    const currency = input.example.setup.accounts.get(wanted.account)?.currency ?? input.example.setup.base
    const text = (minor: number) => formatAmount(minor, currency)
    const told = proof.causes.filter(({ cause, amount }) => amount !== 0 || cause === 'unexplained')
    return told.map(cause => [
      wanted.account,
      wanted.date,
      text(proof.ledger),
      text(proof.reported),
      cause.cause,
      text(cause.amount),
    ])
  })
  return [['account', 'date', 'ledger', 'reported', 'cause', 'amount'], ...rows].map(csvRecord).join('')
}
