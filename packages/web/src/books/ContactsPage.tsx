import { Box, Button, Span, Table } from '@chakra-ui/react'
import { type ContactList, type ContactPage, type ContactRow, listEndpoints } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { call } from '../context/request.ts'
import { contactsQuery } from '../context/sharedQueries.ts'
import { useMay } from '../context/useMay.ts'
import { ListButton } from '../files/ListButton.tsx'
import { Act } from '../ui/Act.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { BookLinks } from './BookLinks.tsx'
import { ContactDialog } from './ContactDialog.tsx'
import { useContactActs } from './contactQueries.ts'
import { contactSortText } from './contactText.ts'

type Row = ContactPage['contacts'][number]

/** Whom the client sells to and buys from. */
export const ContactsPage = () => {
  const { clientId } = useClient()
  const may = useMay()
  const query = useQuery(contactsQuery(clientId))
  const [open, setOpen] = useState<ContactRow | 'new' | null>(null)
  const columns: readonly SheetColumn<Row>[] = [
    {
      id: 'code',
      head: 'Number',
      width: '130px',
      cell: row => <Span textStyle="mono">{row.code}</Span>,
      value: row => row.code,
    },
    {
      id: 'name',
      head: 'Name',
      cell: row =>
        may('map') ? (
          <Button variant="plain" h="24px" px="0" onClick={() => setOpen(row)}>
            {row.name}
          </Button>
        ) : (
          row.name
        ),
      value: row => row.name,
    },
    { id: 'sort', head: 'Is a', width: '170px', cell: row => contactSortText[row.sort], value: row => row.sort },
    { id: 'country', head: 'Country', width: '90px', cell: row => row.country ?? '', value: row => row.country ?? '' },
    {
      id: 'tax',
      head: 'Tax number',
      width: '150px',
      cell: row => <Span textStyle="mono">{row.taxNumber ?? ''}</Span>,
      value: row => row.taxNumber ?? '',
    },
    { id: 'email', head: 'E-mail', width: '220px', cell: row => row.email ?? '', value: row => row.email ?? '' },
    {
      id: 'open',
      head: 'Open',
      right: true,
      width: '140px',
      cell: row =>
        row.open.map(({ currency, amount }) => (
          <Box key={currency}>
            <Amount minor={amount} currency={currency} /> {currency}
          </Box>
        )),
      value: row => row.open[0]?.amount ?? 0,
    },
  ]
  return (
    <Page
      of={query}
      links={<BookLinks here="contacts" />}
      title="Contacts"
      facts={<span>{countText(query.data?.contacts.length ?? 0, 'contact')}</span>}
      actions={
        <>
          <Act right="map" onClick={() => setOpen('new')}>
            Add a contact
          </Act>
          <ContactListButton />
        </>
      }
    >
      {open === null ? null : <ContactDialog contact={open === 'new' ? null : open} onClose={() => setOpen(null)} />}
      <SheetTable
        label="Contacts"
        columns={columns}
        rows={query.data?.contacts ?? []}
        rowKey={row => row.code}
        empty="Nobody yet. Bring in the list of the former books: CSV or XLSX, with a name a row, and a number where they have one."
      />
    </Page>
  )
}

/** Contacts that are saved with one request. */
const atOnce = 5000

const ContactListButton = () => {
  const { clientId } = useClient()
  const notice = useNotice()
  const { save } = useContactActs(clientId)
  const take = async (moved: ContactList['contacts'], close: () => void): Promise<void> => {
    try {
      for (let from = 0; from < moved.length; from += atOnce)
        await save.mutateAsync(moved.slice(from, from + atOnce).map(({ row: _, state: __, ...contact }) => contact))
      notice.say(`${countText(moved.length, 'contact')} taken.`)
      close()
    } catch (error) {
      notice.refuse(error)
    }
  }
  return (
    <ListButton<ContactList>
      label="Bring in a list"
      ledger="contacts"
      read={(file, query) => call(listEndpoints.readContacts, { client: clientId, file, query })}
      shown={(list, close) => {
        const moved = list.contacts.filter(one => one.state !== 'same')
        const added = moved.filter(one => one.state === 'new').length
        return {
          title:
            moved.length === 0
              ? 'The list changes nothing'
              : `The list has ${added} new and ${moved.length - added} changed`,
          act: moved.length > 0 ? `Take ${countText(moved.length, 'contact')}` : null,
          busy: save.isPending,
          onTake: () => void take(moved, close),
          note: (
            <Span color="muted" textStyle="small">
              {list.vanished.length > 0
                ? `${countText(list.vanished.length, 'contact not in the list stays', 'contacts not in the list stay')}: ${list.vanished
                    .slice(0, 3)
                    .map(one => one.name)
                    .join(', ')}${list.vanished.length > 3 ? ' …' : '.'}`
                : ''}
            </Span>
          ),
          body: (
            <Table.Root aria-label="Contacts of the list">
              <Table.Header>
                <Table.Row>
                  <Table.ColumnHeader>Number</Table.ColumnHeader>
                  <Table.ColumnHeader>Name</Table.ColumnHeader>
                  <Table.ColumnHeader>Is a</Table.ColumnHeader>
                  <Table.ColumnHeader>State</Table.ColumnHeader>
                </Table.Row>
              </Table.Header>
              <Table.Body>
                {moved.slice(0, 300).map(one => (
                  <Table.Row key={one.row}>
                    <Table.Cell textStyle="mono">{one.code}</Table.Cell>
                    <Table.Cell>{one.name}</Table.Cell>
                    <Table.Cell>{contactSortText[one.sort]}</Table.Cell>
                    <Table.Cell color="muted">{one.state}</Table.Cell>
                  </Table.Row>
                ))}
              </Table.Body>
            </Table.Root>
          ),
        }
      }}
    />
  )
}
