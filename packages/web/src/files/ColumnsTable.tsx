import { Box, Span, Table } from '@chakra-ui/react'
import type { SavedColumns } from '@culvert/contract'
import { columnMeanings } from '@culvert/core'
import { Select } from '../ui/Select.tsx'
import { type AnyMeaning, meaningText } from './meaningText.ts'

interface ColumnsTableProps {
  readonly of: SavedColumns['of']
  readonly header: readonly string[]
  readonly rows: readonly (readonly string[])[]
  readonly columns: readonly { readonly name: string; readonly meaning: string | null }[]
  /** Columns whose meaning is to be looked at. */
  readonly open: ReadonlySet<string>
  /** Rows of the file that cannot be read, by their number. */
  readonly failing: ReadonlySet<number>
  readonly onMeaning: (column: number, meaning: AnyMeaning | null) => void
}

const shownRows = 8

/** The first rows of the file, with what each column means above it. Rows that fail stand among them. */
export const ColumnsTable = ({ of, header, rows, columns, open, failing, onMeaning }: ColumnsTableProps) => {
  const numbered = rows.map((row, at) => ({ row, no: at + 2 }))
  const odd = numbered.filter(one => failing.has(one.no) && one.no > shownRows + 1).slice(0, 5)
  return (
    <Box overflowX="auto" bg="sheet" borderWidth="1px" borderColor="hairline">
      <Table.Root aria-label="Columns of the file">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader w="44px">means</Table.ColumnHeader>
            {columns.map(({ name, meaning }, at) => (
              <Table.ColumnHeader key={at} minW="116px" bg={open.has(name) ? 'ochre.wash' : undefined}>
                <Select
                  aria-label={`${name} means`}
                  w="100%"
                  value={meaning ?? ''}
                  borderColor={open.has(name) ? 'ochre' : undefined}
                  color={meaning === null ? 'muted' : undefined}
                  onChange={event => onMeaning(at, (event.target.value || null) as AnyMeaning | null)}
                >
                  <option value="">left out</option>
                  {columnMeanings[of].map(one => (
                    <option key={one} value={one}>
                      {meaningText(one)}
                    </option>
                  ))}
                </Select>
              </Table.ColumnHeader>
            ))}
          </Table.Row>
          <Table.Row>
            <Table.ColumnHeader>file</Table.ColumnHeader>
            {header.map((name, at) => (
              <Table.ColumnHeader key={at} textStyle="mono">
                {open.has(name.trim()) ? <Span color="ochre">◆ </Span> : null}
                {name}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {[...numbered.slice(0, shownRows), ...odd].map(({ row, no }) => (
            <Table.Row key={no} bg={failing.has(no) ? 'ochre.wash' : undefined}>
              <Table.Cell color="muted">{failing.has(no) ? `▲ ${no}` : no}</Table.Cell>
              {header.map((_, at) => (
                <Table.Cell
                  key={at}
                  textStyle="mono"
                  maxW="240px"
                  truncate
                  color={columns[at]?.meaning === null ? 'muted' : undefined}
                >
                  {row[at] ?? ''}
                </Table.Cell>
              ))}
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  )
}
