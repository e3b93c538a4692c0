import { Button, Span, Table } from '@chakra-ui/react'
import { Amount } from '../ui/Amount.tsx'
import { dateText } from '../ui/formats.ts'
import { kindText, reasonText } from '../ui/words.ts'
import type { Beside, StatementItem } from './arrangeEntry.ts'

interface StatementSheetProps {
  readonly settlement: { source: string; key: string; currency: string; sourceName: string; payoutDate: string | null }
  readonly items: readonly StatementItem[]
  readonly left: Beside['left']
  readonly lit: (item: StatementItem) => boolean
  readonly onPoint: (index: number | null) => void
  readonly onLines: (index: number) => void
}

const rowHeight = 32

/** What the source says, from gross to payout. Each figure opens its lines. */
export const StatementSheet = (props: StatementSheetProps) => {
  const { settlement, items, left, onPoint } = props
  return (
    <Table.Root data-beside="" aria-label={`What ${settlement.sourceName} says`} onMouseLeave={() => onPoint(null)}>
      <Table.Header>
        <Table.Row>
          <Table.ColumnHeader>What {settlement.sourceName} says</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end" style={{ width: 62 }}>
            Lines
          </Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end" style={{ width: 110 }}>
            {settlement.currency}
          </Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {left.map(({ item: index, rows }) => {
          const item = index === null ? undefined : items[index]
          const height = rows * rowHeight
          if (index === null || item === undefined)
            return (
              <Table.Row key="rest">
                <Table.Cell colSpan={3} h={`${height}px`} hideBelow="lg" />
              </Table.Row>
            )
          if (item.type === 'row')
            return (
              <FigureRow
                key={`${item.row.kind} ${item.row.category} ${item.row.matched}`}
                {...props}
                item={item}
                index={index}
                height={height}
              />
            )
          return (
            <Table.Row key={item.label} data-tone="total">
              <Table.Cell h={tall(height)}>{item.label}</Table.Cell>
              <Table.Cell textAlign="end">{item.lines.toLocaleString('en-IE')}</Table.Cell>
              <Table.Cell textAlign="end">
                <Amount
                  minor={item.amount}
                  currency={settlement.currency}
                  trace={{
                    at: 'settlement',
                    source: settlement.source,
                    key: settlement.key,
                    currency: settlement.currency,
                    part: item.part,
                  }}
                />
              </Table.Cell>
            </Table.Row>
          )
        })}
      </Table.Body>
    </Table.Root>
  )
}

interface FigureRowProps extends StatementSheetProps {
  readonly item: Extract<StatementItem, { type: 'row' }>
  readonly index: number
  readonly height: number
}

/** As tall as what it goes to, where that stands beside it. */
const tall = (height: number) => ({ base: `${rowHeight}px`, lg: `${height}px` })

const FigureRow = ({ settlement, item, index, height, lit, onPoint, onLines }: FigureRowProps) => {
  const { row } = item
  const name = kindText(row.kind, row.category)
  const states = [lit(item) ? 'selected' : '', row.blocked ? 'waiting' : '', row.kind === 'payout' ? 'total' : '']
  const trace = {
    at: 'statement',
    source: settlement.source,
    key: settlement.key,
    currency: settlement.currency,
    kind: row.kind,
    ...(row.category ? { category: row.category } : {}),
  } as const
  return (
    <Table.Row data-tone={states.join(' ')} onMouseEnter={() => onPoint(index)} onFocus={() => onPoint(index)}>
      <Table.Cell h={tall(height)}>
        {row.blocked ? (
          <Span color="ochre" aria-hidden="true">
            ◆{' '}
          </Span>
        ) : null}
        {row.kind === 'payout' && settlement.payoutDate ? `Payout ${dateText(settlement.payoutDate)}` : name}
        {row.blocked ? (
          <Span color="ochre" textStyle="small">
            {' '}
            {reasonText(row.blocked)}
          </Span>
        ) : null}
        {row.matched ? (
          <Span color="muted" textStyle="small">
            {' '}
            booked with its order
          </Span>
        ) : null}
      </Table.Cell>
      <Table.Cell textAlign="end">
        <Button
          variant="ghost"
          color="inherit"
          aria-label={`Show the ${row.lines} lines of ${name}`}
          onClick={() => onLines(index)}
        >
          {row.lines.toLocaleString('en-IE')}
        </Button>
      </Table.Cell>
      <Table.Cell textAlign="end">
        <Amount minor={row.amount} currency={settlement.currency} trace={trace} />
      </Table.Cell>
    </Table.Row>
  )
}
