import { Box, Button, Kbd, Span } from '@chakra-ui/react'
import { type BankItem, type BankPage, type PairingRow, type ProposalList, subjectKey } from '@culvert/contract'
import { proposeWording } from '@culvert/core'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { useTrace } from '../context/TraceContext.tsx'
import { AboutButton } from '../ui/AboutButton.tsx'
import { Act } from '../ui/Act.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { amountText, dateText } from '../ui/formats.ts'
import { useKey } from '../ui/keys.ts'
import { StateMark } from '../ui/StateMark.tsx'
import type { TideGroup, TideMark } from './arrangeTide.ts'
import { CodeForm } from './CodeForm.tsx'
import { DifferenceField } from './DifferenceField.tsx'
import { OtherGroupings } from './OtherGroupings.tsx'
import { aloneText, decidedText, equationText, evidenceText, groupText } from './selectionText.ts'
import type { BankActs } from './useBankSelection.ts'

interface SelectionBarProps {
  readonly page: BankPage
  readonly list: ProposalList
  readonly mark: TideMark | null
  readonly acts: BankActs
}

/** What is selected in the tide table: how sure, why, what else fits, and what can be done. */
export const SelectionBar = ({ page, list, mark, acts }: SelectionBarProps) => {
  const group = mark?.group ?? null
  if (!group)
    return (
      <FootBar>
        <Span color="muted">
          Select a payout or a deposit to see what it is paired with and why.{' '}
          <Span hideBelow="md">
            <Kbd>j</Kbd> <Kbd>k</Kbd> go from one to the next, <Kbd>Space</Kbd> picks what you want to pair by hand.
          </Span>
        </Span>
      </FootBar>
    )
  return <GroupBar key={group.id} page={page} list={list} group={group} acts={acts} />
}

const GroupBar = ({ page, list, group, acts }: Omit<SelectionBarProps, 'mark'> & { readonly group: TideGroup }) => {
  const { locale } = useClient()
  const [shown, setShown] = useState<'nothing' | 'others' | 'code'>('nothing')
  const money = (minor: number) => amountText(minor, page.account.currency, locale)
  const { proposal, decided } = group
  const [line] = group.bankLines
  const canCode = group.tone === 'alone' && line !== undefined
  const others = proposal?.others ?? []
  const toggle = (what: 'others' | 'code') => setShown(before => (before === what ? 'nothing' : what))
  useKey('o', 'other groupings that fit', () => toggle('others'), others.length > 0)
  useKey('c', 'code it to an account', () => toggle('code'), canCode)
  useKey('b', 'take it apart', acts.undo, decided !== null)
  useKey('s', 'set aside', acts.askAside, group.tone === 'alone')
  return (
    <FootBar>
      <Box flex="1" minW="0">
        {shown === 'others' && proposal ? <OtherGroupings page={page} proposal={proposal} onPick={acts.pick} /> : null}
        <Box display="flex" gap="12px" alignItems="center">
          <Box flex="1" minW="0" lineHeight="1.35">
            <Box truncate>
              <Span fontWeight="600">
                <StateMark state={stateOf(group)} word={toneWord(group)} />
              </Span>
              {' · '}
              {groupText(group)}
            </Box>
            <Box color="muted" textStyle="small" truncate>
              {[
                equationText(group, money),
                proposal
                  ? evidenceText(proposal, page.facts)
                  : decided
                    ? decidedText(decided)
                    : aloneText(page, list, group),
              ]
                .filter(text => text !== '')
                .join(' · ')}
            </Box>
          </Box>
          {proposal ? <ProposalActs key={group.id} page={page} proposal={proposal} acts={acts} /> : null}
          {others.length > 0 ? (
            <Button variant="plain" aria-expanded={shown === 'others'} onClick={() => toggle('others')}>
              {others.length} {others.length === 1 ? 'other fits' : 'others fit'} <Kbd aria-hidden="true">o</Kbd>
            </Button>
          ) : null}
          {canCode && shown !== 'code' ? (
            <Act right="pair" disabled={acts.busy} onClick={() => toggle('code')}>
              Code to an account <Kbd aria-hidden="true">c</Kbd>
            </Act>
          ) : null}
          {canCode && shown === 'code' ? (
            <CodeForm
              from={page.account.code}
              amount={money(line.amount)}
              paid={line.amount < 0}
              busy={acts.busy}
              onCode={coded => acts.code(line.id, coded)}
              onLeave={() => setShown('nothing')}
            />
          ) : null}
          {group.tone === 'alone' && shown !== 'code' ? (
            <Act right="pair" disabled={acts.busy} onClick={acts.askAside}>
              Set aside <Kbd aria-hidden="true">s</Kbd>
            </Act>
          ) : null}
          {decided ? (
            <Act right="pair" disabled={acts.busy} onClick={acts.undo}>
              {decided.sort === 'set_aside' ? 'Take up again' : 'Take apart'} <Kbd aria-hidden="true">b</Kbd>
            </Act>
          ) : null}
          {line ? <LineAbout line={line} account={page.account.code} /> : null}
          <TraceButton group={group} account={page.account.code} />
        </Box>
      </Box>
    </FootBar>
  )
}

/** Spending and other receipts are alone by right; a payout that did not arrive is not. */
const stateOf = ({ tone, transfers }: TideGroup): string =>
  tone === 'alone' && transfers.length > 0 ? 'unexplained' : tone === 'coded' ? 'posted' : tone

const toneWord = (group: TideGroup): string => {
  if (group.tone === 'confirmed')
    return group.decided?.sureness === 'by_hand' ? 'confirmed, chosen by hand' : 'confirmed'
  return group.tone === 'set_aside' ? 'set aside' : group.tone
}

/** Confirming a proposal; one with a difference says where that is booked, one that names nobody can be given a name. */
const ProposalActs = ({
  page,
  proposal,
  acts,
}: {
  readonly page: BankPage
  readonly proposal: PairingRow
  readonly acts: BankActs
}) => {
  const [account, setAccount] = useState<string | null>(page.differenceAccount)
  const [transfer] = proposal.transfers
  const [line] = proposal.bankLines
  const wording = line && !proposal.evidence.payerNamed ? proposeWording(line.description) : ''
  const ready = proposal.difference === 0 || account !== null
  const confirm = () => ready && acts.confirm(proposal.difference === 0 ? null : account)
  useKey('p', 'confirm', confirm)
  return (
    <>
      {wording.length > 2 && transfer ? (
        <Button
          variant="plain"
          disabled={acts.busy}
          title={`From now on “${wording}” in a bank line names ${transfer.sourceName}.`}
          onClick={() => acts.learn(transfer.source, transfer.sourceName, wording)}
        >
          “{wording.length > 22 ? `${wording.slice(0, 20)}…` : wording}” is {transfer.sourceName}
        </Button>
      ) : null}
      {proposal.difference === 0 ? null : <DifferenceField value={account} onChange={setAccount} />}
      <Act right="pair" variant="solid" disabled={acts.busy || !ready} onClick={confirm}>
        {proposal.difference === 0 ? 'Confirm' : 'Confirm and book it'} <Kbd aria-hidden="true">p</Kbd>
      </Act>
    </>
  )
}

const LineAbout = ({ line, account }: { readonly line: BankItem; readonly account: string }) => (
  <AboutButton
    plain
    of={{
      subject: 'bank_line',
      key: subjectKey(account, line.id),
      title: `bank line of ${dateText(line.date)}, ${line.description || line.id}`,
      link: `/bank/${account}`,
    }}
  />
)

const TraceButton = ({ group, account }: { readonly group: TideGroup; readonly account: string }) => {
  const { open } = useTrace()
  const [transfer] = group.transfers
  const [line] = group.bankLines
  const start = transfer
    ? ({ at: 'transfer', id: transfer.id } as const)
    : line && group.decided?.entry
      ? ({ at: 'bank_line', account, id: line.id } as const)
      : null
  useKey('t', 'trace its amount', () => start && open(start))
  return start ? (
    <Button onClick={() => open(start)}>
      Trace <Kbd aria-hidden="true">t</Kbd>
    </Button>
  ) : null
}
