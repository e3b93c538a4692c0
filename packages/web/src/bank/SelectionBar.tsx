import { Box } from '@chakra-ui/react'
import type { BankPage } from '@culvert/contract'
import { useClient } from '../course/ClientContext.tsx'
import { useTrace } from '../course/TraceContext.tsx'
import { Button } from '../ui/Button.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { amountText, countText, dateText, dayText } from '../ui/formats.ts'
import { StateMark } from '../ui/StateMark.tsx'
import type { TideGroup } from './arrangeTide.ts'

interface SelectionBarProps {
  readonly page: BankPage
  readonly group: TideGroup | null
  readonly busy: boolean
  readonly onConfirm: () => void
  readonly onUndo: () => void
}

/** What is selected in the tide table: how sure, why, and what can be done. */
export const SelectionBar = ({ page, group, busy, onConfirm, onUndo }: SelectionBarProps) => {
  const { locale } = useClient()
  const { open } = useTrace()
  if (!group)
    return (
      <FootBar>
        <span className="muted">
          Select a payout or a deposit to see what it is paired with and why. <kbd>j</kbd> <kbd>k</kbd> go from one to
          the next.
        </span>
      </FootBar>
    )
  const money = (minor: number) => amountText(minor, page.account.currency, locale)
  const [transfer] = group.transfers
  const [line] = group.bankLines
  const trace = transfer ? ({ at: 'transfer', id: transfer.id } as const) : null
  return (
    <FootBar>
      <Box flex="1" minW="0" lineHeight="1.35">
        <Box>
          <span className="strong">
            <StateMark
              state={group.tone === 'alone' ? 'unexplained' : group.tone}
              word={group.tone === 'alone' ? 'alone' : group.tone}
            />
          </span>
          {' · '}
          {summary(group)}
        </Box>
        <Box className="muted small">
          {group.pairing ? equation(group, money) : alone(page, transfer?.date ?? null, line?.date ?? null)}
          {group.pairing ? evidence(group) : ''}
        </Box>
      </Box>
      {group.tone === 'confirmed' ? (
        <>
          <Button disabled={busy} onClick={onUndo}>
            Take apart
          </Button>
          <kbd>b</kbd>
        </>
      ) : null}
      {group.pairing && group.tone !== 'confirmed' && group.pairing.difference === 0 ? (
        <>
          <Button look="main" disabled={busy} onClick={onConfirm}>
            Confirm
          </Button>
          <kbd>p</kbd>
        </>
      ) : null}
      {trace ? (
        <>
          <Button onClick={() => open(trace)}>Trace</Button>
          <kbd>t</kbd>
        </>
      ) : null}
    </FootBar>
  )
}

const summary = ({ transfers, bankLines }: TideGroup): string => {
  const payouts =
    transfers.length === 1
      ? `payout ${transfers[0]?.sourceName} ${transfers[0]?.key}, ${dayText(transfers[0]?.date ?? '')}`
      : `${transfers.length} payouts`
  const deposits =
    bankLines.length === 1
      ? `bank line ${bankLines[0]?.description}, ${dayText(bankLines[0]?.date ?? '')}`
      : `${bankLines.length} deposits`
  if (transfers.length === 0) return deposits
  if (bankLines.length === 0) return payouts
  return `${payouts} = ${deposits}`
}

const equation = ({ transfers, bankLines, pairing }: TideGroup, money: (minor: number) => string): string => {
  const sum = (items: readonly { amount: number }[]) => items.map(item => money(item.amount)).join(' + ')
  const difference = pairing?.difference ?? 0
  return `${sum(transfers)} = ${sum(bankLines)} · difference ${difference === 0 ? '0.00' : money(difference)}`
}

const evidence = ({ pairing }: TideGroup): string => {
  if (!pairing) return ''
  const { evidence: found, others, waitsFor } = pairing
  return [
    '',
    `${countText(found.lagDays, 'day')} later${found.lagUsual === null ? '' : found.lagUsual ? ', as usual' : ', not as usual'}`,
    found.consecutive === true ? 'payouts that follow each other' : '',
    found.payerNamed ? 'the text names the payer' : 'the text does not name the payer',
    found.referenceFound ? 'with its reference' : '',
    others.length > 0 ? `${others.length} other ${others.length === 1 ? 'grouping fits' : 'groupings fit'}` : '',
    waitsFor ? `waits for data to ${dateText(waitsFor)}` : '',
    pairing.difference !== 0 ? 'a bank fee, or not the same money' : '',
  ]
    .filter((text, index) => index === 0 || text !== '')
    .join(' · ')
}

const alone = (page: BankPage, paid: string | null, deposited: string | null): string => {
  if (paid !== null)
    return page.statementTo !== null && page.statementTo < paid
      ? `the statement ends on ${dateText(page.statementTo)}, before it could arrive`
      : 'nothing of this amount in the bank within 7 days'
  return deposited !== null
    ? 'no payout of this amount in the 7 days before it; spending and other receipts stand here too'
    : ''
}
