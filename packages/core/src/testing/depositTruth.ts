import { addDays } from '../activity/localDate.ts'
import type { OpenBankLine, OpenTransfer } from '../pairing/pairingItems.ts'
import type { PairingProposal } from '../pairing/proposePairings.ts'
import { seededRandom } from './seededRandom.ts'

/** What really happened: payouts, the deposits they became, and which belong together. */
export interface DepositTruth {
  readonly transfers: readonly OpenTransfer[]
  readonly bankLines: readonly OpenBankLine[]
  /** Each true group, named by its bank lines and transfers in order. */
  readonly groups: ReadonlySet<string>
}

/** Names a group by the ids of its bank lines and transfers. */
export const groupName = (lines: readonly { id: string }[], transfers: readonly { id: string }[]): string =>
  [lines, transfers]
    .map(items =>
      items
        .map(item => item.id)
        .sort()
        .join('+'),
    )
    .join('=')

const sources = ['openhall', 'brookpay', 'stallrow', 'counterpay', 'fernmarket', 'tidegate'] as const
const strangers = ['TRANSFER M. ROWANTREE', 'RENT LOCK-UP', 'CARD CLAY SUPPLY', 'O. QUILL PRIVATE']

/**
 * Makes `payouts` payouts of six sources over `days` days. 30 in 100 amounts are of 20 round values; a tenth comes in groups,
 * several payouts in one deposit or one in several; lost, late (8 to 12 days), cut by a fee, and strangers with an equal
 * amount at 2 in 100 each. 8 in 10 deposits carry the payout's reference, all the source's wording.
 */
export const makeDeposits = ({
  payouts,
  days,
  seed,
}: {
  payouts: number
  days: number
  seed: number
}): DepositTruth => {
  const random = seededRandom(seed)
  const below = (limit: number): number => Math.floor(random() * limit)
  const transfers: OpenTransfer[] = []
  const bankLines: OpenBankLine[] = []
  const groups = new Set<string>()
  const amount = (): number => (random() < 0.3 ? 5000 * (1 + below(20)) : 1000 + below(900_000))
  const pay = (source: string, date: string): OpenTransfer => {
    const number = transfers.length
    const transfer: OpenTransfer = {
      id: `t${String(number).padStart(6, '0')}`,
      source,
      bankAccount: '1000',
      currency: 'EUR',
      date,
      amount: amount(),
      reference: `${source.slice(0, 2).toUpperCase()}-${100_000 + number}`,
    }
    transfers.push(transfer)
    return transfer
  }
  const deposit = (date: string, size: number, description: string, reference = ''): OpenBankLine => {
    const id = `d${String(bankLines.length).padStart(6, '0')}`
    const line = { id, bankAccount: '1000', currency: 'EUR', date, amount: size, description, reference }
    bankLines.push(line)
    return line
  }
  const together = (lines: readonly OpenBankLine[], paid: readonly OpenTransfer[]) => groups.add(groupName(lines, paid))
  const wording = (source: string): string => `${source.toUpperCase()} SETTL ${below(10_000)}`
  const usualLag = (): number => 1 + below(3)

  while (transfers.length < payouts) {
    const source = sources[below(sources.length)] as string
    const date = addDays('2022-01-03', below(days))
    const chance = random()
    if (chance < 0.05) {
      const paid = Array.from({ length: 2 + below(3) }, (_, index) => pay(source, addDays(date, index)))
      const last = paid.at(-1) as OpenTransfer
      together(
        [
          deposit(
            addDays(last.date, usualLag()),
            paid.reduce((sum, one) => sum + one.amount, 0),
            wording(source),
          ),
        ],
        paid,
      )
      continue
    }
    const paid = pay(source, date)
    if (chance < 0.1) {
      const first = Math.max(1, Math.floor(paid.amount * (0.2 + 0.6 * random())))
      const arrived = addDays(date, usualLag())
      const parts = [first, paid.amount - first].map((size, index) =>
        deposit(arrived, size, `${source.toUpperCase()} SETTL ${index + 1}/2`),
      )
      together(parts, [paid])
    } else if (chance < 0.12) {
      // Lost: it never arrives.
    } else if (chance < 0.14) together([deposit(addDays(date, 8 + below(5)), paid.amount, wording(source))], [paid])
    else if (chance < 0.16)
      together([deposit(addDays(date, usualLag()), paid.amount - (50 + below(400)), wording(source))], [paid])
    else {
      const reference = random() < 0.8 ? (paid.reference as string) : ''
      together([deposit(addDays(date, usualLag()), paid.amount, wording(source), reference)], [paid])
    }
    if (random() < 0.02) deposit(addDays(date, below(7)), paid.amount, strangers[below(strangers.length)] as string)
  }
  return { transfers, bankLines, groups }
}

export interface TruthFigures {
  readonly certainRight: number
  readonly certainWrong: number
  readonly likelyRight: number
  readonly likelyWrong: number
  readonly possibleRight: number
  readonly possibleWrong: number
  /** True groups that nothing proposed. */
  readonly missed: number
  readonly notSearched: number
  readonly tooManyFit: number
}

/** Holds a proposal against what really happened. */
export const holdAgainstTruth = (proposal: PairingProposal, truth: DepositTruth): TruthFigures => {
  const figures = {
    certainRight: 0,
    certainWrong: 0,
    likelyRight: 0,
    likelyWrong: 0,
    possibleRight: 0,
    possibleWrong: 0,
  }
  let right = 0
  for (const { sureness, bankLines, transfers } of proposal.pairings) {
    const isTrue = truth.groups.has(groupName(bankLines, transfers))
    figures[`${sureness}${isTrue ? 'Right' : 'Wrong'}`]++
    if (isTrue) right++
  }
  return {
    ...figures,
    missed: truth.groups.size - right,
    notSearched: proposal.groupsNotSearched.length,
    tooManyFit: proposal.tooManyFit.length,
  }
}
