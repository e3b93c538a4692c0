import { Box, Flex, Input, Table, VisuallyHidden } from '@chakra-ui/react'
import type { TraceStart } from '@culvert/contract'
import { holds } from '@culvert/core'
import {
  createColumnHelper,
  getCoreRowModel,
  getFilteredRowModel,
  getSortedRowModel,
  useReactTable,
} from '@tanstack/react-table'
import { useWindowVirtualizer } from '@tanstack/react-virtual'
import {
  Fragment,
  type ReactNode,
  type RefObject,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
} from 'react'
import { createPortal } from 'react-dom'
import { useNavigate } from 'react-router'
import { type About, useAbout } from '../../context/AboutContext.tsx'
import { useClient } from '../../context/ClientContext.tsx'
import { carriedFrom } from '../../context/listed.ts'
import { useTrace } from '../../context/TraceContext.tsx'
import { AboutButton } from '../AboutButton.tsx'
import { useKey } from '../keys.ts'
import { HeadRoom } from '../pageRoom.ts'
import { ColumnsButton } from './ColumnsButton.tsx'
import { isSorted, type SheetColumn, sortValue, writtenIn } from './column.ts'
import { SelectedSums } from './SelectedSums.tsx'
import { SheetHead } from './SheetHead.tsx'
import { SheetRow } from './SheetRow.tsx'
import { type AddressState, useAddressState } from './useAddressState.ts'
import { useSelection } from './useSelection.ts'

interface SheetTableProps<Row> {
  readonly label: string
  readonly columns: readonly SheetColumn<Row>[]
  readonly rows: readonly Row[]
  readonly rowKey: (row: Row) => string
  /** Where a row leads: its first cell is a link there, and pressing the row goes there. */
  readonly to?: (row: Row) => string
  /** What pressing a row does instead of going where it leads. */
  readonly onOpen?: (row: Row) => void
  readonly traceOf?: (row: Row) => TraceStart | null
  /** What notes and acts of a row are about: a sign at its end opens them. */
  readonly aboutOf?: (row: Row) => About | null
  readonly selected?: ReadonlySet<string>
  readonly onSelect?: (keys: ReadonlySet<string>) => void
  readonly selectable?: (row: Row) => boolean
  /** What a row is apart from selected or active. */
  readonly tone?: (row: Row) => 'waiting' | 'selected' | 'active' | 'muted' | undefined
  /** Totals of columns that have one, by the column's id: the last row. */
  readonly totals?: Readonly<Record<string, ReactNode>>
  /** There are more rows, which are fetched by `onMore` as one comes near the end; and all of them once it is sorted or filtered, unless they come so. */
  readonly more?: boolean
  /** Rows come sorted and filtered as the address says. */
  readonly arranged?: boolean
  /** Rows that may be selected though they are not shown. */
  readonly known?: readonly Row[]
  readonly onMore?: () => void
  /** Rows that belong to one, and stay with it; null: none. */
  readonly below?: (row: Row) => ReactNode
  /** Rows after all others, which are no rows of the list. */
  readonly foot?: ReactNode
  /** A key of its own for the row that keys act on. */
  readonly rowKeyed?: { readonly key: string; readonly does: string; readonly act: (row: Row) => void }
  readonly empty?: ReactNode
  /** What stands over it, on the line of its filter; of a page's first table that is the page's head. */
  readonly head?: ReactNode
  readonly filterable?: boolean
  /** All its rows are drawn: of a table that is scrolled by itself, and not long. */
  readonly whole?: boolean
  /** Columns keep the widths they are given, whatever stands in them. */
  readonly fixed?: boolean
  /** Of a page's further tables: what tells it apart in the address. The page's keys are those of its first. */
  readonly scope?: string
}

const rowHeight = 32
/** Rows of a page's further table from which on it is worth a filter of its own. */
const fewToFilter = 13

/**
 * A dense table: every column sorts, filters as it is written and can be hidden, all of it kept in the address. Rows go by j and k, open by Enter, are
 * selected by Space, with shift a range of them, and traced by t; what is selected is counted and added up. Long lists are drawn as far as they are seen.
 */
export const SheetTable = <Row,>(props: SheetTableProps<Row>) => {
  const { rows, rowKey, to, selected, onSelect } = props
  const locale = useClient().locale
  const navigate = useNavigate()
  const filterBox = useRef<HTMLInputElement>(null)
  const isTyping = useCallback(() => document.activeElement === filterBox.current, [])
  const state = useAddressState(isTyping, props.scope)
  const shownColumns = props.columns.filter(column => !state.hidden.has(column.id))
  const columns = props.aboutOf ? [...shownColumns, aboutColumn(props.aboutOf)] : shownColumns
  const [active, setActive] = useState<string | null>(null)
  const body = useRef<HTMLTableSectionElement>(null)
  const { open: openTrace } = useTrace()

  const definitions = useMemo(() => {
    const helper = createColumnHelper<Row>()
    return props.columns.map(column =>
      helper.accessor((row: Row) => sortValue(column, row), {
        id: column.id,
        enableSorting: isSorted(column),
        sortingFn: 'basic',
        enableGlobalFilter: isSorted(column),
      }),
    )
  }, [props.columns])
  const byId = useMemo(() => new Map(props.columns.map(column => [column.id, column])), [props.columns])
  const table = useReactTable({
    data: rows as Row[],
    columns: definitions,
    state: { globalFilter: state.filter, sorting: state.sort ? [state.sort] : [] },
    // Its resets set state whenever the rows are another array, which would draw for ever.
    autoResetAll: false,
    getRowId: rowKey,
    getCoreRowModel: getCoreRowModel(),
    getSortedRowModel: getSortedRowModel(),
    getFilteredRowModel: getFilteredRowModel(),
    globalFilterFn: (row, id, wanted: string) => {
      const column = byId.get(id)
      return column !== undefined && holds(writtenIn(column, row.original, locale), wanted, locale)
    },
  })
  const shown = table.getRowModel().rows
  const carried = useMemo(() => carriedFrom(to ? shown.map(row => to(row.original)) : []), [shown, to])
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
  const items = shown.length > 80 && props.whole !== true ? virtual.getVirtualItems() : null
  const visible = items ? items.flatMap(item => shown[item.index] ?? []) : shown
  const before = items ? Math.max(0, (items[0]?.start ?? top) - top) : 0
  const after = items ? Math.max(0, virtual.getTotalSize() - ((items.at(-1)?.end ?? top) - top)) : 0

  const lastSeen = items ? (items.at(-1)?.index ?? 0) : shown.length
  const wantsAll = props.arranged !== true && (state.sort !== null || state.filter !== '')
  const wantsMore = props.more === true && (wantsAll || lastSeen >= shown.length - 60)
  const { onMore } = props
  useEffect(() => {
    // Asked again with each part that comes, as long as it is not all that is wanted.
    if (wantsMore && rows.length >= 0) onMore?.()
  }, [wantsMore, onMore, rows.length])

  const activeIndex = shown.findIndex(row => row.id === active)
  const activeRow = activeIndex >= 0 ? shown[activeIndex]?.original : undefined
  const move = (step: number): void => {
    const next = Math.min(shown.length - 1, Math.max(0, activeIndex + step))
    const row = shown[next]
    if (!row) return
    setActive(row.id)
    if (items) virtual.scrollToIndex(next, { align: 'auto' })
    else body.current?.querySelector(`[data-row="${CSS.escape(row.id)}"]`)?.scrollIntoView({ block: 'nearest' })
  }
  const open = (row: Row): void => {
    if (props.onOpen) props.onOpen(row)
    else if (to) void navigate(to(row), { state: carried })
  }
  const opens = (to ?? props.onOpen) !== undefined
  const selection = useSelection({
    shown: shown.map(row => row.original),
    keyOf: rowKey,
    selected,
    onSelect,
    selectable: props.selectable,
  })
  const first = props.scope === undefined
  const headRoom = useContext(HeadRoom)
  // A page's first table puts them into the page's head.
  const room = first ? headRoom : undefined
  useKey('j, down', 'next row', () => move(1), first)
  useKey('k, up', 'previous row', () => move(-1), first)
  useKey('space', 'select the row', () => activeRow && selection.toggle(activeRow), first && onSelect !== undefined)
  useKey(
    'shift+space',
    'select from the last selected to the row',
    () => activeRow && selection.toggle(activeRow, true),
    first && onSelect !== undefined,
  )
  useKey('enter', 'open the row', () => activeRow && open(activeRow), first && opens && activeRow !== undefined)
  useKey(
    't',
    'trace the row’s amount',
    () => {
      const start = activeRow && props.traceOf?.(activeRow)
      if (start) openTrace(start)
    },
    first && props.traceOf !== undefined,
  )
  const { open: openAbout } = useAbout()
  useKey(
    'n',
    'notes and history of the row',
    () => {
      const about = activeRow && props.aboutOf?.(activeRow)
      if (about) openAbout(about)
    },
    first && props.aboutOf !== undefined,
  )
  useKey(
    props.rowKeyed?.key ?? 'enter',
    props.rowKeyed?.does ?? '',
    () => activeRow && props.rowKeyed?.act(activeRow),
    first && props.rowKeyed !== undefined && activeRow !== undefined,
  )
  useKey('/', 'filter the table', () => filterBox.current?.focus(), first && props.filterable !== false)

  const chosen = selected && selected.size > 0 ? (props.known ?? rows).filter(row => selected.has(rowKey(row))) : []
  const width = columns.length + (onSelect ? 1 : 0)
  const isFiltered = props.filterable !== false && (first || rows.length >= fewToFilter || state.filter !== '')
  const tools = isFiltered ? (
    <TableTools
      label={props.label}
      columns={props.columns}
      state={state}
      filterBox={filterBox}
      first={first}
      hides={props.foot === undefined}
    />
  ) : null
  return (
    <Box>
      {room ? (
        createPortal(tools, room)
      ) : room === undefined && (tools !== null || props.head !== undefined) ? (
        <Flex justify="flex-end" align="center" gap="8px" mb="6px" wrap="wrap">
          {props.head === undefined ? null : <Box flex="1">{props.head}</Box>}
          {tools}
        </Flex>
      ) : null}
      <Box overflowX={{ base: 'auto', xl: 'visible' }}>
        <Table.Root aria-label={props.label} tableLayout={props.fixed ? 'fixed' : undefined}>
          <SheetHead
            columns={columns}
            state={state}
            {...(onSelect
              ? { all: { checked: selection.all, disabled: selection.none, onToggle: selection.toggleAll } }
              : {})}
          />
          <Table.Body ref={body}>
            <Gap height={before} />
            {visible.map(row => (
              <Fragment key={row.id}>
                <SheetRow
                  id={row.id}
                  row={row.original}
                  columns={columns}
                  tones={[row.id === active ? 'active' : '', props.tone?.(row.original) ?? '', opens ? 'opens' : '']}
                  to={to?.(row.original) ?? null}
                  carried={carried}
                  onPress={() => {
                    setActive(row.id)
                    open(row.original)
                  }}
                  {...(onSelect
                    ? {
                        selection: {
                          checked: selected?.has(row.id) ?? false,
                          disabled: !selection.can(row.original),
                          onToggle: (ranging: boolean) => {
                            setActive(row.id)
                            selection.toggle(row.original, ranging)
                          },
                        },
                      }
                    : {})}
                />
                {props.below?.(row.original)}
              </Fragment>
            ))}
            <Gap height={after} />
            {props.more ? (
              <Table.Row>
                <Table.Cell colSpan={width} color="muted" role="status">
                  {shown.length.toLocaleString('en-IE')} so far, more on the way …
                </Table.Cell>
              </Table.Row>
            ) : null}
            {shown.length === 0 && !props.more ? (
              <Table.Row>
                <Table.Cell colSpan={width} color="muted">
                  {state.filter ? `Nothing here contains “${state.filter}”.` : (props.empty ?? 'Nothing here.')}
                </Table.Cell>
              </Table.Row>
            ) : null}
            {props.totals ? (
              <Table.Row data-tone="total" data-rule="">
                {onSelect ? <Table.Cell /> : null}
                {columns.map((column, at) => (
                  <Table.Cell key={column.id} textAlign={column.right ? 'end' : 'start'}>
                    {props.totals?.[column.id] ?? (at === 0 ? 'Total' : null)}
                  </Table.Cell>
                ))}
              </Table.Row>
            ) : null}
            {props.foot}
          </Table.Body>
          {chosen.length > 0 ? <SelectedSums columns={columns} rows={chosen} /> : null}
        </Table.Root>
      </Box>
    </Box>
  )
}

const aboutColumn = <Row,>(aboutOf: (row: Row) => About | null): SheetColumn<Row> => ({
  id: 'about',
  head: <VisuallyHidden>Notes and history</VisuallyHidden>,
  width: '42px',
  right: true,
  cell: row => {
    const about = aboutOf(row)
    return about ? <AboutButton plain of={about} /> : null
  },
})

interface TableToolsProps<Row> {
  readonly label: string
  readonly columns: readonly SheetColumn<Row>[]
  readonly state: AddressState
  readonly filterBox: RefObject<HTMLInputElement | null>
  readonly first: boolean
  /** Columns can be hidden: not where rows below count on them all. */
  readonly hides: boolean
}

/** What filters a table and says which columns it shows. */
const TableTools = <Row,>({ label, columns, state, filterBox, first, hides }: TableToolsProps<Row>) => (
  <>
    <Input
      ref={filterBox}
      w="190px"
      aria-label={`Filter ${label}`}
      placeholder={first ? 'Filter this table  /' : 'Filter this table'}
      value={state.filter}
      onChange={event => state.setFilter(event.target.value)}
      onKeyDown={event => {
        if (event.key === 'Escape' || event.key === 'Enter') event.currentTarget.blur()
      }}
    />
    {hides ? <ColumnsButton label={label} columns={columns} state={state} /> : null}
  </>
)

/** Keeps the place of rows that are not drawn. */
const Gap = ({ height }: { readonly height: number }) =>
  height > 0 ? (
    <Table.Row>
      <Table.Cell p="0" h={`${height}px`} />
    </Table.Row>
  ) : null
