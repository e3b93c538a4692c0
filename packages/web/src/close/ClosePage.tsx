import { Span } from '@chakra-ui/react'
import type { CloseMonth } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Act } from '../ui/Act.tsx'
import { Amount } from '../ui/Amount.tsx'
import { AskConsent } from '../ui/AskConsent.tsx'
import { monthText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import { StateMark } from '../ui/StateMark.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { closeQuery } from './closeQueries.ts'
import { LockDialog } from './LockDialog.tsx'

const stateOf = (row: CloseMonth) =>
  row.locked
    ? (['closed', 'locked'] as const)
    : row.ready
      ? (['posted', 'ready to lock'] as const)
      : (['proposed', 'open'] as const)

const MonthState = ({ row }: { readonly row: CloseMonth }) => {
  const [state, word] = stateOf(row)
  return <StateMark state={state} word={word} />
}

/** How many of a sort wait in a month: the link to them. */
const waitingColumn = (
  id: 'blocked' | 'proposed' | 'corrections' | 'unpaired',
  head: string,
  to: (month: string) => string,
): SheetColumn<CloseMonth> => ({
  id,
  head,
  right: true,
  value: row => row[id],
  cell: row =>
    row[id] === 0 ? (
      '–'
    ) : (
      <PageLink color="ochre" to={to(row.month)}>
        {row[id]}
      </PageLink>
    ),
})

/** The months: what still waits in each, and its lock. */
export const ClosePage = () => {
  const { clientId, base } = useClient()
  const href = useHref()
  const query = useQuery(closeQuery(clientId))
  const { data } = query
  const [asked, setAsked] = useState<CloseMonth | null>(null)
  const columns: readonly SheetColumn<CloseMonth>[] = [
    {
      id: 'month',
      head: 'Month',
      value: row => row.month,
      cell: row => <Span fontWeight="600">{monthText(row.month)}</Span>,
    },
    { id: 'state', head: 'State', value: row => stateOf(row)[1], cell: row => <MonthState row={row} /> },
    waitingColumn('blocked', 'Blocked', month => href(`/settlements?state=blocked&period=${month}`)),
    waitingColumn('proposed', 'To post', month => href(`/settlements?state=proposed&period=${month}`)),
    {
      id: 'waiting',
      head: 'Waiting, gross',
      right: true,
      money: row => ({ minor: row.waitingAmount, currency: base }),
      cell: row =>
        row.waitingAmount === 0 ? (
          <Amount minor={0} />
        ) : (
          <PageLink to={href(`/settlements?state=waiting&period=${row.month}`)}>
            <Amount minor={row.waitingAmount} />
          </PageLink>
        ),
    },
    waitingColumn('corrections', 'Corrections', month => href(`/settlements?state=corrected&period=${month}`)),
    waitingColumn('unpaired', 'Payouts not in the bank', month => href(`/bank?period=${month}`)),
    {
      id: 'act',
      head: '',
      width: '110px',
      cell: row => (
        <>
          <AskConsent
            right="close"
            h="26px"
            label="Ask"
            aria-label={`Ask to ${row.locked ? 'open' : 'lock'} ${monthText(row.month)}`}
            what={`${row.locked ? 'open again' : 'lock'} ${monthText(row.month)}`}
            wanted={reason => ({ sort: 'lock', month: row.month, locked: !row.locked, reason })}
          />
          <Act
            right="close"
            h="26px"
            aria-label={`${row.locked ? 'Open' : 'Lock'} ${monthText(row.month)}`}
            onClick={() => setAsked(row)}
          >
            {row.locked ? 'Open again' : 'Lock'}
          </Act>
        </>
      ),
    },
  ]
  return (
    <Page
      of={query}
      title="Close"
      facts={<span>a locked month takes no entries; reversals go to the first open day after it</span>}
    >
      <SheetTable
        label="Months"
        aboutOf={row => ({ subject: 'month', key: row.month, title: monthText(row.month), link: '/close' })}
        columns={columns}
        rows={data?.months ?? []}
        rowKey={row => row.month}
        empty="Months stand here once something happened in them."
      />
      {asked ? <LockDialog row={asked} onClose={() => setAsked(null)} /> : null}
    </Page>
  )
}
