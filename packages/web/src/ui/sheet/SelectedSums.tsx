import { Table } from '@chakra-ui/react'
import { Amount } from '../Amount.tsx'
import { type SheetColumn, sumOf } from './column.ts'

interface SelectedSumsProps<Row> {
  readonly columns: readonly SheetColumn<Row>[]
  readonly rows: readonly Row[]
}

const place = { position: 'sticky', bottom: '48px', bg: 'plum.wash', fontWeight: '600', borderTopWidth: '1px' } as const

/** How many rows are selected, and what they come to. */
export const SelectedSums = <Row,>({ columns, rows }: SelectedSumsProps<Row>) => (
  <Table.Footer>
    <Table.Row aria-label="Selected">
      <Table.Cell {...place} />
      {columns.map((column, at) => {
        const sum = sumOf(column, rows)
        return (
          <Table.Cell key={column.id} {...place} textAlign={column.right ? 'end' : 'start'}>
            {at === 0 ? `${rows.length.toLocaleString('en-IE')} selected` : null}
            {sum ? <Amount minor={sum.minor} currency={sum.currency} /> : null}
          </Table.Cell>
        )
      })}
    </Table.Row>
  </Table.Footer>
)
