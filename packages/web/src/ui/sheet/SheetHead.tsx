import { Button, Table } from '@chakra-ui/react'
import { Check } from '../form/Check.tsx'
import { isSorted, type SheetColumn } from './column.ts'
import type { AddressState } from './useAddressState.ts'

interface SheetHeadProps<Row> {
  readonly columns: readonly SheetColumn<Row>[]
  readonly state: AddressState
  /** Selects all that is shown, or none; absent where nothing can be selected. */
  readonly all?: { readonly checked: boolean; readonly disabled: boolean; readonly onToggle: () => void }
}

/** The heads of a table's columns: each sorts. */
export const SheetHead = <Row,>({ columns, state, all }: SheetHeadProps<Row>) => (
  <Table.Header>
    <Table.Row>
      {all ? (
        <Table.ColumnHeader w="34px">
          <Check label="Select all shown" checked={all.checked} disabled={all.disabled} onChange={all.onToggle} />
        </Table.ColumnHeader>
      ) : null}
      {columns.map(column => {
        const sorted = state.sort?.id === column.id ? state.sort : null
        return (
          <Table.ColumnHeader
            key={column.id}
            scope="col"
            textAlign={column.right ? 'end' : 'start'}
            w={column.width}
            {...(column.flush ? { px: '0' } : {})}
            aria-sort={sorted ? (sorted.desc ? 'descending' : 'ascending') : undefined}
          >
            {isSorted(column) && column.head !== '' ? (
              <Button variant="ghost" color="inherit" onClick={() => state.sortBy(column.id)}>
                {column.head}
                {sorted ? <span aria-hidden="true"> {sorted.desc ? '↓' : '↑'}</span> : null}
              </Button>
            ) : (
              column.head
            )}
          </Table.ColumnHeader>
        )
      })}
    </Table.Row>
  </Table.Header>
)
