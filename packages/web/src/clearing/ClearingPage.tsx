import type { ClearingRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { useClient, useHref } from '../course/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { type SheetColumn, SheetTable } from '../ui/SheetTable.tsx'
import { StateMark } from '../ui/StateMark.tsx'
import { clearingQuery } from './clearingQueries.ts'

const columns: readonly SheetColumn<ClearingRow>[] = [
  {
    id: 'account',
    head: 'Account',
    width: '80px',
    cell: row => <span className="mono">{row.account}</span>,
    value: row => row.account,
  },
  { id: 'name', head: 'Name', cell: row => row.name, value: row => row.name },
  { id: 'source', head: 'Mirrors', width: '120px', cell: row => row.sourceName, value: row => row.sourceName },
  {
    id: 'entries',
    head: 'Entries',
    right: true,
    width: '80px',
    cell: row => row.entries.toLocaleString('en-IE'),
    value: row => row.entries,
  },
  { id: 'date', head: 'At', width: '120px', cell: row => dateText(row.reportedOn), value: row => row.reportedOn },
  {
    id: 'books',
    head: 'Books',
    right: true,
    width: '120px',
    cell: row => (
      <Amount
        minor={row.books}
        currency={row.currency}
        trace={{ at: 'account', account: row.account, ...(row.reportedOn ? { to: row.reportedOn } : {}) }}
      />
    ),
    value: row => row.books,
  },
  {
    id: 'reported',
    head: 'Processor says',
    right: true,
    width: '120px',
    cell: row =>
      row.reported === null ? (
        <span className="muted">never said</span>
      ) : (
        <Amount minor={row.reported} currency={row.currency} />
      ),
    value: row => row.reported,
  },
  {
    id: 'unexplained',
    head: 'Unexplained',
    right: true,
    width: '120px',
    cell: row => (
      <Amount minor={row.unexplained} currency={row.currency} className={row.unexplained ? 'crimson strong' : ''} />
    ),
    value: row => row.unexplained,
  },
  {
    id: 'state',
    head: 'Proof',
    width: '130px',
    cell: row =>
      row.unexplained === null ? (
        <span className="muted">no balance</span>
      ) : (
        <StateMark state={row.unexplained === 0 ? 'closed' : 'unexplained'} />
      ),
    value: row => row.unexplained,
  },
]

/** All clearing accounts with the state of their proofs. */
export const ClearingPage = () => {
  const { clientId } = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const { data, error } = useQuery(clearingQuery(clientId))
  return (
    <Page
      title="Clearing accounts"
      facts={
        error ? (
          <span className="crimson">{error.message}</span>
        ) : data ? (
          <span>{countText(data.accounts.length, 'account')}, each at its processor’s last report</span>
        ) : null
      }
    >
      <SheetTable
        label="Clearing accounts"
        columns={columns}
        rows={data?.accounts ?? []}
        rowKey={row => `${row.account} ${row.currency}`}
        onOpen={row => void navigate(href(`/clearing/${row.account}`))}
        empty="A clearing account comes with each source. None is connected yet."
      />
    </Page>
  )
}
