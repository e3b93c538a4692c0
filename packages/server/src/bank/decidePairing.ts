import type { MemberRefusal, PairingRow } from '@culvert/contract'
import { composeDifference, daysBetween, sumMinor } from '@culvert/core'
import type { ClientSetup } from '../setup/loadSetup.ts'
import type { Decision, Group, OpenLineRow, OpenMembers, OpenTransferRow } from './storePairings.ts'

const lastDate = (rows: readonly { date: string }[]): string =>
  rows.reduce((last, row) => (row.date > last ? row.date : last), '')

/** What is booked when the group is confirmed, or the reason why it cannot be. */
export const decide = (
  group: WantedGroup,
  context: {
    members: OpenMembers
    client: ClientSetup
    account: string
    proposed: ReadonlyMap<string, PairingRow>
  },
): Decision | MemberRefusal => {
  const { members, client, account } = context
  const transfers = group.transfers.map(id => members.transfers.get(id) as OpenTransferRow)
  const lines = group.bankLines.map(id => members.lines.get(id) as OpenLineRow)
  const [transfer] = transfers as [OpenTransferRow]
  const [line] = lines as [OpenLineRow]
  if (transfers.some(one => one.currency !== transfer.currency) || lines.some(one => one.currency !== line.currency))
    return 'several_currencies'
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
  if (!draft.ok) return draft.reason
  if (draft.amount !== 0 && group.difference === undefined) return 'sides_differ'
  if (draft.amount !== 0 && !canTake(group.difference?.account ?? '', account, client)) return 'difference_refused'
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

/** Members that somebody wants tied. */
export interface WantedGroup extends Group {
  /** Where what lies between the two sides is booked. */
  readonly difference?: { readonly account: string } | undefined
}

/** A group’s members, in whatever order they were named. */
export const keyOf = (group: Group): string =>
  JSON.stringify([[...group.transfers].sort(), [...group.bankLines].sort()])
