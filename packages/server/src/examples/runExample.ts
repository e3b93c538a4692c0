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
  isPayout,
  isReserve,
  lineKey,
  type OpenTransfer,
  type PairingProposal,
  type Proof,
  proposePairings,
  proveClearing,
  type SettlementHead,
  sumMinor,
  tenderAccount,
  weightedLine,
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
    'expected-proof.csv': example.proofs && proofCsv(input, booked, entries, pairings),
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
      record: [name, block.reason, formatAmount(block.amount, activity.currency)],
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

const proofCsv = (
  input: ExampleInput,
  booked: BookedActivity,
  entries: readonly PlacedEntry[],
  pairings: PairingProposal | null,
): string => {
  const rows = (input.example.proofs ?? []).flatMap(wanted => {
    const proof = proveExample(wanted, { input, booked, entries, pairings })
    const currency = input.example.setup.accounts.get(wanted.account)?.currency ?? input.example.setup.base
    const text = (minor: number) => formatAmount(minor, currency)
    return proof.causes.map(cause => [
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

const proveExample = (
  wanted: { account: string; date: string; reported: number },
  month: {
    input: ExampleInput
    booked: BookedActivity
    entries: readonly PlacedEntry[]
    pairings: PairingProposal | null
  },
): Proof => {
  const { input, booked, entries, pairings } = month
  const { setup, zone } = input.example
  const own = [...setup.sources.values()].filter(source => Object.values(source.clearing).includes(wanted.account))
  const isOwn = (line: ActivityLine) => setup.sources.get(line.source)?.clearing[line.currency] === wanted.account
  const dated = (line: ActivityLine) => ({ date: zone.localDate(line.instant), amount: line.amount })
  const onAccount = (placed: PlacedEntry) => ({
    date: placed.entry.date,
    amount: sumMinor(placed.entry.lines, line => (line.account === wanted.account ? line.amount : 0)),
  })
  const arrivals = new Map(
    (pairings?.pairings ?? [])
      .filter(pairing => pairing.sureness !== 'possible')
      .flatMap(pairing =>
        pairing.transfers.map(transfer => [transfer.id, pairing.bankLines.at(-1)?.date ?? null] as const),
      ),
  )
  return proveClearing({
    date: wanted.date,
    reported: wanted.reported,
    ledger: sumMinor(entries, placed => (placed.entry.date <= wanted.date ? onAccount(placed).amount : 0)),
    settlements: booked.settlements.map(settlement => ({
      name: settlement.name,
      state: settlement.composed.blocks.length > 0 ? 'blocked' : 'posted',
      movements: settlement.lines.flatMap(line => {
        if (isPayout(line.kind) || booked.matched.has(lineKey(line))) return []
        if (isOwn(line)) return [dated(line)]
        const sentHere = tenderAccount(weightedLine(line, ''), setup, line.currency) === wanted.account
        const date = booked.collectionDates.get(lineKey(line)) ?? zone.localDate(line.instant)
        return sentHere ? [{ date, amount: -line.amount }] : []
      }),
      payouts: settlement.lines
        .filter(line => isPayout(line.kind) && isOwn(line))
        .map(line => {
          const transfer = entries.find(
            ({ entry, settlement: from }) => entry.payoutLine === line.lineId && from.activity.source === line.source,
          )
          return {
            ...dated(line),
            lineId: line.lineId,
            transferDate: transfer?.entry.date ?? null,
            arrivedOn: arrivals.get(line.lineId) ?? null,
          }
        }),
      entries: entries
        .filter(placed => placed.settlement === settlement && placed.entry.document === 'journal')
        .map(onAccount),
    })),
    payoutsLeaveBalance: own[0]?.options.payoutsLeaveBalance ?? 'sent',
    reserves: input.lines
      .filter(
        line =>
          isOwn(line) &&
          isReserve(line.kind) &&
          line.status === 'available' &&
          setup.sources.get(line.source)?.options.reservesStayOnBalance,
      )
      .map(dated),
    pending: input.lines.filter(line => isOwn(line) && line.status === 'pending').map(dated),
    corrections: [],
    byHand: [],
    heads: own.flatMap(source =>
      (input.heads.get(source.key) ?? []).filter(head => source.clearing[head.currency] === wanted.account),
    ),
  })
}
