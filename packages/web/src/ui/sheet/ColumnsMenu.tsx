import { Button, Menu, Portal } from '@chakra-ui/react'
import type { SheetColumn } from './column.ts'
import type { AddressState } from './useAddressState.ts'

interface ColumnsMenuProps<Row> {
  readonly label: string
  readonly columns: readonly SheetColumn<Row>[]
  readonly state: AddressState
}

/** Which columns of a table are shown; the first always is. Open to begin with: its code comes when it is first asked for. */
export const ColumnsMenu = <Row,>({ label, columns, state }: ColumnsMenuProps<Row>) => (
  <Menu.Root defaultOpen closeOnSelect={false} positioning={{ placement: 'bottom-end' }}>
    <Menu.Trigger asChild>
      <Button aria-label={`Columns of ${label}`}>Columns</Button>
    </Menu.Trigger>
    <Portal>
      <Menu.Positioner>
        <Menu.Content>
          {columns
            .slice(1)
            .filter(column => typeof column.head === 'string' && column.head !== '')
            .map(column => (
              <Menu.CheckboxItem
                key={column.id}
                value={column.id}
                checked={!state.hidden.has(column.id)}
                onCheckedChange={() => state.toggle(column.id)}
              >
                <Menu.ItemText>{column.head}</Menu.ItemText>
                <Menu.ItemIndicator>✓</Menu.ItemIndicator>
              </Menu.CheckboxItem>
            ))}
        </Menu.Content>
      </Menu.Positioner>
    </Portal>
  </Menu.Root>
)
