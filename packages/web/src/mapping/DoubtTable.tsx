import { Button, chakra, Flex, Span, Table } from '@chakra-ui/react'
import type { TaxDoubt } from '@culvert/contract'
import { kinds } from '@culvert/core'
import { Amount } from '../ui/Amount.tsx'
import { Select } from '../ui/Select.tsx'
import { doubtKey } from './useTaxDraft.ts'

interface DoubtTableProps {
  readonly doubts: readonly TaxDoubt[]
  readonly decided: ReadonlyMap<string, 'today' | 'rows'>
  readonly currency: string
  readonly onDecide: (doubts: readonly TaxDoubt[], to: 'today' | 'rows') => void
}

const hangsOn: Record<NonNullable<TaxDoubt['by']>, string> = {
  location: 'hangs on the location, which rows do not ask for: an ordered rule can',
  method: 'hangs on the card brand, which rows do not ask for: an ordered rule can',
  gateway: 'hangs on the means of payment, which rows do not ask for: an ordered rule can',
  item: 'comes with the item; rows ask for a class',
  sku_and_category: 'names a SKU and a category at once',
}

const placeText = ({ place }: TaxDoubt): string =>
  [
    kinds[place.kind].label,
    place.category ?? (place.class || null),
    place.label && `“${place.label}”`,
    place.region && `to ${place.region}`,
  ]
    .filter(Boolean)
    .join(' · ')

/** What bears another code by rows than by its route today: each is decided before rows decide anything. */
export const DoubtTable = ({ doubts, decided, currency, onDecide }: DoubtTableProps) => (
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
    <Table.Root aria-label="What rows would say otherwise">
      <Table.Header>
        <Table.Row>
          <Table.ColumnHeader>What</Table.ColumnHeader>
          <Table.ColumnHeader>Route today</Table.ColumnHeader>
          <Table.ColumnHeader>Its code</Table.ColumnHeader>
          <Table.ColumnHeader>By rows</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end">{currency}</Table.ColumnHeader>
          <Table.ColumnHeader style={{ width: 260 }}>From now on</Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {doubts.map(doubt => (
          <Table.Row key={doubtKey(doubt)}>
            <Table.Cell>{placeText(doubt)}</Table.Cell>
            <Table.Cell whiteSpace="normal" lineHeight="1.25" textStyle="small" data-words="">
              {doubt.routeText}
              {doubt.by ? <chakra.div color="muted">{hangsOn[doubt.by]}</chakra.div> : null}
            </Table.Cell>
            <Table.Cell textStyle="mono">{doubt.today ?? 'no tax'}</Table.Cell>
            <Table.Cell textStyle="mono">{doubt.unserved ? 'not decided' : (doubt.byRows ?? 'no tax')}</Table.Cell>
            <Table.Cell textAlign="end">
              <Amount minor={doubt.amount} currency={currency} />
            </Table.Cell>
            <Table.Cell>
              <Select
                aria-label={`Decide ${placeText(doubt)}`}
                value={decided.get(doubtKey(doubt)) ?? ''}
                onChange={event => onDecide([doubt], event.target.value as 'today' | 'rows')}
              >
                <option value="" disabled>
                  ◆ to decide
                </option>
                {doubt.by === null ? <option value="today">keep {doubt.today ?? 'no tax'} here</option> : null}
                <option value="rows">
                  {doubt.unserved
                    ? 'as the grid says; blocked until it does'
                    : `as its place: ${doubt.byRows ?? 'no tax'}`}
                </option>
              </Select>
            </Table.Cell>
          </Table.Row>
        ))}
      </Table.Body>
    </Table.Root>
  </section>
)
