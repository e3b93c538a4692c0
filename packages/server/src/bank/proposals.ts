import { hash } from 'node:crypto'
import type { ProposalList } from '@culvert/contract'
import { type Actor, asClient, type Database, type Transaction } from '../database/connect.ts'
import { Stale } from '../database/retry.ts'
import { loadOpenItems, type OpenItems } from './openItems.ts'
import { pairBeside } from './pairBeside.ts'

export interface Proposed extends ProposalList {
  /** All that it was worked out from, in short. */
  readonly restsOn: string
}

const inShort = ({ transfers, lines, facts }: OpenItems): string =>
  hash('sha256', JSON.stringify([transfers, lines, facts]), 'base64')

/** What the engine proposes for all that is open on a bank account: the same code as in the browser, beside every transaction. */
export const propose = async (
  database: Database,
  actor: Actor,
  account: string,
  signal?: AbortSignal,
): Promise<Proposed> => {
  const open = await asClient(database, actor, tx => loadOpenItems(tx, account))
  const { transfers, lines, facts } = open
  return { ...(await pairBeside({ transfers, lines, facts }, signal)), restsOn: inShort(open) }
}

/** Asked once what is decided is held: what was certain may be so no longer once anything else is open. @throws Stale */
export const refuseMoved = async (tx: Transaction, account: string, { restsOn }: Proposed): Promise<void> => {
  if (inShort(await loadOpenItems(tx, account)) !== restsOn) throw new Stale('what is open has moved')
}
