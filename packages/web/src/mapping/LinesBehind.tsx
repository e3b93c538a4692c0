import { Box, Button, Flex, Span } from '@chakra-ui/react'
import type { ActivityList } from '@culvert/contract'
import { useClient } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText } from '../ui/formats.ts'
import { type Asked, Instead } from '../ui/Instead.tsx'
import { lineColumns } from '../ui/lineColumns.tsx'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'

interface LinesBehindProps {
  readonly of: Asked & { readonly data: ActivityList | undefined }
  readonly title: string
  /** Of the sum; lines in another say theirs. */
  readonly currency: string
  /** What more is said of them. */
  readonly note?: string
  /** Where one came from. */
  readonly back: string
  readonly onClose: () => void
}

/** The lines that a sum is made of, in the place of the table that it stands in. */
export const LinesBehind = ({ of, title, currency, note = '', back, onClose }: LinesBehindProps) => {
  const { timeZone, locale } = useClient()
  const { data } = of
  const mixed = data?.lines.some(line => line.currency !== currency) ?? false
  return (
    <Box mb="18px">
      <Flex gap="14px" align="center" mb="8px" minH="34px">
        <Button onClick={onClose}>{back}</Button>
        <Span fontWeight="600">{title}</Span>
        {data ? (
          <>
            <Span color="muted">
              {countText(data.total, 'line')}
              {data.total > data.lines.length ? `, the first ${data.lines.length.toLocaleString(locale)} shown` : ''}
              {note}
            </Span>
            <Amount minor={data.sum} currency={currency} signed={mixed} fontWeight="600" />
          </>
        ) : null}
      </Flex>
      {data ? (
        <SheetTable
          scope="behind-"
          label={`Lines of ${title}`}
          columns={lineColumns(mixed ? null : currency, timeZone)}
          rows={data.lines}
          rowKey={line => `${line.source} ${line.lineId}`}
          traceOf={line => ({ at: 'line', source: line.source, lineId: line.lineId })}
        />
      ) : (
        <Instead of={of} />
      )}
    </Box>
  )
}
