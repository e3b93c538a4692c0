import { Box, Flex, Span } from '@chakra-ui/react'
import type { OpenItemPage } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { BookLinks } from './BookLinks.tsx'
import { openItemsQuery } from './contactQueries.ts'
import { itemSortText } from './contactText.ts'
import { OpenItemListButton } from './OpenItemListButton.tsx'

type Row = OpenItemPage['items'][number]
type Held = OpenItemPage['held'][number]

const columns: readonly SheetColumn<Row>[] = [
  { id: 'sort', head: 'Sort', width: '90px', cell: row => itemSortText[row.sort], value: row => row.sort },
  {
    id: 'number',
    head: 'Number',
    width: '150px',
    cell: row => <Span textStyle="mono">{row.number}</Span>,
    value: row => row.number,
  },
  { id: 'contact', head: 'Contact', cell: row => row.name, value: row => row.name },
  { id: 'date', head: 'Date', width: '120px', cell: row => dateText(row.date), value: row => row.date },
  {
    id: 'due',
    head: 'Due',
    width: '120px',
    cell: row => (row.due ? dateText(row.due) : ''),
    value: row => row.due ?? '',
  },
  { id: 'currency', head: 'Cur', width: '60px', cell: row => row.currency, value: row => row.currency },
  {
    id: 'amount',
    head: 'Amount',
    right: true,
    width: '130px',
    cell: row => <Amount minor={row.amount} currency={row.currency} />,
    value: row => row.amount,
  },
  {
    id: 'open',
    head: 'Open',
    right: true,
    width: '130px',
    cell: row => <Amount minor={row.open} currency={row.currency} />,
    value: row => row.open,
  },
]

/** Invoices and bills of the former books that are not paid, held against what the opening balances have for them. */
export const OpenItemsPage = () => {
  const { clientId } = useClient()
  const query = useQuery(openItemsQuery(clientId))
  const items = query.data?.items ?? []
  return (
    <Page
      of={query}
      links={<BookLinks here="open-items" />}
      title="Open invoices and bills"
      facts={<span>{countText(items.length, 'item')} open as the books began</span>}
      actions={
        <>
          <OpenItemListButton sort="invoice" />
          <OpenItemListButton sort="bill" />
        </>
      }
    >
      {query.data?.held.map(held => (
        <HeldRow key={held.sort} held={held} />
      ))}
      <SheetTable
        label="Open invoices and bills"
        columns={columns}
        rows={items}
        rowKey={row => `${row.sort} ${row.contact} ${row.number}`}
        empty="Nothing open. Bring in the former books' list of unpaid invoices, or of unpaid bills: number, contact, date, amount."
      />
    </Page>
  )
}

// What is open one by one has to be what the books opened with in one sum.
const HeldRow = ({ held }: { readonly held: Held }) => {
  const { base } = useClient()
  const href = useHref()
  const difference = held.open - held.opened
  if (held.open === 0 && held.opened === 0) return null
  return (
    <Flex
      gap="10px"
      mb="8px"
      px="12px"
      minH="34px"
      align="center"
      wrap="wrap"
      borderWidth="1px"
      borderColor={difference === 0 ? 'hairline' : 'ochre'}
      bg={difference === 0 ? 'sheet' : 'ochre.wash'}
    >
      <Span>
        Open {itemSortText[held.sort]}s <Amount minor={held.open} currency={base} /> {base}
      </Span>
      <Span color="muted">·</Span>
      <Span>
        opening balance of{' '}
        {held.accounts.join(', ') || `no ${held.sort === 'invoice' ? 'receivable' : 'payable'} account`}{' '}
        <Amount minor={held.opened} currency={base} /> {base}
      </Span>
      <Span color="muted">·</Span>
      {difference === 0 ? (
        <Span>▣ they agree</Span>
      ) : (
        <Box>
          <Span color="ochre" fontWeight="600">
            ◆ <Amount minor={difference} currency={base} /> {base} apart
          </Span>{' '}
          <Link to={href('/books/opening')}>Opening balances</Link>
        </Box>
      )}
      {held.others > 0 ? (
        <Span color="muted">{countText(held.others, 'item')} in other currencies not counted</Span>
      ) : null}
    </Flex>
  )
}
