import { Button, Span } from '@chakra-ui/react'
import { type DisputeRow, subjectKey } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { settlementPath } from '../context/settlementPath.ts'
import { Act } from '../ui/Act.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { DecideDispute } from './DecideDispute.tsx'
import { PaymentLinks } from './PaymentLinks.tsx'
import { disputesQuery, useDisputeActs } from './paymentQueries.ts'

/** What became of a chargeback, in a word. */
const stateWords: Record<DisputeRow['state'], string> = {
  open: '◆ to decide',
  won: '▣ won: it came back',
  written_off: '▣ written off',
  credited: '▣ credited',
  changed: '◆ changed since: decide anew',
  waits: '▨ its settlement is not posted',
  elsewhere: 'booked to no account of disputed payments',
}

/** Payments that buyers' banks took back: disputed until they are won, written off or credited. */
export const DisputesPage = () => {
  const { clientId } = useClient()
  const query = useQuery(disputesQuery(clientId))
  const { data } = query
  const [decided, setDecided] = useState<DisputeRow | null>(null)
  const open = (data?.disputes ?? []).filter(one => one.state === 'open' || one.state === 'changed')
  return (
    <Page
      of={query}
      links={<PaymentLinks here="disputes" />}
      title="Disputed payments"
      facts={
        data ? (
          <span>{open.length === 0 ? 'nothing to decide' : `${countText(open.length, 'payment')} to decide`}</span>
        ) : null
      }
    >
      <SheetTable
        label="Disputed payments"
        aboutOf={row => ({
          subject: 'payment',
          key: subjectKey(row.source, row.lineId),
          title: `payment ${row.lineId}`,
          link: '/payments/disputes',
        })}
        columns={useColumns(setDecided)}
        rows={data?.disputes ?? []}
        rowKey={row => `${row.source} ${row.lineId}`}
        traceOf={row => ({ at: 'line', source: row.source, lineId: row.lineId })}
        empty="No payment was taken back by a buyer’s bank. When one is, it waits here until it is won, written off or credited."
      />
      {decided && data ? (
        <DecideDispute row={decided} today={data.today} costs={data.costs} onClose={() => setDecided(null)} />
      ) : null}
    </Page>
  )
}

const useColumns = (onDecide: (row: DisputeRow) => void): readonly SheetColumn<DisputeRow>[] => {
  const { clientId } = useClient()
  const href = useHref()
  const notice = useNotice()
  const { undo } = useDisputeActs(clientId)
  const takeBack = (row: DisputeRow): void =>
    undo.mutate(
      { source: row.source, lineId: row.lineId },
      { onError: notice.refuse, onSuccess: () => notice.say('Taken back by a reversal; it is disputed again.') },
    )
  return [
    { id: 'date', head: 'Day', width: '110px', cell: row => dateText(row.date), value: row => row.date },
    { id: 'source', head: 'Source', width: '110px', cell: row => row.sourceName, value: row => row.sourceName },
    {
      id: 'order',
      head: 'Order',
      width: '110px',
      cell: row => <Span textStyle="mono">{row.order}</Span>,
      value: row => row.order,
    },
    {
      id: 'sale',
      head: 'Its sale',
      width: '190px',
      cell: row =>
        row.sale ? `${row.sale.lineId}, ${dateText(row.sale.date)}` : <Span color="ochre">◆ not known</Span>,
      value: row => row.sale?.date ?? null,
    },
    {
      id: 'settlement',
      head: 'Settlement',
      width: '120px',
      cell: row => (
        <Link to={href(settlementPath({ source: row.source, key: row.settlement, currency: row.currency }))}>
          {row.settlement}
        </Link>
      ),
      value: row => row.settlement,
    },
    {
      id: 'account',
      head: 'Account',
      cell: row => (row.account ? `${row.account} ${row.accountName}` : ''),
      value: row => row.account,
    },
    {
      id: 'amount',
      head: 'Taken back',
      right: true,
      width: '110px',
      cell: row => (
        <Amount
          minor={row.amount}
          currency={row.currency}
          trace={{ at: 'line', source: row.source, lineId: row.lineId }}
        />
      ),
      money: row => ({ minor: row.amount, currency: row.currency }),
    },
    {
      id: 'left',
      head: 'Disputed',
      right: true,
      width: '110px',
      cell: row => (
        <Amount
          minor={row.left}
          currency={row.currency}
          trace={{ at: 'line', source: row.source, lineId: row.lineId }}
        />
      ),
      money: row => ({ minor: row.left, currency: row.currency }),
    },
    {
      id: 'state',
      head: 'State',
      width: '210px',
      cell: row => (
        <Span color={row.state === 'open' || row.state === 'changed' ? 'ochre' : 'inherit'}>
          {stateWords[row.state]}
          {row.decided ? (
            <>
              {' '}
              <PageLink textStyle="small" to={href(`/books/entries/${row.decided.entry}`)}>
                {dateText(row.decided.date)}
              </PageLink>
            </>
          ) : null}
        </Span>
      ),
      value: row => stateWords[row.state],
    },
    {
      id: 'act',
      head: 'Decision',
      width: '110px',
      cell: row =>
        row.state === 'open' ? (
          <Act right="post" variant="plain" onClick={() => onDecide(row)} aria-label={`Decide ${row.lineId}`}>
            Decide
          </Act>
        ) : row.decided ? (
          <Button
            variant="plain"
            disabled={undo.isPending}
            onClick={() => takeBack(row)}
            aria-label={`Take the decision on ${row.lineId} back`}
          >
            Take back
          </Button>
        ) : null,
      value: () => null,
    },
  ]
}
