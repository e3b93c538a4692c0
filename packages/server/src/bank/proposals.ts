import { type ProposalList, pairOpenItems } from '@culvert/contract'
import type { Transaction } from '../database/connect.ts'
import { loadOpenItems } from './openItems.ts'

/** What the engine proposes for all that is open on a bank account: the same code as in the browser. */
export const loadProposals = async (tx: Transaction, code: string): Promise<ProposalList> =>
  pairOpenItems(await loadOpenItems(tx, code))
