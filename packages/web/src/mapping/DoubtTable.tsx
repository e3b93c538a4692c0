import { Button, chakra, Flex, Span } from '@chakra-ui/react'
import type { TaxDoubt } from '@culvert/contract'
import { kinds } from '@culvert/core'
import { Amount } from '../ui/Amount.tsx'
import { Select } from '../ui/Select.tsx'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import type { GridLinesOf } from './GridLines.tsx'
import { doubtKey } from './useTaxDraft.ts'

interface DoubtTableProps {
  readonly doubts: readonly TaxDoubt[]
  readonly decided: ReadonlyMap<string, 'today' | 'rows'>
  readonly currency: string
  readonly onLines: (of: GridLinesOf) => void
  readonly onDecide: (doubts: readonly TaxDoubt[], to: 'today' | 'rows') => void
}

const hangsOn: Record<NonNullable<TaxDoubt['by']>, string> = {
  location: 'hangs on the location, which rows do not ask for: an ordered rule can',
  method: 'hangs on the card brand, which rows do not ask for: an ordered rule can',
  gateway: 'hangs on the means of payment, which rows do not ask for: an ordered rule can',
  item: 'comes with the item; rows ask for a class',
  sku_and_category: 'names a SKU and a category at once',
}

const placeText = ({ place }: Pick<TaxDoubt, 'place'>): string =>
  [
    kinds[place.kind].label,
    place.category ?? (place.class || null),
    place.label && `“${place.label}”`,
    place.region && `to ${place.region}`,
  ]
    .filter(Boolean)
    .join(' · ')

const todayText = ({ today }: TaxDoubt): string => today ?? 'no tax'
const byRowsText = ({ unserved, byRows }: TaxDoubt): string => (unserved ? 'not decided' : (byRows ?? 'no tax'))

const linesOf = ({ routeText: _route, amount: _amount, lines: _lines, ...doubt }: TaxDoubt): GridLinesOf => ({
  title: placeText({ place: doubt.place }),
  asked: { of: 'doubt', doubt },
})

const doubtColumns = (currency: string, onLines: DoubtTableProps['onLines']): readonly SheetColumn<TaxDoubt>[] => [
  { id: 'what', head: 'What', cell: placeText, value: placeText },
  {
    id: 'route',
    head: 'Route today',
    wraps: true,
    cell: doubt => (
      <Span textStyle="small">
        {doubt.routeText}
        {doubt.by ? <chakra.div color="muted">{hangsOn[doubt.by]}</chakra.div> : null}
      </Span>
    ),
    value: doubt => doubt.routeText,
  },
  { id: 'today', head: 'Its code', mono: true, cell: todayText, value: todayText },
  { id: 'rows', head: 'By rows', mono: true, cell: byRowsText, value: byRowsText },
  {
    id: 'amount',
    head: currency,
    right: true,
    money: doubt => ({ minor: doubt.amount, currency }),
    cell: doubt => (
      <Amount
        minor={doubt.amount}
        currency={currency}
        {...(doubt.lines > 0 && { onOpen: () => onLines(linesOf(doubt)) })}
      />
    ),
  },
]

interface DecideProps {
  readonly doubt: TaxDoubt
  readonly value: string
  readonly onChange: (to: 'today' | 'rows') => void
}

const Decide = ({ doubt, value, onChange }: DecideProps) => (
  <Select
    aria-label={`Decide ${placeText(doubt)}`}
    value={value}
    onChange={event => onChange(event.target.value as 'today' | 'rows')}
  >
    <option value="" disabled>
      ◆ to decide
    </option>
    {doubt.by === null ? <option value="today">keep {doubt.today ?? 'no tax'} here</option> : null}
    <option value="rows">
      {doubt.unserved ? 'as the grid says; blocked until it does' : `as its place: ${doubt.byRows ?? 'no tax'}`}
    </option>
  </Select>
)

/** What bears another code by rows than by its route today: each is decided before rows decide anything. */
export const DoubtTable = ({ doubts, decided, currency, onLines, onDecide }: DoubtTableProps) => (
  <section aria-label="To decide" style={{ marginBottom: 18 }}>
    <Flex align="center" gap="10px" mb="6px">
      <h2 style={{ fontSize: 15, fontWeight: 600, margin: 0, flex: 1 }}>
        To decide{' '}
        <Span color="muted" textStyle="small">
          routes still decide tax; here rows would say something else
        </Span>
      </h2>
      <Button onClick={() => onDecide(doubts, 'rows')}>All as their place says</Button>
      <Button
        onClick={() =>
          onDecide(
            doubts.filter(doubt => doubt.by === null),
            'today',
          )
        }
      >
        Keep all as today
      </Button>
    </Flex>
    <SheetTable
      scope="doubt-"
      label="What rows would say otherwise"
      columns={[
        ...doubtColumns(currency, onLines),
        {
          id: 'decide',
          head: 'From now on',
          width: '260px',
          cell: doubt => (
            <Decide doubt={doubt} value={decided.get(doubtKey(doubt)) ?? ''} onChange={to => onDecide([doubt], to)} />
          ),
        },
      ]}
      rows={doubts}
      rowKey={doubtKey}
    />
  </section>
)
