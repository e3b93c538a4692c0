import { Box, Flex, Input, Span } from '@chakra-ui/react'
import type { CustomerRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { useClient, useHref } from '../context/ClientContext.tsx'
import { Act, Whose } from '../ui/Act.tsx'
import { AskDialog } from '../ui/AskDialog.tsx'
import { FootBar } from '../ui/FootBar.tsx'
import { countText, dateText, rangeText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { Page } from '../ui/Page.tsx'
import { saveText } from '../ui/saveText.ts'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { customersQuery, useCustomerActs } from './sourceQueries.ts'

const columns: readonly SheetColumn<CustomerRow>[] = [
  {
    id: 'customer',
    head: 'Customer',
    width: '190px',
    value: one => one.customer,
    cell: one => one.customer ?? <Span color="muted">not kept</Span>,
  },
  { id: 'email', head: 'E-mail', width: '230px', value: one => one.email, cell: one => one.email },
  { id: 'shipTo', head: 'Sent to', wraps: true, value: one => one.shipTo, cell: one => one.shipTo },
  { id: 'source', head: 'Source', width: '120px', value: one => one.source, cell: one => one.source },
  { id: 'lines', head: 'Lines', width: '70px', right: true, value: one => one.lines, cell: one => one.lines },
  {
    id: 'when',
    head: 'When',
    width: '190px',
    value: one => one.first,
    cell: one =>
      one.first === null || one.last === null
        ? ''
        : one.first === one.last
          ? dateText(one.first)
          : rangeText(one.first, one.last),
  },
]

/** What is kept of customers: found by name or e-mail, handed to them as a file, erased when they ask. */
export const CustomersPage = () => {
  const { clientId } = useClient()
  const href = useHref()
  const notice = useNotice()
  const [text, setText] = useState('')
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set())
  const [asking, setAsking] = useState(false)
  const query = useQuery(customersQuery(clientId, text))
  const acts = useCustomerActs(clientId)
  const rows = query.data?.customers ?? []
  const ids = rows.filter(one => chosen.has(one.personId)).map(one => one.personId)
  return (
    <Page
      links={
        <>
          <Link to={href('/sources')}>Sources</Link>
          <Link to={href('/sources/customers')} aria-current="page">
            Customers
          </Link>
        </>
      }
      title="Customers"
      facts={<span>what is kept of them beside the books</span>}
    >
      <Flex gap="10px" align="center" mb="10px">
        <Input
          w="320px"
          aria-label="Name or e-mail of a customer"
          placeholder="Name or e-mail, as it begins"
          value={text}
          onChange={event => {
            setText(event.target.value)
            setChosen(new Set())
          }}
        />
        <Span color="muted">{query.data?.more ? 'More than are shown: say more of the name.' : ''}</Span>
      </Flex>
      {query.error ? (
        <Box role="alert" color="crimson" mb="8px">
          ▲ {query.error.message}
        </Box>
      ) : null}
      <SheetTable
        label="Customers"
        columns={columns}
        rows={rows}
        rowKey={one => one.personId}
        selected={chosen}
        onSelect={setChosen}
        filterable={false}
        empty={
          text.trim().length < 2
            ? 'Write how a name or an e-mail begins.'
            : 'Nobody of whom anything is kept begins so.'
        }
      />
      <FootBar>
        <Act
          right="connect"
          disabled={ids.length === 0 || acts.take.isPending}
          onClick={() => acts.take.mutate(ids, { onError: notice.refuse, onSuccess: saveText })}
        >
          Save as a file
        </Act>
        <Act right="erase" disabled={ids.length === 0 || acts.erase.isPending} onClick={() => setAsking(true)}>
          Erase
        </Act>
        <Whose right="erase" />
        <Box color="muted" flex="1">
          {ids.length === 0
            ? 'Choose rows of one person: each order may have told of them anew.'
            : countText(ids.length, 'row')}
        </Box>
      </FootBar>
      <AskDialog
        open={asking}
        title={`Erase what ${countText(ids.length, 'row tells', 'rows tell')} of customers?`}
        act="Erase"
        onClose={() => setAsking(false)}
        onAct={() =>
          acts.erase.mutate(ids, {
            onError: notice.refuse,
            onSuccess: ({ erased }) => {
              setChosen(new Set())
              notice.say(`Erased of ${countText(erased, 'row')}. No pull and no file brings it back.`)
            },
          })
        }
      >
        Name, e-mail, address and free text go for good, and no pull brings them back. The lines, the entries and every
        proof stay as they are. It cannot be taken back.
      </AskDialog>
    </Page>
  )
}
