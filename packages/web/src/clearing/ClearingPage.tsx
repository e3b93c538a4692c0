import { Box, Span } from '@chakra-ui/react'
import type { BalanceRow, ClearingRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { StateMark } from '../ui/StateMark.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { accountTypeText } from '../ui/words.ts'
import { clearingQuery } from './clearingQueries.ts'

const columnsOf = (prove: (row: ClearingRow) => void): readonly SheetColumn<ClearingRow>[] => [
  {
    id: 'account',
    head: 'Account',
    width: '80px',
    cell: row => <Span textStyle="mono">{row.account}</Span>,
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
    money: row => ({ minor: row.books, currency: row.currency }),
  },
  {
    id: 'reported',
    head: 'Reported',
    right: true,
    width: '120px',
    cell: row =>
      row.reported === null ? (
        <Span color="muted">never said</Span>
      ) : (
        <Amount minor={row.reported} currency={row.currency} onOpen={() => prove(row)} />
      ),
    money: row => ({ minor: row.reported, currency: row.currency }),
  },
  {
    id: 'unexplained',
    head: 'Unexplained',
    right: true,
    width: '120px',
    cell: row => (
      <Amount
        minor={row.unexplained}
        currency={row.currency}
        onOpen={() => prove(row)}
        {...(row.unexplained ? { color: 'crimson', fontWeight: '600' } : {})}
      />
    ),
    money: row => ({ minor: row.unexplained, currency: row.currency }),
  },
  {
    id: 'state',
    head: 'Proof',
    width: '130px',
    cell: row =>
      row.outcome === null ? (
        <Span color="muted">no balance</Span>
      ) : (
        <StateMark state={row.outcome === 'open' ? 'unexplained' : row.outcome} />
      ),
    value: row => row.outcome,
  },
]

const balanceColumns: readonly SheetColumn<BalanceRow>[] = [
  {
    id: 'account',
    head: 'Account',
    width: '80px',
    cell: row => <Span textStyle="mono">{row.account}</Span>,
    value: row => row.account,
  },
  { id: 'name', head: 'Held and owed', cell: row => row.name, value: row => row.name },
  {
    id: 'type',
    head: 'Sort',
    width: '150px',
    cell: row => <Span color="muted">{accountTypeText(row.type)}</Span>,
    value: row => accountTypeText(row.type),
  },
  { id: 'date', head: 'At', width: '120px', cell: row => dateText(row.statedOn), value: row => row.statedOn },
  {
    id: 'books',
    head: 'Books',
    right: true,
    width: '120px',
    cell: row => (
      <Amount
        minor={row.books}
        currency={row.currency}
        trace={{ at: 'account', account: row.account, ...(row.statedOn ? { to: row.statedOn } : {}) }}
      />
    ),
    money: row => ({ minor: row.books, currency: row.currency }),
  },
  {
    id: 'stated',
    head: 'Stated',
    right: true,
    width: '120px',
    cell: row =>
      row.stated === null ? (
        <Span color="muted">not yet</Span>
      ) : (
        <Amount
          minor={row.stated}
          currency={row.currency}
          trace={
            row.statedOn ? { at: 'reported', account: row.account, currency: row.currency, date: row.statedOn } : null
          }
        />
      ),
    money: row => ({ minor: row.stated, currency: row.currency }),
  },
  {
    id: 'by',
    head: 'By',
    width: '120px',
    cell: row => <Span color="muted">{row.statedBy === 'it was stated' ? 'entered' : row.statedBy}</Span>,
    value: row => row.statedBy,
  },
]

/** Accounts besides the clearing accounts that can be held against what somebody outside says. */
const HeldAndOwed = ({ rows }: { readonly rows: readonly BalanceRow[] }) => {
  const href = useHref()
  return (
    <Box mt="22px">
      <SheetTable
        scope="held-"
        label="Held and owed"
        columns={balanceColumns}
        rows={rows}
        rowKey={row => `${row.account} ${row.currency}`}
        to={row => href(`/clearing/${row.account}?currency=${row.currency}`)}
      />
    </Box>
  )
}

/** All clearing accounts with the state of their proofs, and what else can be proved. */
export const ClearingPage = () => {
  const { clientId } = useClient()
  const href = useHref()
  const navigate = useNavigate()
  const to = (row: ClearingRow) => href(`/clearing/${row.account}`)
  const query = useQuery(clearingQuery(clientId))
  const { data } = query
  return (
    <Page
      of={query}
      title="Clearing accounts"
      facts={
        data ? <span>{countText(data.accounts.length, 'account')}, each at the last report of its sources</span> : null
      }
    >
      <SheetTable
        label="Clearing accounts"
        columns={columnsOf(row => void navigate(to(row)))}
        rows={data?.accounts ?? []}
        rowKey={row => `${row.account} ${row.currency}`}
        to={to}
        empty="A clearing account comes with each source. None is connected yet."
      />
      {data && data.balances.length > 0 ? <HeldAndOwed rows={data.balances} /> : null}
    </Page>
  )
}
