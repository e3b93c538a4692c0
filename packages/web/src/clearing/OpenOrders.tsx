import { Box, Button } from '@chakra-ui/react'
import type { ProofPage } from '@culvert/contract'
import { startOfRef } from '../context/startOfLink.ts'
import { useTrace } from '../context/TraceContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'

type OpenOrder = ProofPage['openOrders']['orders'][number]

/** What a channel reports of its account, order by order: sales not tendered for, tenders without a sale. */
export const OpenOrders = ({ page }: { readonly page: ProofPage }) => {
  const { open } = useTrace()
  const { orders, total } = page.openOrders
  if (total === 0) return null
  const startOf = (row: OpenOrder) => startOfRef(row.ref, page.currency)
  const columns: readonly SheetColumn<OpenOrder>[] = [
    {
      id: 'order',
      head: 'Orders left open',
      cell: row => (
        <Button
          variant="ghost"
          onClick={() => {
            const start = startOf(row)
            if (start) open(start)
          }}
        >
          {row.name}
        </Button>
      ),
      value: row => row.name,
    },
    { id: 'since', head: 'Since', width: '110px', cell: row => dateText(row.date), value: row => row.date },
    {
      id: 'amount',
      head: page.currency,
      right: true,
      width: '120px',
      cell: row => <Amount minor={row.amount} currency={page.currency} trace={startOf(row)} />,
      money: row => ({ minor: row.amount, currency: page.currency }),
    },
  ]
  return (
    <Box mt="16px">
      <SheetTable
        scope="order-"
        label="Orders left open"
        columns={columns}
        rows={orders}
        rowKey={row => JSON.stringify(row.ref)}
      />
      {total > orders.length ? (
        <Box color="muted" textStyle="small" mt="6px">
          and {countText(total - orders.length, 'smaller one')}
        </Box>
      ) : null}
    </Box>
  )
}
