import { Button } from '@chakra-ui/react'
import { type ComponentType, lazy, Suspense, useState } from 'react'
import type { SheetColumn } from './column.ts'
import type { AddressState } from './useAddressState.ts'

interface ColumnsButtonProps<Row> {
  readonly label: string
  readonly columns: readonly SheetColumn<Row>[]
  readonly state: AddressState
}

const ColumnsMenu = lazy(() =>
  import('./ColumnsMenu.tsx').then(file => ({ default: file.ColumnsMenu as ComponentType<ColumnsButtonProps<never>> })),
)

/** Opens what says which columns are shown. */
export const ColumnsButton = <Row,>({ label, columns, state }: ColumnsButtonProps<Row>) => {
  const [wanted, setWanted] = useState(false)
  const button = (
    <Button aria-label={`Columns of ${label}`} onClick={() => setWanted(true)}>
      Columns
    </Button>
  )
  return wanted ? (
    <Suspense fallback={button}>
      <ColumnsMenu label={label} columns={columns as readonly SheetColumn<never>[]} state={state} />
    </Suspense>
  ) : (
    button
  )
}
