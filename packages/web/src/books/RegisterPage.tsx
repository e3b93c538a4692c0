import { Span } from '@chakra-ui/react'
import type { RegisterRow } from '@culvert/contract'
import { addDays } from '@culvert/core'
import { useParams, useSearchParams } from 'react-router'
import { useClient, useHref, usePeriod } from '../context/ClientContext.tsx'
import { usePages } from '../context/usePages.ts'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText, rangeText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import { entryOrder, type SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { BookLinks } from './BookLinks.tsx'
import { registerList } from './bookQueries.ts'

const keyOf = (row: RegisterRow): string => `${row.entry}/${row.lineNo}`

/** What a line is of; in another currency than the register's, what it moves there. */
const Memo = ({ row }: { readonly row: RegisterRow }) => (
  <>
    {row.memo}
    {row.foreignAmount === null ? null : (
      <Span color="muted">
        {' '}
        · {row.foreignCurrency} <Amount minor={row.foreignAmount} currency={row.foreignCurrency} signed />
      </Span>
    )}
  </>
)

/** The register of an account: its lines with the running balance, the latest first. */
export const RegisterPage = () => {
  const { account = '' } = useParams()
  const { clientId } = useClient()
  const period = usePeriod()
  const href = useHref()
  const [search] = useSearchParams()
  const list = usePages({
    ...registerList(clientId, account, {
      from: search.get('from') ?? period.from,
      to: search.get('to') ?? period.to,
    }),
    rowKey: keyOf,
  })
  const { data } = list.first
  if (!data) return <Page links={<BookLinks here="register" />} title="Register" of={list.first} />
  const { currency } = data.account
  const trace = (row: RegisterRow) => ({ at: 'entry_line', entry: row.entry, line: row.lineNo }) as const
  const columns: readonly SheetColumn<RegisterRow>[] = [
    { id: 'date', head: 'Date', width: '104px', cell: row => dateText(row.date), value: row => row.date },
    {
      id: 'entry',
      head: 'Entry',
      width: '96px',
      cell: row => (
        <PageLink textStyle="mono" to={href(`/books/entries/${row.entry}`)}>
          {row.entry}
        </PageLink>
      ),
      value: row => row.entry,
      order: row => entryOrder(row.entry),
    },
    {
      id: 'document',
      head: 'Document',
      width: '96px',
      cell: row => row.document.replace('_', ' '),
      value: row => row.document.replace('_', ' '),
    },
    { id: 'memo', head: 'Of', cell: row => <Memo row={row} />, value: row => row.memo },
    {
      id: 'segments',
      head: 'Segments',
      width: '190px',
      cell: row => <Span color="muted">{row.segments.replaceAll(';', ' · ')}</Span>,
      value: row => row.segments,
    },
    {
      id: 'tax',
      head: 'Tax',
      width: '64px',
      cell: row => <Span textStyle="mono">{row.taxCode}</Span>,
      value: row => row.taxCode,
    },
    {
      id: 'debit',
      head: 'Debit',
      right: true,
      width: '116px',
      cell: row => (row.amount > 0 ? <Amount minor={row.amount} currency={currency} trace={trace(row)} /> : null),
      money: row => ({ minor: Math.max(0, row.amount), currency }),
    },
    {
      id: 'credit',
      head: 'Credit',
      right: true,
      width: '116px',
      cell: row => (row.amount < 0 ? <Amount minor={-row.amount} currency={currency} trace={trace(row)} /> : null),
      money: row => ({ minor: Math.max(0, -row.amount), currency }),
    },
    {
      id: 'balance',
      head: `Balance, ${currency}`,
      right: true,
      width: '124px',
      cell: row => (
        <Amount
          minor={row.balance}
          currency={currency}
          trace={{ at: 'account', account: data.account.code, through: `${row.entry}/${row.lineNo}` }}
        />
      ),
    },
  ]
  return (
    <Page
      links={<BookLinks here="register" />}
      title={`${data.account.code} ${data.account.name}`}
      facts={
        <span>
          {countText(data.total, 'line')}
          {data.to ? `, ${rangeText(data.from, data.to)}` : ''} · opening{' '}
          <Amount
            minor={data.opening}
            currency={currency}
            trace={data.from ? { at: 'account', account: data.account.code, to: addDays(data.from, -1) } : null}
          />{' '}
          · closing{' '}
          <Span fontWeight="600">
            <Amount
              minor={data.closing}
              currency={currency}
              signed
              trace={{ at: 'account', account: data.account.code, ...(data.to ? { to: data.to } : {}) }}
            />
          </Span>
        </span>
      }
    >
      <SheetTable
        label={`Register of ${data.account.code}`}
        columns={columns}
        rows={list.rows}
        aboutOf={row => ({
          subject: 'entry',
          key: row.entry,
          title: `entry ${row.entry}`,
          link: `/books/entries/${row.entry}`,
        })}
        rowKey={keyOf}
        more={list.more}
        arranged={list.arranged}
        onMore={list.loadMore}
        traceOf={trace}
        to={row => href(`/books/entries/${row.entry}`)}
        empty="Nothing was posted to this account in these dates."
      />
    </Page>
  )
}
