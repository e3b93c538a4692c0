import type { BankPage, DecidedRow, PairingRow, ProposalList } from '@culvert/contract'
import { countText, dateText, dayText } from '../ui/formats.ts'
import type { TideGroup } from './arrangeTide.ts'

/** What a group is made of, in words. */
export const groupText = ({ transfers, bankLines }: Pick<TideGroup, 'transfers' | 'bankLines'>): string => {
  const [transfer] = transfers
  const [line] = bankLines
  const payouts =
    transfers.length === 1 && transfer
      ? `payout ${transfer.sourceName} ${transfer.key.replace(/^day:/, '')}, ${dayText(transfer.date)}`
      : countText(transfers.length, 'payout')
  const deposits =
    bankLines.length === 1 && line
      ? `bank line ${line.description}, ${dayText(line.date)}`
      : countText(bankLines.length, 'bank line')
  if (transfers.length === 0) return deposits
  if (bankLines.length === 0) return payouts
  return `${payouts} = ${deposits}`
}

type Money = (minor: number) => string
const sumText = (items: readonly { amount: number }[], money: Money): string =>
  items.map(item => money(item.amount)).join(' + ')

/** Both sides added up, with what lies between them. */
export const equationText = ({ transfers, bankLines, proposal, decided }: TideGroup, money: Money): string => {
  if (transfers.length === 0 || bankLines.length === 0) return ''
  const difference = proposal?.difference ?? decided?.difference ?? 0
  // An equals sign between unlike sums would be a lie.
  const between = difference === 0 ? '=' : 'against'
  return `${sumText(transfers, money)} ${between} ${sumText(bankLines, money)} · difference ${difference === 0 ? '0.00' : money(difference)}`
}

/** Whose data ends before a day, and where: what has to come in before a match can be certain. */
const lackingText = (to: string, reach: BankPage['facts']['reach']): string => {
  const lacking = reach.filter(one => one.to === null || one.to < to)
  const texts = lacking.map(({ source, name, to: until }) => {
    const what = source === null ? 'the bank statement' : name
    return until === null ? `${what} (nothing yet)` : `${what} (now to ${dateText(until)})`
  })
  return `certain once data to ${dateText(to)} is in: ${texts.join(', ')}`
}

/** What speaks for a proposal, and which data is missing before it can be certain. */
export const evidenceText = (
  { evidence, waitsFor, difference }: PairingRow,
  { reach }: Pick<BankPage['facts'], 'reach'>,
): string =>
  [
    `${countText(evidence.lagDays, 'day')} later${evidence.lagUsual === null ? '' : evidence.lagUsual ? ', as usual' : ', not as usual'}`,
    evidence.consecutive === true ? 'payouts that follow each other' : '',
    evidence.payerNamed ? 'the text names the payer' : 'the text does not name the payer',
    evidence.referenceFound ? 'with its reference' : '',
    waitsFor ? lackingText(waitsFor, reach) : '',
    difference === 0 ? '' : 'a bank fee, or not the same money',
  ]
    .filter(text => text !== '')
    .join(' · ')

/** What was decided, and what it posted. */
export const decidedText = ({ sort, note, entry, account }: DecidedRow): string => {
  const posted = entry === null ? '' : `entry ${entry}${account === null ? '' : ` to ${account}`}`
  if (sort === 'set_aside') return note
  if (sort === 'coded') return [posted, note].filter(text => text !== '').join(' · ')
  return posted === '' ? '' : `the difference is ${posted}`
}

/** Why something has no proposal. */
export const aloneText = (page: BankPage, list: ProposalList, group: TideGroup): string => {
  const [transfer] = group.transfers
  const [line] = group.bankLines
  const id = (transfer ?? line)?.id ?? ''
  const many = list.tooManyFit.find(one => one.id === id)
  if (many)
    return `${countText(many.count, 'grouping fits', 'groupings fit')}: too many to choose from; pick its members`
  if (list.groupsNotSearched.includes(id))
    return 'so much is open around it that groups were not searched; pick its members'
  if (transfer)
    return page.statementTo !== null && page.statementTo < transfer.date
      ? `the statement ends on ${dateText(page.statementTo)}, before it could arrive`
      : `nothing of this amount in the bank within ${page.facts.windowDays} days`
  return `no payout of this amount in the ${page.facts.windowDays} days before it`
}
