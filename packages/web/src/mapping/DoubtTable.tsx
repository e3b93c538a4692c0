import { Flex } from '@chakra-ui/react'
import type { TaxDoubt } from '@culvert/contract'
import { kinds } from '@culvert/core'
import { Amount } from '../ui/Amount.tsx'
import { Button } from '../ui/Button.tsx'
import { Select } from '../ui/Input.tsx'
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
        To decide <span className="muted small">routes still decide tax; here rows would say something else</span>
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
    <table className="sheet" aria-label="What rows would say otherwise">
      <thead>
        <tr>
          <th>What</th>
          <th>Route today</th>
          <th>Its code</th>
          <th>By rows</th>
          <th className="right">{currency}</th>
          <th style={{ width: 260 }}>From now on</th>
        </tr>
      </thead>
      <tbody>
        {doubts.map(doubt => (
          <tr key={doubtKey(doubt)}>
            <td>{placeText(doubt)}</td>
            <td className="wrap small">
              {doubt.routeText}
              {doubt.by ? <div className="muted">{hangsOn[doubt.by]}</div> : null}
            </td>
            <td className="mono">{doubt.today ?? 'no tax'}</td>
            <td className="mono">{doubt.unserved ? 'not decided' : (doubt.byRows ?? 'no tax')}</td>
            <td className="right">
              <Amount minor={doubt.amount} currency={currency} />
            </td>
            <td>
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
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  </section>
)
