import { Box, Input, Table } from '@chakra-ui/react'
import type { TraceStart } from '@culvert/contract'
import {
  createColumnHelper,
  getCoreRowModel,
  getFilteredRowModel,
  getSortedRowModel,
  useReactTable,
} from '@tanstack/react-table'
import { useWindowVirtualizer } from '@tanstack/react-virtual'
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react'
import { useSearchParams } from 'react-router'
import { useTrace } from '../context/TraceContext.tsx'
import { useKey } from './keys.ts'

export interface SheetColumn<Row> {
  readonly id: string
  readonly head: ReactNode
  readonly cell: (row: Row) => ReactNode
  /** What the column sorts and filters by; a column without it does neither. */
  readonly value?: (row: Row) => string | number | null
  readonly right?: boolean
  readonly width?: string
}

interface SheetTableProps<Row> {
  readonly label: string
  readonly columns: readonly SheetColumn<Row>[]
  readonly rows: readonly Row[]
  readonly rowKey: (row: Row) => string
  readonly onOpen?: (row: Row) => void
  readonly traceOf?: (row: Row) => TraceStart | null
  readonly selected?: ReadonlySet<string>
  readonly onSelect?: (keys: ReadonlySet<string>) => void
  readonly selectable?: (row: Row) => boolean
  /** What a row is apart from selected or active. */
  readonly tone?: (row: Row) => 'waiting' | undefined
  readonly foot?: ReactNode
  readonly empty?: ReactNode
  readonly filterable?: boolean
}

const rowHeight = 32

/**
 * A dense table: every column sorts, the filter (key /) and the sorting stay in the address, rows go by j and k, open by
 * Enter, are selected by Space and traced by t. Long lists are drawn as far as they are seen.
 */
export const SheetTable = <Row,>(props: SheetTableProps<Row>) => {
  const { rows, columns, rowKey, onOpen, selected, onSelect } = props
  const [search, setSearch] = useSearchParams()
  const filterBox = useRef<HTMLInputElement>(null)
  const inAddress = search.get('q') ?? ''
  // What is typed is kept here: the address follows, and would lose letters that come faster than it changes.
  const [filter, setFilter] = useState(inAddress)
  useEffect(() => {
    if (document.activeElement !== filterBox.current) setFilter(inAddress)
  }, [inAddress])
  const sort = search.get('sort') ?? ''
  const [active, setActive] = useState<string | null>(null)
  const body = useRef<HTMLTableSectionElement>(null)
  const { open: openTrace } = useTrace()

  const setParam = (name: string, value: string): void => {
    setSearch(
      before => {
        const next = new URLSearchParams(before)
        if (value === '') next.delete(name)
        else next.set(name, value)
        return next
      },
      { replace: true },
    )
  }
  const definitions = useMemo(() => {
    const helper = createColumnHelper<Row>()
    return columns.map(column =>
      helper.accessor((row: Row) => column.value?.(row) ?? '', {
        id: column.id,
        enableSorting: column.value !== undefined,
        sortingFn: 'basic',
        enableGlobalFilter: column.value !== undefined,
      }),
    )
  }, [columns])
  const table = useReactTable({
    data: rows as Row[],
    columns: definitions,
    state: {
      globalFilter: filter,
      sorting: sort === '' ? [] : [{ id: sort.replace(/^-/, ''), desc: sort.startsWith('-') }],
    },
    // Its resets set state whenever the rows are another array, which would draw for ever.
    autoResetAll: false,
    getRowId: rowKey,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
    getFilteredRowModel: getFilteredRowModel(),
    globalFilterFn: (row, id, wanted: string) =>
      String(row.getValue(id) ?? '')
        .toLowerCase()
        .includes(wanted.toLowerCase()),
  })
  const shown = table.getRowModel().rows
  const [top, setTop] = useState(0)
  useEffect(() => {
    setTop(body.current ? body.current.getBoundingClientRect().top + window.scrollY : 0)
  }, [])
  const virtual = useWindowVirtualizer({
    count: shown.length,
    estimateSize: () => rowHeight,
    overscan: 20,
    scrollMargin: top,
  })
  const items = shown.length > 80 ? virtual.getVirtualItems() : null
  const visible = items ? items.map(item => shown[item.index]) : shown
  const before = items ? Math.max(0, (items[0]?.start ?? top) - top) : 0
  const after = items ? Math.max(0, virtual.getTotalSize() - ((items.at(-1)?.end ?? top) - top)) : 0

  const activeIndex = shown.findIndex(row => row.id === active)
  const move = (step: number): void => {
    const next = Math.min(shown.length - 1, Math.max(0, activeIndex + step))
    const row = shown[next]
    if (!row) return
    setActive(row.id)
    if (items) virtual.scrollToIndex(next, { align: 'auto' })
    else body.current?.querySelector(`[data-row="${CSS.escape(row.id)}"]`)?.scrollIntoView({ block: 'nearest' })
  }
  const activeRow = activeIndex >= 0 ? shown[activeIndex]?.original : undefined
  const canSelect = (row: Row): boolean => onSelect !== undefined && (props.selectable?.(row) ?? true)
  const toggle = (row: Row): void => {
    if (!canSelect(row) || !onSelect) return
    const next = new Set(selected)
    if (!next.delete(rowKey(row))) next.add(rowKey(row))
    onSelect(next)
  }
  const selectableShown = shown.filter(row => canSelect(row.original))
  const allSelected = selectableShown.length > 0 && selectableShown.every(row => selected?.has(row.id))
  useKey('j, down', 'next row', () => move(1))
  useKey('k, up', 'previous row', () => move(-1))
  useKey('space', 'select the row', () => activeRow && toggle(activeRow), onSelect !== undefined)
  useKey(
    'enter',
    'open the row',
    () => activeRow && onOpen?.(activeRow),
    onOpen !== undefined && activeRow !== undefined,
  )
  useKey(
    't',
    'trace the row’s amount',
    () => {
      const start = activeRow && props.traceOf?.(activeRow)
      if (start) openTrace(start)
    },
    props.traceOf !== undefined,
  )
  useKey('/', 'filter the table', () => filterBox.current?.focus(), props.filterable !== false)

  return (
    <Box>
      {props.filterable === false ? null : (
        <Box display="flex" justifyContent="flex-end" mb="6px" mt="-38px" position="relative" pointerEvents="none">
          <Input
            ref={filterBox}
            w="210px"
            pointerEvents="auto"
            aria-label={`Filter ${props.label}`}
            placeholder="Filter this table  /"
            value={filter}
            onChange={event => {
              setFilter(event.target.value)
              setParam('q', event.target.value)
            }}
            onKeyDown={event => {
              if (event.key === 'Escape' || event.key === 'Enter') event.currentTarget.blur()
            }}
          />
        </Box>
      )}
      <Table.Root aria-label={props.label}>
        <Table.Header>
          <Table.Row>
            {onSelect ? (
              <Table.ColumnHeader style={{ width: 34 }}>
                <input
                  type="checkbox"
                  aria-label="Select all shown"
                  checked={allSelected}
                  disabled={selectableShown.length === 0}
                  onChange={() => onSelect(new Set(allSelected ? [] : selectableShown.map(row => row.id)))}
                />
              </Table.ColumnHeader>
            ) : null}
            {columns.map(column => {
              const sorted = sort.replace(/^-/, '') === column.id
              return (
                <Table.ColumnHeader
                  key={column.id}
                  scope="col"
                  textAlign={column.right ? 'end' : undefined}
                  style={{ width: column.width }}
                  aria-sort={sorted ? (sort.startsWith('-') ? 'descending' : 'ascending') : undefined}
                >
                  {column.value ? (
                    <button
                      type="button"
                      onClick={() =>
                        setParam('sort', sorted ? (sort.startsWith('-') ? '' : `-${column.id}`) : column.id)
                      }
                    >
                      {column.head}
                      {sorted ? <span aria-hidden="true">{sort.startsWith('-') ? '↓' : '↑'}</span> : null}
                    </button>
                  ) : (
                    column.head
                  )}
                </Table.ColumnHeader>
              )
            })}
          </Table.Row>
        </Table.Header>
        <Table.Body ref={body}>
          {before > 0 ? (
            <Table.Row>
              <Table.Cell style={{ height: before, padding: 0 }} />
            </Table.Row>
          ) : null}
          {visible.map(row =>
            row ? (
              <Table.Row
                key={row.id}
                data-row={row.id}
                aria-selected={onSelect ? (selected?.has(row.id) ?? false) : undefined}
                data-tone={[
                  onOpen ? 'opens' : '',
                  row.id === active ? 'active' : '',
                  selected?.has(row.id) ? 'selected' : '',
                  props.tone?.(row.original) ?? '',
                ].join(' ')}
                onClick={() => {
                  setActive(row.id)
                  onOpen?.(row.original)
                }}
              >
                {onSelect ? (
                  <Table.Cell onClick={event => event.stopPropagation()}>
                    <input
                      type="checkbox"
                      aria-label={`Select ${row.id}`}
                      checked={selected?.has(row.id) ?? false}
                      disabled={!canSelect(row.original)}
                      onChange={() => {
                        setActive(row.id)
                        toggle(row.original)
                      }}
                    />
                  </Table.Cell>
                ) : null}
                {columns.map(column => (
                  <Table.Cell key={column.id} textAlign={column.right ? 'end' : undefined}>
                    {column.cell(row.original)}
                  </Table.Cell>
                ))}
              </Table.Row>
            ) : null,
          )}
          {after > 0 ? (
            <Table.Row>
              <Table.Cell style={{ height: after, padding: 0 }} />
            </Table.Row>
          ) : null}
          {shown.length === 0 ? (
            <Table.Row>
              <Table.Cell colSpan={columns.length + (onSelect ? 1 : 0)} color="muted">
                {filter ? `Nothing here contains “${filter}”.` : (props.empty ?? 'Nothing here.')}
              </Table.Cell>
            </Table.Row>
          ) : null}
          {props.foot}
        </Table.Body>
      </Table.Root>
    </Box>
  )
}
