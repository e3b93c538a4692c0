import { Box, Button } from '@chakra-ui/react'
import type { ProofPage } from '@culvert/contract'
import { daysBetween, openOrderLimit } from '@culvert/core'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { startOfRef } from '../context/startOfLink.ts'
import { useTrace } from '../context/TraceContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { useNotice } from '../ui/Notice.tsx'
import { SetAsideDialog } from '../ui/SetAsideDialog.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { useProofAnswer } from './clearingQueries.ts'

type OpenOrder = ProofPage['openOrders']['orders'][number]

/** What a channel reports of its account, order by order: sales not tendered for, tenders without a sale. */
export const OpenOrders = ({ page }: { readonly page: ProofPage }) => {
  const { open } = useTrace()
  const { orders, total } = page.openOrders
  const startOf = (row: OpenOrder) => startOfRef(row.ref, page.currency)
  const { clientId } = useClient()
  const notice = useNotice()
  const answer = useProofAnswer(clientId)
  const [asked, setAsked] = useState<OpenOrder | null>(null)
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
    {
      id: 'stays',
      head: '',
      width: '120px',
      cell: row =>
        row.ref.of === 'order' && daysBetween(row.date, page.date) > openOrderLimit ? (
          <Button variant="plain" disabled={answer.isPending} onClick={() => setAsked(row)}>
            May stay open
          </Button>
        ) : null,
    },
  ]
  if (total === 0) return null
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
      <SetAsideDialog
        open={asked !== null}
        what=""
        hint=""
        words={{
          title: `Order ${asked?.name ?? ''} may stay open`,
          act: 'May stay open',
          label: 'Why it is neither paid nor given back',
        }}
        onClose={() => setAsked(null)}
        onDone={reason => {
          if (asked?.ref.of !== 'order') return
          const { source, order } = asked.ref
          answer.mutate(
            { source, about: 'order', name: order, reason },
            { onSuccess: () => setAsked(null), onError: notice.refuse },
          )
        }}
      />
    </Box>
  )
}
