import { Button, Span } from '@chakra-ui/react'
import type { ItemRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { itemsQuery } from '../context/sharedQueries.ts'
import { Act } from '../ui/Act.tsx'
import { amountText, dateText } from '../ui/formats.ts'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { ItemDialog } from './ItemDialog.tsx'
import { ItemListButton } from './ItemListButton.tsx'
import { MappingLinks } from './MappingLinks.tsx'
import { ProductsTable } from './ProductsTable.tsx'

const blank: ItemRow = { code: '', name: '', otherNames: [], account: '', taxCode: null, costs: [] }

/** What is sold: by SKU, with the account and tax code that a route to it brings, and what one of it costs. */
export const ItemsPage = () => {
  const { clientId, base, locale } = useClient()
  const query = useQuery(itemsQuery(clientId))
  const { data } = query
  const [draft, setDraft] = useState<ItemRow | null>(null)
  const nameOf = (code: string) => data?.accounts.find(account => account.code === code)?.name ?? ''
  const costOf = (item: ItemRow) => item.costs.at(-1)
  const columns: readonly SheetColumn<ItemRow>[] = [
    {
      id: 'code',
      head: 'SKU',
      width: '140px',
      cell: item => (
        <Button variant="ghost" textStyle="mono" onClick={() => setDraft(item)}>
          {item.code}
        </Button>
      ),
      value: item => item.code,
    },
    { id: 'name', head: 'Name', cell: item => item.name, value: item => item.name },
    {
      id: 'others',
      head: 'Other names',
      cell: item => <Span color="muted">{item.otherNames.join(', ')}</Span>,
      value: item => item.otherNames.join(', '),
    },
    {
      id: 'account',
      head: 'Account',
      width: '230px',
      cell: item => (
        <>
          <Span textStyle="mono">{item.account}</Span> {nameOf(item.account)}
        </>
      ),
      value: item => `${item.account} ${nameOf(item.account)}`,
    },
    {
      id: 'tax',
      head: 'Tax',
      width: '84px',
      cell: item => <Span textStyle="mono">{item.taxCode ?? '–'}</Span>,
      value: item => item.taxCode,
    },
    {
      id: 'cost',
      head: 'Cost of one',
      right: true,
      width: '110px',
      cell: item => {
        const cost = costOf(item)
        return cost ? amountText(cost.cost, base, locale) : ''
      },
      money: item => ({ minor: costOf(item)?.cost ?? null, currency: base }),
    },
    {
      id: 'from',
      head: 'From',
      width: '120px',
      cell: item => dateText(costOf(item)?.from ?? null),
      value: item => costOf(item)?.from ?? null,
    },
  ]
  return (
    <Page
      of={query}
      links={<MappingLinks here="items" />}
      title="Items"
      facts={<span>found by SKU, then by another name, then by its own name folded; two hits ask</span>}
      actions={
        <>
          {data ? <ItemListButton items={data.items} version={data.version} /> : null}
          <Act right="map" disabled={!data} onClick={() => setDraft(blank)}>
            Add an item
          </Act>
        </>
      }
    >
      <SheetTable
        label="Items"
        aboutOf={row => ({ subject: 'item', key: row.code, title: `item ${row.code}`, link: '/mapping/items' })}
        columns={columns}
        rows={data?.items ?? []}
        rowKey={item => item.code}
        onOpen={setDraft}
        empty="No items. They are needed only where a route is to bring its account by what was sold, or where the cost of goods is booked."
      />
      {data ? <ProductsTable items={data.items} version={data.version} /> : null}
      {draft && data ? (
        <ItemDialog
          draft={draft}
          accounts={data.accounts}
          taxCodes={data.taxCodes}
          version={data.version}
          onClose={() => setDraft(null)}
        />
      ) : null}
    </Page>
  )
}
