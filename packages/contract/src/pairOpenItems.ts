import { type Grouping, proposePairings } from '@culvert/core'
import type { BankItem, BankPage, PairingRow, ProposalList, TransferItem } from './bank.ts'

/** All that is open on an account, and what the engine has to know. */
export type OpenItems = Pick<BankPage, 'transfers' | 'lines' | 'facts'>

const idsOf = ({ transfers, bankLines }: Grouping) => ({
  transfers: transfers.map(transfer => transfer.id),
  bankLines: bankLines.map(line => line.id),
})

/** Pairs what is open, as an answer says it: the browser asks this for what it shows, the server for what it confirms. */
export const pairOpenItems = ({ transfers, lines, facts }: OpenItems): ProposalList => {
  const bankAccount = ''
  const { pairings, groupsNotSearched, tooManyFit } = proposePairings(
    transfers.map(transfer => ({ ...transfer, bankAccount })),
    lines.map(line => ({ ...line, bankAccount })),
    {
      ...facts,
      bankTexts: new Map(facts.bankTexts),
      payers: new Map([[bankAccount, new Set(facts.bankTexts.map(([source]) => source))]]),
      usualLags: new Map(facts.usualLags),
    },
  )
  const transferById = new Map(transfers.map(transfer => [transfer.id, transfer]))
  const lineById = new Map(lines.map(line => [line.id, line]))
  return {
    proposals: pairings.map(
      (pairing): PairingRow => ({
        sureness: pairing.sureness,
        difference: pairing.difference,
        evidence: pairing.evidence,
        waitsFor: pairing.waitsFor,
        transfers: pairing.transfers.map(transfer => transferById.get(transfer.id) as TransferItem),
        bankLines: pairing.bankLines.map(line => lineById.get(line.id) as BankItem),
        others: pairing.others.map(idsOf),
      }),
    ),
    groupsNotSearched: [...groupsNotSearched],
    tooManyFit: [...tooManyFit],
  }
}
