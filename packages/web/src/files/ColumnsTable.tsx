import { Box, Span, Table } from '@chakra-ui/react'
import type { SavedColumns } from '@culvert/contract'
import { columnMeanings } from '@culvert/core'
import { memo, useCallback, useEffect, useRef } from 'react'
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
  // Each column is drawn anew where it changed, and not with every key: a file may have hundreds.
  const latest = useRef(onMeaning)
  useEffect(() => {
    latest.current = onMeaning
  })
  const say = useCallback((column: number, meaning: AnyMeaning | null) => latest.current(column, meaning), [])
  const outs = columns.map(({ meaning }) => (meaning === null ? '1' : '0')).join('')
  const numbered = rows.map((row, at) => ({ row, no: at + 2 }))
  const odd = numbered.filter(one => failing.has(one.no) && one.no > shownRows + 1).slice(0, 5)
  return (
    <Box overflowX="auto" bg="sheet" borderWidth="1px" borderColor="hairline">
      <Table.Root aria-label="Columns of the file">
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader w="44px">means</Table.ColumnHeader>
            {columns.map(({ name, meaning }, at) => (
              <Meaning key={at} {...{ of, at, name, meaning }} isOpen={open.has(name)} onMeaning={say} />
            ))}
          </Table.Row>
          <Table.Row>
            <Table.ColumnHeader>file</Table.ColumnHeader>
            {header.map((name, at) => (
              <Head key={at} name={name} isOpen={open.has(name.trim())} />
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {[...numbered.slice(0, shownRows), ...odd].map(({ row, no }) => (
            <Row key={no} {...{ row, no, width: header.length, outs }} isFailing={failing.has(no)} />
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  )
}

interface MeaningProps {
  readonly of: SavedColumns['of']
  readonly at: number
  readonly name: string
  readonly meaning: string | null
  readonly isOpen: boolean
  readonly onMeaning: (column: number, meaning: AnyMeaning | null) => void
}

const Meaning = memo(({ of, at, name, meaning, isOpen, onMeaning }: MeaningProps) => (
  <Table.ColumnHeader minW="116px" bg={isOpen ? 'ochre.wash' : undefined}>
    <Select
      aria-label={`${name} means`}
      w="100%"
      value={meaning ?? ''}
      borderColor={isOpen ? 'ochre' : undefined}
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
))

const Head = memo(({ name, isOpen }: { readonly name: string; readonly isOpen: boolean }) => (
  <Table.ColumnHeader textStyle="mono">
    {isOpen ? <Span color="ochre">◆ </Span> : null}
    {name}
  </Table.ColumnHeader>
))

interface RowProps {
  readonly row: readonly string[]
  readonly no: number
  readonly width: number
  readonly isFailing: boolean
  /** Of each column `1` where it is left out: one text, so that two are soon told to be the same. */
  readonly outs: string
}

const Row = memo(({ row, no, width, isFailing, outs }: RowProps) => (
  <Table.Row bg={isFailing ? 'ochre.wash' : undefined}>
    <Table.Cell color="muted">{isFailing ? `▲ ${no}` : no}</Table.Cell>
    {Array.from({ length: width }, (_, at) => (
      <Value key={at} text={row[at] ?? ''} isOut={outs[at] === '1'} />
    ))}
  </Table.Row>
))

const Value = memo(({ text, isOut }: { readonly text: string; readonly isOut: boolean }) => (
  <Table.Cell textStyle="mono" maxW="240px" truncate color={isOut ? 'muted' : undefined}>
    {text}
  </Table.Cell>
))
