import { Box, Button, Flex, Span } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useClient } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText } from '../ui/formats.ts'
import { lineColumns } from '../ui/lineColumns.tsx'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import { taxLinesQuery } from './mappingQueries.ts'
import type { TaxLinesOf } from './taxPlaceText.ts'

/** The lines behind one row of the tax check; of a line that is taxed in parts, the part. */
export const TaxLines = ({
  month,
  of,
  onClose,
}: {
  readonly month: string
  readonly of: TaxLinesOf
  readonly onClose: () => void
}) => {
  const { clientId, timeZone } = useClient()
  const { data } = useQuery(taxLinesQuery(clientId, month, of))
  return (
    <Box mb="18px">
      <Flex gap="14px" align="center" mb="8px" minH="34px">
        <Button onClick={onClose}>Back to the check</Button>
        <Span fontWeight="600">{of.title}</Span>
        {data ? (
          <>
            <Span color="muted">
              {countText(data.total, 'line')}
              {data.total > data.lines.length ? `, the first ${data.lines.length} shown` : ''}
              {of.code
                ? ' of settlements, tax within; what bank lines and decisions booked stands in the registers'
                : ''}
            </Span>
            <Amount minor={data.sum} currency={of.currency} fontWeight="600" />
          </>
        ) : null}
      </Flex>
      <SheetTable
        label={`Lines of ${of.title}`}
        columns={lineColumns(of.currency, timeZone)}
        rows={data?.lines ?? []}
        rowKey={line => `${line.source} ${line.lineId}`}
        traceOf={line => ({ at: 'line', source: line.source, lineId: line.lineId })}
      />
    </Box>
  )
}
