import { Span } from '@chakra-ui/react'
import type { EntryPage as EntryFacts } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { settlementPath } from '../context/settlementPath.ts'
import { AboutButton } from '../ui/AboutButton.tsx'
import { Amount } from '../ui/Amount.tsx'
import { dateText, momentText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { BookLinks } from './BookLinks.tsx'
import { entryQuery } from './bookQueries.ts'

type Line = EntryFacts['lines'][number] & { readonly at: number }

const startOf = (page: EntryFacts, line: Line) => ({
  at: 'entry_line' as const,
  entry: page.entry.number,
  line: line.at + 1,
})

const columnsOf = (page: EntryFacts): readonly SheetColumn<Line>[] => {
  const traceOf = (line: Line) => (page.settlement ? startOf(page, line) : null)
  const side = (id: 'debit' | 'credit', head: string, sign: 1 | -1): SheetColumn<Line> => {
    const amountOf = (line: Line) => (line.amount * sign > 0 ? line.amount * sign : null)
    return {
      id,
      head,
      right: true,
      width: '130px',
      cell: line => <Amount minor={amountOf(line)} currency={page.currency} trace={traceOf(line)} />,
      money: line => ({ minor: amountOf(line), currency: page.currency }),
    }
  }
  return [
    {
      id: 'account',
      head: 'Account',
      width: '90px',
      cell: line => <Span textStyle="mono">{line.account}</Span>,
      value: line => line.account,
    },
    { id: 'name', head: 'Name', cell: line => line.accountName, value: line => line.accountName },
    {
      id: 'segments',
      head: 'Segments',
      cell: line => <Span color="muted">{line.segments.replaceAll(';', ' · ')}</Span>,
      value: line => line.segments,
    },
    {
      id: 'tax',
      head: 'Tax',
      width: '80px',
      cell: line => <Span textStyle="mono">{line.taxCode}</Span>,
      value: line => line.taxCode,
    },
    side('debit', 'Debit', 1),
    side('credit', 'Credit', -1),
    ...(page.currency === page.base
      ? []
      : [
          {
            id: 'base',
            head: `In ${page.base}`,
            right: true,
            width: '120px',
            cell: (line: Line) => <Amount minor={line.baseAmount} currency={page.base} trace={traceOf(line)} />,
            money: (line: Line) => ({ minor: line.baseAmount, currency: page.base }),
          },
        ]),
  ]
}

/** One entry with its lines. */
export const EntryPage = () => {
  const { number = '' } = useParams()
  const { clientId, timeZone } = useClient()
  const href = useHref()
  const query = useQuery(entryQuery(clientId, number))
  const { data } = query
  if (!data) return <Page links={<BookLinks here="entries" />} title="Entry" of={query} />
  const { entry } = data
  const whole = data.settlement ? ({ at: 'entry', entry: entry.number } as const) : null
  const side = (sign: 1 | -1) => data.lines.reduce((sum, line) => sum + Math.max(0, line.amount * sign), 0)
  return (
    <Page
      links={<BookLinks here="entries" />}
      title={`Entry ${entry.number}`}
      facts={
        <>
          <span>
            {entry.document.replace('_', ' ')} of {dateText(entry.date)}, {data.currency}
          </span>
          {data.settlement ? (
            <Link to={href(settlementPath(data.settlement))}>{entry.memo}</Link>
          ) : (
            <span>{entry.memo}</span>
          )}
          {entry.reverses ? <Link to={href(`/books/entries/${entry.reverses}`)}>reverses {entry.reverses}</Link> : null}
          {entry.reversedBy ? (
            <PageLink color="ochre" to={href(`/books/entries/${entry.reversedBy}`)}>
              reversed by {entry.reversedBy}
            </PageLink>
          ) : null}
          <span>
            posted by {data.by}, {momentText(entry.postedAt, timeZone)}
          </span>
        </>
      }
      actions={
        <AboutButton
          of={{
            subject: 'entry',
            key: entry.number,
            title: `entry ${entry.number}`,
            link: `/books/entries/${entry.number}`,
          }}
        />
      }
    >
      <SheetTable
        label="Lines of the entry"
        columns={columnsOf(data)}
        rows={data.lines.map((line, at) => ({ ...line, at }))}
        rowKey={line => String(line.at)}
        to={line => href(`/books/register/${line.account}`)}
        {...(data.settlement ? { traceOf: (line: Line) => startOf(data, line) } : {})}
        totals={{
          name: 'Balances',
          debit: <Amount minor={side(1)} currency={data.currency} trace={whole} />,
          credit: <Amount minor={side(-1)} currency={data.currency} trace={whole} />,
        }}
      />
    </Page>
  )
}
