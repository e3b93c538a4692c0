import { Span } from '@chakra-ui/react'
import type { EntryRow } from '@culvert/contract'
import { useClient, useHref, usePeriod } from '../context/ClientContext.tsx'
import { usePages } from '../context/usePages.ts'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText, momentText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import { entryOrder, type SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { BookLinks } from './BookLinks.tsx'
import { entriesList } from './bookQueries.ts'

const numberOf = (row: EntryRow): string => row.number

/** All entries, the latest first. */
export const EntriesPage = () => {
  const { clientId, timeZone } = useClient()
  const { from, to } = usePeriod()
  const href = useHref()
  const list = usePages({ ...entriesList(clientId, { from, to }), rowKey: numberOf })
  const { data } = list.first
  const columns: readonly SheetColumn<EntryRow>[] = [
    {
      id: 'number',
      head: 'Entry',
      width: '110px',
      cell: row => <Span textStyle="mono">{row.number}</Span>,
      value: row => row.number,
      order: row => entryOrder(row.number),
    },
    { id: 'date', head: 'Date', width: '110px', cell: row => dateText(row.date), value: row => row.date },
    {
      id: 'document',
      head: 'Document',
      width: '110px',
      cell: row => row.document.replace('_', ' '),
      value: row => row.document.replace('_', ' '),
    },
    { id: 'memo', head: 'Of', cell: row => row.memo, value: row => row.memo },
    {
      id: 'reverses',
      head: 'Reverses',
      width: '100px',
      cell: row => <Span textStyle="mono">{row.reverses}</Span>,
      value: row => row.reverses,
      order: row => entryOrder(row.reverses),
    },
    {
      id: 'reversedBy',
      head: 'Reversed by',
      width: '110px',
      cell: row => <Span textStyle="mono">{row.reversedBy}</Span>,
      value: row => row.reversedBy,
      order: row => entryOrder(row.reversedBy),
    },
    {
      id: 'total',
      head: 'Sum of a side',
      right: true,
      width: '120px',
      money: row => ({ minor: row.total, currency: row.currency }),
      cell: row => (
        <Amount
          minor={row.total}
          currency={row.currency}
          trace={row.source ? { at: 'entry_line', entry: row.number, line: 1 } : null}
        />
      ),
    },
    {
      id: 'posted',
      head: 'Posted',
      width: '170px',
      cell: row => momentText(row.postedAt, timeZone),
      value: row => row.postedAt,
    },
  ]
  return (
    <Page
      of={list.first}
      links={<BookLinks here="entries" />}
      title="Entries"
      facts={
        data ? (
          <span>
            {countText(list.rows.length, 'entry', 'entries')}
            {list.more ? ' so far' : ''}
          </span>
        ) : null
      }
    >
      <SheetTable
        label="Entries"
        aboutOf={row => ({
          subject: 'entry',
          key: row.number,
          title: `entry ${row.number}`,
          link: `/books/entries/${row.number}`,
        })}
        columns={columns}
        rows={list.rows}
        more={list.more}
        arranged={list.arranged}
        onMore={list.loadMore}
        rowKey={numberOf}
        to={row => href(`/books/entries/${row.number}`)}
        traceOf={row => (row.source ? { at: 'entry_line', entry: row.number, line: 1 } : null)}
        empty="Entries appear here when settlements are posted."
      />
    </Page>
  )
}
