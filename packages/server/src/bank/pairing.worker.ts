import { type OpenItems, type ProposalList, pairOpenItems } from '@culvert/contract'

/** What a thread of pairing is asked: everything that is open, and what the engine has to know. */
export default (open: OpenItems): ProposalList => pairOpenItems(open)
