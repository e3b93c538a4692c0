import { Button, Span } from '@chakra-ui/react'
import { type AccountBalance, subjectKey, type TraceStart } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { lazy, Suspense, useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref, usePeriod } from '../context/ClientContext.tsx'
import { useMay } from '../context/useMay.ts'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { accountTypeText } from '../ui/words.ts'
import { BeginChart } from './BeginChart.tsx'
import { BookLinks } from './BookLinks.tsx'
import { chartQuery } from './bookQueries.ts'
import { ChartTools } from './ChartTools.tsx'

const AccountDialog = lazy(() => import('./AccountDialog.tsx'))

/** How an account differs from one that is simply booked to. */
const unusualOf = (row: AccountBalance): string[] =>
  row.archived
    ? ['archived']
    : [
        ...(row.takesPostings ? [] : ['takes no postings']),
        ...(row.takesPayments || !['bank', 'card'].includes(row.type) ? [] : ['takes no payments']),
      ]

/** The chart of accounts with balances; each opens its register. */
export const ChartPage = () => {
  const { clientId, base } = useClient()
  const { to } = usePeriod()
  const href = useHref()
  const query = useQuery(chartQuery(clientId, to))
  const { data } = query
  const may = useMay()
  const [editing, setEditing] = useState<string | null>(null)
  const register = (row: AccountBalance) => href(`/books/register/${encodeURIComponent(row.code)}`)
  const sumOf = (row: AccountBalance, side?: 'debit' | 'credit'): TraceStart => ({
    at: 'account',
    account: row.code,
    ...(side ? { side } : {}),
    ...(to ? { to } : {}),
  })
  const columns: readonly SheetColumn<AccountBalance>[] = [
    {
      id: 'code',
      head: 'Account',
      width: '72px',
      cell: row => <Span textStyle="mono">{row.code}</Span>,
      value: row => row.code,
    },
    {
      id: 'name',
      head: 'Name',
      cell: row => (
        <>
          <Link to={register(row)}>{row.name}</Link>
          {unusualOf(row).map(text => (
            <Span key={text} color="muted" textStyle="small">
              {' '}
              · {text}
            </Span>
          ))}
        </>
      ),
      value: row => row.name,
    },
    { id: 'type', head: 'Type', width: '132px', cell: row => accountTypeText(row.type), value: row => row.type },
    { id: 'currency', head: 'Currency', width: '72px', cell: row => row.currency, value: row => row.currency },
    {
      id: 'debit',
      head: 'Debits',
      right: true,
      width: '112px',
      cell: row => <Amount minor={row.debit} currency={row.currency} trace={sumOf(row, 'debit')} />,
      money: row => ({ minor: row.debit, currency: row.currency }),
    },
    {
      id: 'credit',
      head: 'Credits',
      right: true,
      width: '112px',
      cell: row => <Amount minor={row.credit} currency={row.currency} trace={sumOf(row, 'credit')} />,
      money: row => ({ minor: row.credit, currency: row.currency }),
    },
    {
      id: 'balanceDebit',
      head: 'Balance, debit',
      right: true,
      width: '112px',
      cell: row =>
        row.baseBalance > 0 ? <Amount minor={row.baseBalance} trace={sumOf(row)} fontWeight="600" /> : null,
      money: row => ({ minor: Math.max(0, row.baseBalance), currency: base }),
    },
    {
      id: 'balanceCredit',
      head: 'Balance, credit',
      right: true,
      width: '112px',
      cell: row =>
        row.baseBalance < 0 ? <Amount minor={-row.baseBalance} trace={sumOf(row)} fontWeight="600" /> : null,
      money: row => ({ minor: Math.max(0, -row.baseBalance), currency: base }),
    },
    ...(may('map')
      ? [
          {
            id: 'change',
            head: '',
            width: '74px',
            cell: (row: AccountBalance) => (
              <Button
                h="24px"
                variant="plain"
                aria-label={`Change ${row.code}`}
                onClick={event => {
                  event.stopPropagation()
                  setEditing(row.code)
                }}
              >
                Change
              </Button>
            ),
          },
        ]
      : []),
  ]
  const whole = (of: 'debit' | 'credit'): TraceStart => ({ at: 'chart', side: of, ...(to && { to }) })
  const side = (sign: 1 | -1) =>
    (data?.accounts ?? []).reduce((sum, account) => sum + Math.max(0, account.baseBalance * sign), 0)
  return (
    <Page
      of={query}
      links={<BookLinks here="chart" />}
      title="Chart of accounts"
      actions={may('map') ? <ChartTools accounts={data?.accounts ?? []} /> : null}
      facts={
        data ? (
          <span>
            {to ? `at ${dateText(to)}` : countText(data.entries, 'entry', 'entries')} · in {base} ·{' '}
            {data.sum === 0 ? 'debits and credits agree' : 'debits and credits differ'}
          </span>
        ) : null
      }
    >
      {editing === null ? null : (
        <Suspense fallback={null}>
          <AccountDialog code={editing} onClose={() => setEditing(null)} />
        </Suspense>
      )}
      {data?.accounts.length === 0 ? (
        <BeginChart />
      ) : (
        <SheetTable
          label="Chart of accounts"
          aboutOf={row => ({
            subject: 'account',
            key: subjectKey(row.code),
            title: `${row.code} ${row.name}`,
            link: `/books/register/${encodeURIComponent(row.code)}`,
          })}
          columns={columns}
          rows={data?.accounts ?? []}
          rowKey={row => row.code}
          to={row => register(row)}
          {...(data
            ? {
                totals: {
                  balanceDebit: <Amount minor={side(1)} trace={whole('debit')} />,
                  balanceCredit: <Amount minor={side(-1)} trace={whole('credit')} />,
                },
              }
            : {})}
        />
      )}
    </Page>
  )
}
