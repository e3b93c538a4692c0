import { Box, Flex } from '@chakra-ui/react'
import type { ActivityRow, SettlementPage, StatementRow } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../course/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { Button } from '../ui/Button.tsx'
import { countText, momentText } from '../ui/formats.ts'
import { type SheetColumn, SheetTable } from '../ui/SheetTable.tsx'
import { kindText } from '../ui/words.ts'
import { activityQuery } from './settlementQueries.ts'

/** The activity lines behind one figure. */
export const LinesTable = ({
  settlement,
  row,
  onClose,
}: {
  readonly settlement: SettlementPage
  readonly row: StatementRow
  readonly onClose: () => void
}) => {
  const { clientId, timeZone } = useClient()
  const key = { source: settlement.source, key: settlement.key, currency: settlement.currency }
  const { data } = useQuery(activityQuery(clientId, key, { kind: row.kind, category: row.category }))
  const columns: readonly SheetColumn<ActivityRow>[] = [
    {
      id: 'line',
      head: 'Line',
      width: '110px',
      cell: line => <span className="mono">{line.lineId}</span>,
      value: line => line.lineId,
    },
    {
      id: 'at',
      head: 'When',
      width: '160px',
      cell: line => momentText(line.occurredAt, timeZone),
      value: line => line.occurredAt,
    },
    {
      id: 'order',
      head: 'Order',
      width: '90px',
      cell: line => <span className="mono">{line.orderId}</span>,
      value: line => line.orderId,
    },
    { id: 'what', head: 'What', cell: line => line.description ?? '', value: line => line.description },
    {
      id: 'sku',
      head: 'SKU',
      width: '100px',
      cell: line => <span className="mono">{line.sku}</span>,
      value: line => line.sku,
    },
    { id: 'region', head: 'Region', width: '80px', cell: line => line.region, value: line => line.region },
    {
      id: 'amount',
      head: settlement.currency,
      right: true,
      width: '110px',
      value: line => line.amount,
      cell: line => (
        <Amount
          minor={line.amount}
          currency={line.currency}
          trace={{ at: 'line', source: line.source, lineId: line.lineId }}
        />
      ),
    },
  ]
  return (
    <Box>
      <Flex gap="14px" align="center" mb="8px" minH="34px">
        <Button onClick={onClose}>Back to the settlement</Button>
        <span className="strong">{kindText(row.kind, row.category)}</span>
        <span className="muted">{countText(row.lines, 'line')}</span>
        <Amount minor={row.amount} currency={settlement.currency} className="strong" />
      </Flex>
      <SheetTable
        label={`Lines of ${kindText(row.kind, row.category)}`}
        columns={columns}
        rows={data?.lines ?? []}
        rowKey={line => line.lineId}
        traceOf={line => ({ at: 'line', source: line.source, lineId: line.lineId })}
      />
    </Box>
  )
}
