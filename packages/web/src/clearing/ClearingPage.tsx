import { Box } from '@chakra-ui/react'
import type { BalanceRow, ClearingRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { Link, useNavigate } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { type SheetColumn, SheetTable } from '../ui/SheetTable.tsx'
import { StateMark } from '../ui/StateMark.tsx'
import { accountTypeText } from '../ui/words.ts'
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
    head: 'Reported',
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
      row.outcome === null ? (
        <span className="muted">no balance</span>
      ) : (
        <StateMark state={row.outcome === 'open' ? 'unexplained' : row.outcome} />
      ),
    value: row => row.outcome,
  },
]

/** Accounts besides the clearing accounts that can be held against what somebody outside says. */
const HeldAndOwed = ({ rows }: { readonly rows: readonly BalanceRow[] }) => {
  const href = useHref()
  return (
    <Box mt="22px">
      <table className="sheet" aria-label="Held and owed">
        <thead>
          <tr>
            <th style={{ width: 80 }}>Account</th>
            <th>Held and owed</th>
            <th style={{ width: 150 }}>Sort</th>
            <th style={{ width: 120 }}>At</th>
            <th className="right" style={{ width: 120 }}>
              Books
            </th>
            <th className="right" style={{ width: 120 }}>
              Stated
            </th>
            <th style={{ width: 120 }}>By</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(row => (
            <tr key={`${row.account} ${row.currency}`}>
              <td className="mono">{row.account}</td>
              <td>
                <Link to={href(`/clearing/${row.account}?currency=${row.currency}`)}>{row.name}</Link>
              </td>
              <td className="muted">{accountTypeText(row.type)}</td>
              <td>{dateText(row.statedOn)}</td>
              <td className="right">
                <Amount
                  minor={row.books}
                  currency={row.currency}
                  trace={{ at: 'account', account: row.account, ...(row.statedOn ? { to: row.statedOn } : {}) }}
                />
              </td>
              <td className="right">
                {row.stated === null ? (
                  <span className="muted">not yet</span>
                ) : (
                  <Amount minor={row.stated} currency={row.currency} />
                )}
              </td>
              <td className="muted">{row.statedBy === 'it was stated' ? 'entered' : row.statedBy}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Box>
  )
}

/** All clearing accounts with the state of their proofs, and what else can be proved. */
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
          <span>{countText(data.accounts.length, 'account')}, each at the last report of its sources</span>
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
      {data && data.balances.length > 0 ? <HeldAndOwed rows={data.balances} /> : null}
    </Page>
  )
}
