import { Table } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { Link, useParams } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { settlementPath } from '../context/settlementPath.ts'
import { Amount } from '../ui/Amount.tsx'
import { dateText, momentText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { PageLink } from '../ui/PageLink.tsx'
import { BookLinks } from './BookLinks.tsx'
import { entryQuery } from './bookQueries.ts'

/** One entry with its lines. */
export const EntryPage = () => {
  const { number = '' } = useParams()
  const { clientId, timeZone } = useClient()
  const href = useHref()
  const query = useQuery(entryQuery(clientId, number))
  const { data } = query
  if (!data) return <Page links={<BookLinks here="entries" />} title="Entry" of={query} />
  const { entry } = data
  const foreign = data.currency !== data.base
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
    >
      <Table.Root aria-label="Lines of the entry">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader style={{ width: 90 }}>Account</Table.ColumnHeader>
            <Table.ColumnHeader>Name</Table.ColumnHeader>
            <Table.ColumnHeader>Segments</Table.ColumnHeader>
            <Table.ColumnHeader style={{ width: 80 }}>Tax</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end" style={{ width: 130 }}>
              Debit
            </Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end" style={{ width: 130 }}>
              Credit
            </Table.ColumnHeader>
            {foreign ? (
              <Table.ColumnHeader textAlign="end" style={{ width: 120 }}>
                In {data.base}
              </Table.ColumnHeader>
            ) : null}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {data.lines.map((line, index) => {
            const trace = data.settlement ? ({ at: 'entry_line', entry: entry.number, line: index + 1 } as const) : null
            return (
              <Table.Row key={index}>
                <Table.Cell textStyle="mono">
                  <Link to={href(`/books/register/${line.account}`)}>{line.account}</Link>
                </Table.Cell>
                <Table.Cell>{line.accountName}</Table.Cell>
                <Table.Cell color="muted">{line.segments.replaceAll(';', ' · ')}</Table.Cell>
                <Table.Cell textStyle="mono">{line.taxCode}</Table.Cell>
                <Table.Cell textAlign="end">
                  {line.amount > 0 ? <Amount minor={line.amount} currency={data.currency} trace={trace} /> : null}
                </Table.Cell>
                <Table.Cell textAlign="end">
                  {line.amount < 0 ? <Amount minor={-line.amount} currency={data.currency} trace={trace} /> : null}
                </Table.Cell>
                {foreign ? (
                  <Table.Cell textAlign="end">
                    <Amount minor={line.baseAmount} currency={data.base} trace={trace} />
                  </Table.Cell>
                ) : null}
              </Table.Row>
            )
          })}
          <Table.Row data-tone="total" data-rule="">
            <Table.Cell />
            <Table.Cell colSpan={3}>Balances</Table.Cell>
            <Table.Cell textAlign="end">
              <Amount minor={side(1)} currency={data.currency} trace={whole} />
            </Table.Cell>
            <Table.Cell textAlign="end">
              <Amount minor={side(-1)} currency={data.currency} trace={whole} />
            </Table.Cell>
            {foreign ? <Table.Cell /> : null}
          </Table.Row>
        </Table.Body>
      </Table.Root>
    </Page>
  )
}
