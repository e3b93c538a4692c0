import type { ConfirmOutcome, PairingRow } from '@culvert/contract'
import { composeDifference, daysBetween, sumMinor } from '@culvert/core'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import type { Steps } from '../jobs/runJob.ts'
import { recordAct } from '../ledger/recordAct.ts'
import { type ClientSetup, loadSetup } from '../setup/loadSetup.ts'
import { type Proposed, propose, refuseMoved } from './proposals.ts'
import {
  type Decision,
  type Group,
  loadMembers,
  memberKeys,
  type OpenLineRow,
  type OpenMembers,
  type OpenTransferRow,
  refusedMembers,
  storeDecisions,
} from './storePairings.ts'

export interface WantedGroup extends Group {
  /** Where what lies between the two sides is booked. */
  readonly difference?: { readonly account: string } | undefined
}

/**
 * Ties bank lines to the transfers that they are the money of. Each side once; sums must agree to the cent, or the difference is booked
 * to the account that is named for it. All of it in one transaction: what breaks it off leaves nothing of it.
 */
export const confirmPairings = (
  database: Database,
  actor: Actor,
  wanted: { account: string; groups: readonly WantedGroup[] },
  steps?: Steps<ConfirmOutcome>,
): Promise<ConfirmOutcome> =>
  retrying(async () => {
    const proposed = await propose(database, actor, wanted.account)
    return asClient(database, actor, tx => tie(tx, actor, { ...wanted, proposed, steps }))
  })

/** Those of the groups that the engine is certain of. */
const certainOf = ({ proposals }: Proposed): WantedGroup[] =>
  proposals.filter(row => row.sureness === 'certain').map(groupOf)

/** Confirms every pairing that is certain now. */
export const confirmCertain = (
  database: Database,
  actor: Actor,
  account: string,
  steps?: Steps<ConfirmOutcome>,
): Promise<ConfirmOutcome> =>
  retrying(async () => {
    const proposed = await propose(database, actor, account)
    return asClient(database, actor, tx => tie(tx, actor, { account, groups: certainOf(proposed), proposed, steps }))
  })

/** The same; null, with nothing done, where they are more than `most`. */
export const confirmFewCertain = (
  database: Database,
  actor: Actor,
  account: string,
  most: number,
): Promise<ConfirmOutcome | null> =>
  retrying(async () => {
    const proposed = await propose(database, actor, account)
    const groups = certainOf(proposed)
    if (groups.length > most) return null
    return asClient(database, actor, tx => tie(tx, actor, { account, groups, proposed, steps: undefined }))
  })

const groupOf = (row: PairingRow): WantedGroup => ({
  transfers: row.transfers.map(transfer => transfer.id),
  bankLines: row.bankLines.map(line => line.id),
})

const tie = async (
  tx: Transaction,
  actor: Actor,
  wanted: {
    readonly account: string
    readonly groups: readonly WantedGroup[]
    readonly proposed: Proposed
    readonly steps: Steps<ConfirmOutcome> | undefined
  },
): Promise<ConfirmOutcome> => {
  const client = await loadSetup(tx)
  const members = await loadMembers(tx, wanted, false)
  const proposed = new Map(wanted.proposed.proposals.map(row => [keyOf(groupOf(row)), row]))
  const used = new Set<string>()
  const refused: ConfirmOutcome['refused'] = []
  const decisions: Decision[] = []
  for (const group of wanted.groups) {
    const reason = refusedMembers(group, members, used)
    const decision = reason ?? decide(group, { members, client, account: wanted.account, proposed })
    if (typeof decision === 'string') refused.push({ reason: decision, bankLine: group.bankLines[0] ?? '' })
    else {
      for (const id of memberKeys(group)) used.add(id)
      decisions.push(decision)
    }
  }
  const outcome = {
    confirmed: decisions.length,
    entries: decisions.filter(decision => decision.entry !== null).length,
    refused,
  }
  if (decisions.length > 0) {
    const note = `${decisions.length} ${decisions.length === 1 ? 'deposit' : 'deposits'}`
    await storeDecisions(tx, { account: wanted.account, decisions, fiscalStart: client.fiscalStart }, async () => {
      await refuseMoved(tx, wanted.account, wanted.proposed)
      return recordAct(tx, actor, { sort: 'confirm_pairings', note })
    })
    await wanted.steps?.note(tx, wanted.groups.length, outcome)
    await markStages(tx, ['bank', 'clearing', 'books'])
  }
  return outcome
}

const draftFaults = {
  currencies: 'its two sides are in currencies that cannot be compared',
  rate_missing: 'no exchange rate is known on or before the day of its deposit',
  account_unusable: 'no account is named for what rounding leaves of its difference',
} as const

const keyOf = (group: Group): string => JSON.stringify([[...group.transfers].sort(), [...group.bankLines].sort()])

const lastDate = (rows: readonly { date: string }[]): string =>
  rows.reduce((last, row) => (row.date > last ? row.date : last), '')

/** What is booked when the group is confirmed, or the reason why it cannot be. */
const decide = (
  group: WantedGroup,
  context: {
    members: OpenMembers
    client: ClientSetup
    account: string
    proposed: ReadonlyMap<string, PairingRow>
  },
): Decision | string => {
  const { members, client, account } = context
  const transfers = group.transfers.map(id => members.transfers.get(id) as OpenTransferRow)
  const lines = group.bankLines.map(id => members.lines.get(id) as OpenLineRow)
  const [transfer] = transfers as [OpenTransferRow]
  const [line] = lines as [OpenLineRow]
  if (transfers.some(one => one.currency !== transfer.currency) || lines.some(one => one.currency !== line.currency))
    return 'its members are in several currencies'
  const proposal = context.proposed.get(keyOf(group))
  const draft = composeDifference(
    {
      bankAccount: account,
      account: group.difference?.account ?? '',
      date: lastDate(lines),
      currency: transfer.currency,
      paid: sumMinor(transfers, one => one.amount),
      paidBase: sumMinor(transfers, one => one.base_amount),
      depositCurrency: line.currency,
      deposited: sumMinor(lines, one => one.amount),
    },
    client.setup,
  )
  if (!draft.ok) return draftFaults[draft.reason]
  if (draft.amount !== 0 && group.difference === undefined) return 'its two sides do not agree'
  if (draft.amount !== 0 && !canTake(group.difference?.account ?? '', account, client))
    return 'the account named for the difference cannot take it'
  return {
    group: { transfers: group.transfers, bankLines: group.bankLines },
    sort: 'paired',
    sureness: proposal?.sureness ?? 'by_hand',
    difference: draft.amount,
    note: '',
    evidence: proposal?.evidence ?? {
      exactSum: draft.amount === 0,
      payerNamed: false,
      referenceFound: false,
      lagDays: daysBetween(lastDate(transfers), lastDate(lines)),
      lagUsual: null,
      consecutive: null,
    },
    entry:
      draft.amount === 0
        ? null
        : { date: lastDate(lines), currency: draft.currency, memo: memoOf(lines), lines: draft.lines },
  }
}

const memoOf = (lines: readonly OpenLineRow[]): string =>
  `difference of ${lines.length === 1 ? `bank line ${lines[0]?.line_id}` : `${lines.length} bank lines`}`

/** A difference is borne by profit and loss, or waits somewhere until it is made up: never by a bank or clearing account. */
const canTake = (code: string, bankAccount: string, { setup }: ClientSetup): boolean => {
  const account = setup.accounts.get(code)
  return (
    account !== undefined &&
    !account.archived &&
    code !== bankAccount &&
    !['bank', 'card', 'clearing'].includes(account.type)
  )
}
