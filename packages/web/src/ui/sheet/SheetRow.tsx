import { Table } from '@chakra-ui/react'
import { Check } from '../form/Check.tsx'
import { PageLink } from '../PageLink.tsx'
import type { SheetColumn } from './column.ts'

interface SheetRowProps<Row> {
  readonly id: string
  readonly row: Row
  readonly columns: readonly SheetColumn<Row>[]
  readonly tones: readonly string[]
  /** Where it leads; null: nowhere. */
  readonly to: string | null
  /** What the link carries: the list that it is in. */
  readonly carried: unknown
  readonly onPress: () => void
  readonly selection?: {
    readonly checked: boolean
    readonly disabled: boolean
    readonly onToggle: (ranging: boolean) => void
  }
}

const wrapped = { whiteSpace: 'normal', lineHeight: '1.25', py: '5px' } as const
const topmost = { py: '8px', verticalAlign: 'top' } as const
const flushed = { ...topmost, px: '0' } as const

const lookOf = <Row,>({ right, wraps, top, flush, words, mono, picks }: SheetColumn<Row>) => ({
  textAlign: right ? ('end' as const) : ('start' as const),
  ...(wraps ? wrapped : {}),
  ...(top ? topmost : {}),
  ...(flush ? flushed : {}),
  ...(words ? { 'data-words': '' } : {}),
  ...(mono ? { textStyle: 'mono' } : {}),
  ...(picks ? { 'data-picks': '' } : {}),
})

/** A row of a table. Where it leads somewhere its first cell is a link, which opens in another tab as links do. */
export const SheetRow = <Row,>({ id, row, columns, tones, to, carried, onPress, selection }: SheetRowProps<Row>) => (
  <Table.Row
    data-row={id}
    aria-selected={selection?.checked}
    data-tone={[...tones, selection?.checked ? 'selected' : ''].join(' ')}
    onClick={onPress}
  >
    {selection ? (
      <Table.Cell onClick={event => event.stopPropagation()}>
        <Check
          label={`Select ${id}`}
          checked={selection.checked}
          disabled={selection.disabled}
          onChange={(_, ranging) => selection.onToggle(ranging)}
        />
      </Table.Cell>
    ) : null}
    {columns.map((column, at) => (
      <Table.Cell key={column.id} {...lookOf(column)}>
        {at === 0 && to !== null ? (
          <PageLink to={to} state={carried} color="inherit" onClick={event => event.stopPropagation()}>
            {column.cell(row)}
          </PageLink>
        ) : (
          column.cell(row)
        )}
      </Table.Cell>
    ))}
  </Table.Row>
)
