import { performance } from 'node:perf_hooks'
import { addDays, type OpenBankLine, type OpenTransfer, type PairingOptions, proposePairings } from '@culvert/core'
import { groupName, holdAgainstTruth, makeDeposits, makeHarshDeposits, type TruthFigures } from '@culvert/core/testing'

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

export interface HarshFigures {
  readonly payouts: number
  readonly groups: number
  readonly certain: number
  readonly certainWrong: number
  /** Wrong, of deposits that a bank cut by more than the fee limit. */
  readonly farNettedWrong: number
  readonly likely: number
  readonly likelyWrong: number
  readonly possible: number
  readonly possibleWrong: number
}

/** Pairs `payouts` payouts of the harsh generator, a thousand at a time in 60, 300 and 1,200 days, with references on a share of the deposits. */
export const measureHarsh = ({ payouts, referenced, seed }: { payouts: number; referenced: number; seed: number }) => {
  const found = { payouts: 0, groups: 0, certain: 0, certainWrong: 0, farNettedWrong: 0 }
  const guessed = { likely: 0, likelyWrong: 0, possible: 0, possibleWrong: 0 }
  const days = [60, 300, 1200]
  for (let round = 0; found.payouts < payouts; round++) {
    const made = { payouts: 1000, days: days[round % 3] as number, referenced, bankFeeUpTo: 500, seed: seed + round }
    const truth = makeHarshDeposits(made)
    found.payouts += truth.transfers.length
    found.groups += truth.groups.size
    for (const { sureness, bankLines, transfers } of proposePairings(truth.transfers, truth.bankLines, options)
      .pairings) {
      const isWrong = !truth.groups.has(groupName(bankLines, transfers))
      if (sureness !== 'certain') {
        guessed[sureness]++
        if (isWrong) guessed[`${sureness}Wrong`]++
        continue
      }
      found.certain++
      if (isWrong && [...bankLines, ...transfers].some(({ id }) => truth.farNetted.has(id))) found.farNettedWrong++
      else if (isWrong) found.certainWrong++
    }
  }
  return { ...found, ...guessed } satisfies HarshFigures
}

/** Pairs `each` payouts of one source with as many bank lines, within one week, all of `amounts` values: ms. */
export const measureEqualAmounts = ({ each, amounts }: { each: number; amounts: number }): number => {
  const item = (index: number) => ({
    bankAccount: '1000',
    currency: 'EUR',
    date: addDays('2026-03-02', index % 7),
    amount: 10_000 * (1 + (index % amounts)),
  })
  const transfers = Array.from(
    { length: each },
    (_, index): OpenTransfer => ({ ...item(index), id: `t${index}`, source: 'openhall', reference: null }),
  )
  const bankLines = Array.from(
    { length: each },
    (_, index): OpenBankLine => ({ ...item(index), id: `d${index}`, description: 'OPENHALL', reference: '' }),
  )
  const start = performance.now()
  proposePairings(transfers, bankLines, options)
  return performance.now() - start
}
