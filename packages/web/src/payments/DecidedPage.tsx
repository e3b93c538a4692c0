import { Kbd, Span } from '@chakra-ui/react'
import { type DecidedPayment, subjectKey } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { settlementPath } from '../context/settlementPath.ts'
import { Act } from '../ui/Act.tsx'
import { Amount } from '../ui/Amount.tsx'
import { AskDialog } from '../ui/AskDialog.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { countText, dateText, momentText, zoneText } from '../ui/formats.ts'
import { useKey } from '../ui/keys.ts'
import { Page } from '../ui/Page.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { useKeptSelection } from '../ui/sheet/useKeptSelection.ts'
import { decidedDetail, decidedWords } from './decisionText.ts'
import { PaymentLinks } from './PaymentLinks.tsx'
import { tieOutQuery } from './paymentQueries.ts'
import { useDecide } from './useDecide.ts'

const keyOf = ({ line }: DecidedPayment): string => `${line.source} ${line.lineId}`
const refOf = ({ line: { source, lineId } }: DecidedPayment) => ({ source, lineId })
const entryName = ({ entry }: DecidedPayment): string | null =>
  entry ? `${entry.fiscalYear}-${String(entry.number).padStart(4, '0')}` : null

/** What was decided of one-sided payments; all of it can be taken back. */
export const DecidedPage = () => {
  const { clientId, timeZone } = useClient()
  const href = useHref()
  const query = useQuery(tieOutQuery(clientId))
  const rows = query.data?.decided ?? []
  const [selected, setSelected] = useKeptSelection()
  const [asked, setAsked] = useState(false)
  const acts = useDecide()
  const chosen = rows.filter(row => selected.has(keyOf(row)))
  const undo = () => acts.undo(chosen.map(refOf), () => setSelected(new Set()))
  const ask = () => {
    if (chosen.length > 1) setAsked(true)
    else if (chosen.length === 1 && !acts.busy) undo()
  }
  useKey('b', 'take back what is selected', ask)
  const columns: readonly SheetColumn<DecidedPayment>[] = [
    { id: 'date', head: 'Day', width: '104px', cell: row => dateText(row.line.date), value: row => row.line.date },
    {
      id: 'order',
      head: 'Order',
      width: '110px',
      cell: row => <Span textStyle="mono">{row.line.order ?? row.line.lineId}</Span>,
      value: row => row.line.order ?? row.line.lineId,
    },
    { id: 'customer', head: 'Customer', cell: row => row.line.customer ?? '', value: row => row.line.customer },
    {
      id: 'decision',
      head: 'Decided',
      width: '170px',
      cell: row =>
        row.holds ? (
          decidedWords[row.decision]
        ) : (
          <Span color="crimson">▲ {decidedWords[row.decision]}, not so any more</Span>
        ),
      value: row => `${decidedWords[row.decision]}${row.holds ? '' : ', not so any more'}`,
    },
    { id: 'detail', head: 'To, until', width: '130px', cell: decidedDetail, value: decidedDetail },
    {
      id: 'amount',
      head: 'Amount',
      right: true,
      width: '110px',
      cell: row => (
        <Amount
          minor={row.amount}
          currency={row.line.currency}
          trace={{ at: 'line', source: row.line.source, lineId: row.line.lineId }}
        />
      ),
      money: row => ({ minor: row.amount, currency: row.line.currency }),
    },
    { id: 'currency', head: '', width: '48px', cell: row => <Span color="muted">{row.line.currency}</Span> },
    {
      id: 'entry',
      head: 'Entry',
      width: '96px',
      cell: row =>
        row.entry ? (
          <PageLink textStyle="mono" to={href(`/books/entries/${row.entry.fiscalYear}-${row.entry.number}`)}>
            {entryName(row)}
          </PageLink>
        ) : (
          '–'
        ),
      value: entryName,
    },
    { id: 'by', head: 'By', width: '110px', cell: row => row.by, value: row => row.by },
    {
      id: 'at',
      head: `When, ${zoneText(timeZone)}`,
      width: '150px',
      cell: row => momentText(row.at, timeZone),
      value: row => row.at,
    },
    { id: 'note', head: 'Note', cell: row => <Span color="muted">{row.note}</Span>, value: row => row.note },
  ]
  const outdated = rows.filter(row => !row.holds).length
  return (
    <Page
      of={query}
      links={<PaymentLinks here="decided" />}
      title="Decided"
      facts={
        <span>
          {countText(rows.length, 'payment')} decided
          {outdated > 0 ? `, ${outdated} of them not so any more: take ${outdated === 1 ? 'it' : 'them'} back` : ''}
        </span>
      }
    >
      <SheetTable
        label="Decided payments"
        aboutOf={row => ({
          subject: 'payment',
          key: subjectKey(row.line.source, row.line.lineId),
          title: `payment ${row.line.lineId}`,
          link: '/payments/decided',
        })}
        columns={columns}
        rows={rows}
        rowKey={keyOf}
        to={row => href(settlementPath({ ...row.line, key: row.line.settlement }))}
        selected={selected}
        onSelect={setSelected}
        tone={row => (row.holds ? undefined : 'waiting')}
        traceOf={row => ({ at: 'line', source: row.line.source, lineId: row.line.lineId })}
        empty="What you decide of payments on the tie-out page stands here, and can be taken back."
      />
      <FootBar>
        <Act right="post" variant="solid" disabled={chosen.length === 0 || acts.busy} onClick={ask}>
          Take back {chosen.length > 0 ? chosen.length : ''}
        </Act>
        <Kbd>b</Kbd>
        <Span color="muted">{chosen.length > 0 ? undoText(chosen) : 'Select what is to be taken back.'}</Span>
      </FootBar>
      <AskDialog
        open={asked}
        title={`Take back ${countText(chosen.length, 'decision')}?`}
        act={`Take back ${chosen.length}`}
        onAct={undo}
        onClose={() => setAsked(false)}
      >
        {undoText(chosen)}
      </AskDialog>
    </Page>
  )
}

const undoText = (rows: readonly DecidedPayment[]): string => {
  const entries = rows.filter(row => row.entry).length
  return `${entries > 0 ? `Posts ${countText(entries, 'reversal')}; nothing is deleted. ` : 'Posts nothing. '}The payments are on one side only again.`
}
