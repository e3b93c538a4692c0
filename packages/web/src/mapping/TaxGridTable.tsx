import { Button, chakra, Span, Table } from '@chakra-ui/react'
import type { TaxCodeRow } from '@culvert/contract'
import { type GridCell, type GridLine, isForeign, kinds, percentOf, proposeCode, type TaxGrid } from '@culvert/core'
import { useState } from 'react'
import { useClient } from '../context/ClientContext.tsx'
import { amountText, countText } from '../ui/formats.ts'
import { regionText } from './taxPlaceText.ts'
import type { CellAt } from './useTaxDraft.ts'

interface TaxGridTableProps {
  readonly grid: TaxGrid
  readonly codes: ReadonlyMap<string, TaxCodeRow>
  /** Local date that rates are told of. */
  readonly date: string
  readonly names: ReadonlyMap<string, string>
  /** The client's own country. */
  readonly home: string | null
  readonly chosen: CellAt | null
  readonly onChoose: (cell: CellAt) => void
}

const keyOf = (line: GridLine): string => JSON.stringify([line.region, line.label, line.kind, line.source])
const isNarrow = (line: GridLine): boolean => Boolean(line.label || line.kind || line.source)

/** Regions down, classes across; in each cell the code and the money of 13 weeks. */
export const TaxGridTable = (props: TaxGridTableProps) => {
  const { grid } = props
  const [folded, setFolded] = useState(true)
  const hidden = grid.lines.filter(line => line.unseen && line.region !== null && line.open === 0)
  const shown = grid.lines.filter(line => !folded || !hidden.includes(line))
  return (
    <div style={{ overflowX: 'auto' }}>
      <Table.Root aria-label="Tax grid" style={{ width: 'auto', minWidth: 520 }}>
        <Table.Header>
          <Table.Row>
            <Table.ColumnHeader style={{ minWidth: 200 }}>Where it goes</Table.ColumnHeader>
            {grid.classes.map(name => (
              <Table.ColumnHeader key={name} style={{ minWidth: 230 }}>
                {name === '' ? 'No class of its own' : name}
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {shown.map(line => (
            <GridRow key={keyOf(line)} line={line} {...props} />
          ))}
          {hidden.length > 0 ? (
            <Table.Row>
              <Table.Cell colSpan={grid.classes.length + 1}>
                <Button variant="ghost" onClick={() => setFolded(!folded)}>
                  {folded
                    ? `Show ${countText(hidden.length, 'row')} of places not seen in these weeks`
                    : 'Fold away what was not seen'}
                </Button>
              </Table.Cell>
            </Table.Row>
          ) : null}
        </Table.Body>
      </Table.Root>
    </div>
  )
}

const placeText = (line: GridLine, names: ReadonlyMap<string, string>): string => {
  const narrow = [
    line.label && `“${line.label}”`,
    line.kind && kinds[line.kind].label,
    line.source && (names.get(line.source) ?? line.source),
  ]
  if (isNarrow(line)) return narrow.filter(Boolean).join(' · ')
  return regionText(line.region)
}

const GridRow = ({ line, names, ...rest }: TaxGridTableProps & { readonly line: GridLine }) => (
  <Table.Row>
    <Table.ColumnHeader scope="row" style={{ fontWeight: 500, paddingLeft: isNarrow(line) ? 26 : 10 }}>
      {placeText(line, names)}
    </Table.ColumnHeader>
    {line.cells.map(cell => (
      <Cell key={cell.class} line={line} cell={cell} names={names} {...rest} />
    ))}
  </Table.Row>
)

const rateText = (percent: number): string => `${Number(percent.toFixed(3))} %`

/** Apart by more than rounding a price can do. */
const isOff = (seen: number | null, called: number | null): boolean =>
  seen !== null && called !== null && Math.abs(seen - called) > 0.5

const Cell = ({
  line,
  cell,
  codes,
  date,
  chosen,
  home,
  onChoose,
}: TaxGridTableProps & { readonly line: GridLine; readonly cell: GridCell }) => {
  const { base, locale } = useClient()
  const { region, label, kind, source } = line
  const at: CellAt = { region, label, kind, source, class: cell.class }
  const isChosen = JSON.stringify(at) === JSON.stringify(chosen)
  const { serving } = cell
  const code = serving?.code ? codes.get(serving.code) : undefined
  const called = serving?.code === null ? 0 : code ? percentOf(code, date) : null
  const unsaid = isForeign(code, region) && !reasonOf(cell) && cell.amount !== 0
  const off = isOff(cell.seenPercent, called)
  const what = serving === null ? (cell.lines > 0 ? '◆ not decided' : '–') : (serving.code ?? 'no tax')
  const proposal =
    serving === null && cell.lines > 0 ? proposeCode(at, cell, { codes: [...codes.values()], home, date }) : null
  const notes = [
    proposal && `proposed: ${proposal.code}, ${proposalWords[proposal.why]}`,
    called !== null && serving?.code ? rateText(called) : null,
    cell.seenPercent === null ? null : `seen ${rateText(cell.seenPercent)}`,
    unsaid ? `◆ tax of ${code?.country}, not said why` : reasonOf(cell),
  ].filter(Boolean)
  return (
    <Table.Cell p="0" bg={isChosen ? 'slate.wash' : undefined}>
      <chakra.button
        type="button"
        display="grid"
        gridTemplateColumns="1fr auto"
        columnGap="12px"
        w="100%"
        minH="32px"
        px="10px"
        py="4px"
        alignContent="center"
        textAlign="start"
        cursor="pointer"
        aria-pressed={isChosen}
        aria-label={`${regionText(region)}, ${cell.class || 'no class'}: ${serving === null ? 'not decided' : (serving.code ?? 'no tax')}`}
        onClick={() => onChoose(at)}
      >
        <Span
          {...(serving === null && cell.lines > 0
            ? { color: 'ochre', fontWeight: '600' }
            : { textStyle: 'mono', color: cell.own ? 'inherit' : 'muted' })}
        >
          {what}
        </Span>
        <span>{cell.lines > 0 ? amountText(cell.amount, base, locale) : ''}</span>
        {notes.length > 0 && cell.lines > 0 ? (
          <Span textStyle="small" gridColumn="1 / -1" color={off || unsaid ? 'ochre' : 'muted'}>
            {notes.join(' · ')}
          </Span>
        ) : null}
      </chakra.button>
    </Table.Cell>
  )
}

/** Why a code is proposed. */
export const proposalWords = {
  rate_seen: 'the rate that was charged',
  only_one: 'the one code of its country',
  standard: 'its country’s highest rate',
} as const

const reasonOf = ({ serving }: GridCell): string => (serving as { reason?: string } | null)?.reason ?? ''
