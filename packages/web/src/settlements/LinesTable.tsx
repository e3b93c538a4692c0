import { Box, Button, Flex, Span } from '@chakra-ui/react'
import { type SettlementPage, type StatementRow, subjectKey } from '@culvert/contract'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { settlementPath } from '../context/settlementPath.ts'
import { Amount } from '../ui/Amount.tsx'
import { countText } from '../ui/formats.ts'
import { lineColumns } from '../ui/lineColumns.tsx'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
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
  return (
    <Box>
      <Flex gap="14px" align="center" mb="8px" minH="34px">
        <Button onClick={onClose}>Back to the settlement</Button>
        <Span fontWeight="600">{kindText(row.kind, row.category)}</Span>
        <Span color="muted">{countText(row.lines, 'line')}</Span>
        <Amount
          minor={row.amount}
          currency={settlement.currency}
          trace={{ at: 'statement', ...key, kind: row.kind, ...(row.category && { category: row.category }) }}
          fontWeight="600"
        />
      </Flex>
      <SheetTable
        label={`Lines of ${kindText(row.kind, row.category)}`}
        columns={lineColumns(settlement.currency, timeZone)}
        rows={data?.lines ?? []}
        rowKey={line => line.lineId}
        aboutOf={line => ({
          subject: 'line',
          key: subjectKey(line.source, line.lineId),
          title: `line ${line.lineId}`,
          link: settlementPath(settlement),
        })}
        traceOf={line => ({ at: 'line', source: line.source, lineId: line.lineId })}
      />
    </Box>
  )
}
