import type { ConfirmOutcome, PairingRow } from '@culvert/contract'
import { recordAct } from '../acts/recordAct.ts'
import { markStages } from '../course/markStages.ts'
import { type Actor, asClient, type Database, type Transaction } from '../database/connect.ts'
import { retrying } from '../database/retry.ts'
import type { Steps } from '../jobs/runJob.ts'
import { loadSetup } from '../setup/loadSetup.ts'
import { decide, keyOf, type WantedGroup } from './decidePairing.ts'
import { type Proposed, propose, refuseMoved } from './proposals.ts'
import { type Decision, loadMembers, memberKeys, refusedMembers, storeDecisions } from './storePairings.ts'

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
    pairings: [] as string[],
  }
  if (decisions.length > 0) {
    const note = `${decisions.length} ${decisions.length === 1 ? 'deposit' : 'deposits'}`
    outcome.pairings = await storeDecisions(
      tx,
      { account: wanted.account, decisions, fiscalStart: client.fiscalStart },
      async touched => {
        await refuseMoved(tx, wanted.account, wanted.proposed)
        return recordAct(tx, actor, { sort: 'confirm_pairings', note, touched })
      },
    )
    await wanted.steps?.note(tx, wanted.groups.length, outcome)
    await markStages(tx, ['bank', 'clearing', 'books'])
  }
  return outcome
}
