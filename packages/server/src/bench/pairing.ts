import { performance } from 'node:perf_hooks'
import { type PairingOptions, proposePairings } from '@culvert/core'
import { holdAgainstTruth, makeDeposits, type TruthFigures } from '@culvert/core/testing'

export interface PairingFigures extends TruthFigures {
  readonly transfers: number
  readonly bankLines: number
  readonly groups: number
  readonly elapsed: number
}

const options: PairingOptions = {
  windowDays: 7,
  maxGroup: 12,
  bankFeeUpTo: 500,
  bankTexts: new Map(),
  completeTo: null,
}

/** Pairs made payouts with made deposits once, and holds the answer against what really happened. */
export const measurePairing = (made: { payouts: number; days: number; seed: number }): PairingFigures => {
  const truth = makeDeposits(made)
  const start = performance.now()
  const proposal = proposePairings(truth.transfers, truth.bankLines, options)
  const elapsed = performance.now() - start
  return {
    ...holdAgainstTruth(proposal, truth),
    transfers: truth.transfers.length,
    bankLines: truth.bankLines.length,
    groups: truth.groups.size,
    elapsed,
  }
}
