import { Span } from '@chakra-ui/react'
import type { ActivityRow } from '@culvert/contract'
import { Amount } from './Amount.tsx'
import { momentText, zoneText } from './formats.ts'
import type { SheetColumn } from './sheet/column.ts'

/** The columns of a list of activity lines in one currency, or (null) each in its own; times in the client's zone. */
export const lineColumns = (currency: string | null, timeZone: string): readonly SheetColumn<ActivityRow>[] => [
  {
    id: 'line',
    head: 'Line',
    width: '110px',
    cell: line => <Span textStyle="mono">{line.lineId}</Span>,
    value: line => line.lineId,
  },
  {
    id: 'at',
    head: `When, ${zoneText(timeZone)}`,
    width: '170px',
    cell: line => momentText(line.occurredAt, timeZone),
    value: line => line.occurredAt,
  },
  {
    id: 'order',
    head: 'Order',
    width: '90px',
    cell: line => <Span textStyle="mono">{line.orderId}</Span>,
    value: line => line.orderId,
  },
  { id: 'what', head: 'What', cell: line => line.description ?? '', value: line => line.description },
  {
    id: 'sku',
    head: 'SKU',
    width: '100px',
    cell: line => <Span textStyle="mono">{line.sku}</Span>,
    value: line => line.sku,
  },
  { id: 'region', head: 'Region', width: '80px', cell: line => line.region, value: line => line.region },
  {
    id: 'amount',
    head: currency ?? 'Amount',
    right: true,
    width: '110px',
    money: line => ({ minor: line.amount, currency: line.currency }),
    cell: line => (
      <Amount
        minor={line.amount}
        currency={line.currency}
        signed={currency === null}
        trace={{ at: 'line', source: line.source, lineId: line.lineId }}
      />
    ),
  },
]
