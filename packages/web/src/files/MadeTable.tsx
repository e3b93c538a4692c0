import { Box, Flex, Span, Table } from '@chakra-ui/react'
import { Amount } from '../ui/Amount.tsx'
import { countText, dateText } from '../ui/formats.ts'
import { Select } from '../ui/Select.tsx'
import type { MadeRow, Preview } from './previewFile.ts'

/** What a row is that is set aside: it moves nothing, or it is a movement that is still to come in. */
export type Aside = 'nothing' | 'unread'

const shown = 12

/** What the first rows come to, what of the file cannot be read, and the sums. */
export const MadeTable = ({
  preview,
  onAside,
}: {
  readonly preview: Preview
  /** Sets a row aside that cannot be read; null: none can be. */
  readonly onAside: ((row: number, why: Aside) => void) | null
}) => (
  <Box bg="sheet" borderWidth="1px" borderColor="hairline" overflowX="auto">
    <Table.Root aria-label="What it makes">
      <Table.Header>
        <Table.Row>
          <Table.ColumnHeader w="52px">Row</Table.ColumnHeader>
          <Table.ColumnHeader w="104px">Day</Table.ColumnHeader>
          <Table.ColumnHeader>What</Table.ColumnHeader>
          <Table.ColumnHeader>Of</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="right">Amount</Table.ColumnHeader>
          <Table.ColumnHeader>State</Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {preview.faults.slice(0, 8).map(fault => (
          <Table.Row key={`${fault.row} ${fault.column} ${fault.value}`} bg="ochre.wash">
            <Table.Cell>{fault.row}</Table.Cell>
            <Table.Cell colSpan={5} whiteSpace="normal">
              <Flex justify="space-between" gap="12px" align="center">
                <span>
                  <Span color="crimson">▲ {fault.column ?? 'the row'}</Span>:{' '}
                  <Span textStyle="mono">{fault.value || 'empty'}</Span>, expected {fault.expected}
                </span>
                {onAside && fault.row > 1 ? (
                  <Select
                    aria-label={`Set row ${fault.row} aside`}
                    w="150px"
                    flexShrink={0}
                    value=""
                    onChange={event => event.target.value && onAside(fault.row, event.target.value as Aside)}
                  >
                    <option value="">set it aside …</option>
                    <option value="nothing">it moves nothing: a total, a heading</option>
                    <option value="unread">it is to be brought in later</option>
                  </Select>
                ) : null}
              </Flex>
            </Table.Cell>
          </Table.Row>
        ))}
        {preview.made.slice(0, shown).map(one => (
          <Made key={`${one.row} ${one.key}`} of={one} />
        ))}
      </Table.Body>
      <Table.Footer>
        <Table.Row>
          <Table.Cell colSpan={4}>
            {countText(preview.lines, 'line')}
            {preview.faultCount > 0 ? ` · ▲ ${countText(preview.faultCount, 'fault')}` : ''}
          </Table.Cell>
          <Table.Cell textAlign="right" colSpan={2}>
            {Object.entries(preview.sums).map(([currency, minor]) => (
              <Box key={currency}>
                <Amount minor={minor} currency={currency} /> {currency}
              </Box>
            ))}
          </Table.Cell>
        </Table.Row>
      </Table.Footer>
    </Table.Root>
  </Box>
)

const Made = ({ of: one }: { readonly of: MadeRow }) => (
  <Table.Row>
    <Table.Cell color="muted">{one.row}</Table.Cell>
    <Table.Cell>{one.day === '' ? '' : dateText(one.day)}</Table.Cell>
    <Table.Cell maxW="230px" truncate>
      {one.what}
    </Table.Cell>
    <Table.Cell maxW="190px" truncate color="muted">
      {one.of}
    </Table.Cell>
    <Table.Cell textAlign="right">
      {one.amount === null ? null : <Amount minor={one.amount} currency={one.currency} />} {one.currency}
    </Table.Cell>
    <Table.Cell color="muted">{one.state}</Table.Cell>
  </Table.Row>
)
