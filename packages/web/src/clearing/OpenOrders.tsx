import { Button, Table } from '@chakra-ui/react'
import type { ProofPage } from '@culvert/contract'
import { startOfRef } from '../context/startOfLink.ts'
import { useTrace } from '../context/TraceContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dayText } from '../ui/formats.ts'

/** What a channel reports of its account, order by order: sales not tendered for, tenders without a sale. */
export const OpenOrders = ({ page }: { readonly page: ProofPage }) => {
  const { open } = useTrace()
  const { orders, total } = page.openOrders
  if (total === 0) return null
  return (
    <Table.Root aria-label="Orders left open" style={{ marginTop: 16 }}>
      <Table.Header>
        <Table.Row>
          <Table.ColumnHeader>Orders left open</Table.ColumnHeader>
          <Table.ColumnHeader style={{ width: 90 }}>Since</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end" style={{ width: 120 }}>
            {page.currency}
          </Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {orders.map(({ name, amount, date, ref }) => {
          const start = startOfRef(ref, page.currency)
          return (
            <Table.Row key={JSON.stringify(ref)}>
              <Table.Cell>
                <Button variant="ghost" onClick={() => start && open(start)}>
                  {name}
                </Button>
              </Table.Cell>
              <Table.Cell color="muted">{dayText(date)}</Table.Cell>
              <Table.Cell textAlign="end">
                <Amount minor={amount} currency={page.currency} trace={start} />
              </Table.Cell>
            </Table.Row>
          )
        })}
        {total > orders.length ? (
          <Table.Row>
            <Table.Cell colSpan={3} color="muted">
              and {countText(total - orders.length, 'smaller one')}
            </Table.Cell>
          </Table.Row>
        ) : null}
      </Table.Body>
    </Table.Root>
  )
}
