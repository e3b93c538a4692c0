import { Span, Table } from '@chakra-ui/react'
import { type ContactRow, listEndpoints, type OpenItemList, type OpenItemRow } from '@culvert/contract'
import type { ReactNode } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { ListButton } from '../files/ListButton.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { useContactActs } from './contactQueries.ts'
import { itemSortText } from './contactText.ts'

/** What taking a list saves: what is new or changed, the contacts that are made for it, and what is no longer open. */
export const savedOf = (list: OpenItemList) => {
  const fit = list.items.filter(item => item.state !== 'same' && item.unfit === null)
  const made = new Map<string, ContactRow>()
  for (const item of fit) {
    if (!item.makes) continue
    const sort = item.sort === 'invoice' ? 'customer' : 'supplier'
    const before = made.get(item.contact)
    made.set(item.contact, {
      ...{ code: item.contact.slice(0, 100), name: item.contact, email: null, taxNumber: null, country: null },
      sort: before && before.sort !== sort ? 'both' : sort,
    })
  }
  const items: OpenItemRow[] = fit.map(({ row: _, state: __, makes: ___, unfit: ____, ...item }) => ({
    ...item,
    contact: item.contact.slice(0, 100),
  }))
  const gone = list.vanished.map(({ sort, contact, number }) => ({ sort, contact, number }))
  return { items, gone, contacts: [...made.values()] }
}

/** Brings in a list of unpaid invoices, or of bills: what is new, changed and no longer open is seen before it is taken. */
export const OpenItemListButton = ({ sort }: { readonly sort: OpenItemRow['sort'] }) => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { saveItems } = useContactActs(clientId)
  return (
    <ListButton<OpenItemList>
      label={`Bring in ${itemSortText[sort]}s`}
      ledger={sort === 'invoice' ? 'invoices' : 'bills'}
      ledgerWhat={sort === 'invoice' ? 'Invoices' : 'Bills'}
      read={(file, query) => call(listEndpoints.readOpenItems, { client: clientId, file, query: { ...query, sort } })}
      shown={(list, close) => {
        const save = savedOf(list)
        const moved = list.items.filter(item => item.state !== 'same')
        const said = [
          countText(save.items.length, 'item'),
          save.contacts.length > 0 ? `with ${countText(save.contacts.length, 'new contact')}` : '',
          save.gone.length > 0 ? `take out ${save.gone.length} no longer open` : '',
        ].filter(Boolean)
        const any = save.items.length + save.gone.length > 0
        return {
          title: any ? `The list has ${moved.length} new or changed` : 'The list changes nothing',
          act: any ? `Take ${said.join(', ')}` : null,
          busy: saveItems.isPending,
          onTake: () =>
            saveItems.mutate(save, {
              onError: notice.refuse,
              onSuccess: () => {
                notice.say(`${countText(save.items.length, 'open item')} taken, ${save.gone.length} taken out.`)
                close()
              },
            }),
          note:
            moved.length > save.items.length ? (
              <Span color="ochre" textStyle="small">
                ◆ {countText(moved.length - save.items.length, 'item')} not taken
              </Span>
            ) : null,
          body: <Rows items={moved} gone={list.vanished} />,
        }
      }}
    />
  )
}

const mostShown = 300

const Rows = ({ items, gone }: { readonly items: OpenItemList['items']; readonly gone: OpenItemList['vanished'] }) => (
  <Table.Root aria-label="Items of the list">
    <Table.Header>
      <Table.Row>
        <Table.ColumnHeader>Number</Table.ColumnHeader>
        <Table.ColumnHeader>Contact</Table.ColumnHeader>
        <Table.ColumnHeader>Date</Table.ColumnHeader>
        <Table.ColumnHeader textAlign="right">Open</Table.ColumnHeader>
        <Table.ColumnHeader>State</Table.ColumnHeader>
      </Table.Row>
    </Table.Header>
    <Table.Body>
      {items.slice(0, mostShown).map(item => (
        <Row key={item.row} item={item}>
          {item.unfit ? (
            <Span color="ochre">◆ two contacts are called so</Span>
          ) : (
            `${item.state}${item.makes ? ', its contact is made' : ''}`
          )}
        </Row>
      ))}
      {gone.slice(0, mostShown).map(item => (
        <Row key={`gone ${item.sort} ${item.contact} ${item.number}`} item={item}>
          not in the list: no longer open
        </Row>
      ))}
    </Table.Body>
  </Table.Root>
)

const Row = ({ item, children }: { readonly item: OpenItemRow; readonly children: ReactNode }) => (
  <Table.Row>
    <Table.Cell textStyle="mono">{item.number}</Table.Cell>
    <Table.Cell>{item.contact}</Table.Cell>
    <Table.Cell>{dateText(item.date)}</Table.Cell>
    <Table.Cell textAlign="right">
      <Amount minor={item.open} currency={item.currency} /> {item.currency}
    </Table.Cell>
    <Table.Cell color="muted">{children}</Table.Cell>
  </Table.Row>
)
