import { Button, chakra, Table } from '@chakra-ui/react'
import type { TaxCheckPage } from '@culvert/contract'
import { Amount } from '../ui/Amount.tsx'
import { countText } from '../ui/formats.ts'
import type { TaxLinesOf } from './taxPlaceText.ts'
import { type TaxPlace, taxPlaceFaults, taxPlaceText } from './taxPlaceText.ts'

interface TaxPlacesProps {
  readonly places: readonly TaxPlace[]
  readonly hanging: TaxCheckPage['hanging']
  readonly onOpen: (lines: TaxLinesOf) => void
}

/** A month's supplies by destination, class and period: what is booked beside what the grid says. */
export const TaxPlaces = ({ places, hanging, onOpen }: TaxPlacesProps) => (
  <>
    <Hanging hanging={hanging} onOpen={onOpen} />
    <Table.Root aria-label="Tax by destination" style={{ marginBottom: 18 }}>
      <Table.Header>
        <Table.Row>
          <Table.ColumnHeader>Where, what, since when</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end">Lines</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end">Base</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end">Booked</Table.ColumnHeader>
          <Table.ColumnHeader>as</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end">By the grid</Table.ColumnHeader>
          <Table.ColumnHeader>as</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end">Stated</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end">Difference</Table.ColumnHeader>
          <Table.ColumnHeader />
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {places.map(place => {
          const faults = taxPlaceFaults(place)
          const { region, class: name, since, currency } = place
          return (
            <Table.Row key={`${currency} ${region} ${name} ${since}`}>
              <Table.Cell>{taxPlaceText(place)}</Table.Cell>
              <Table.Cell textAlign="end">
                <Button
                  variant="ghost"
                  aria-label={`List ${countText(place.lines, 'line')} of ${taxPlaceText(place)}`}
                  onClick={() =>
                    onOpen({ title: taxPlaceText(place), currency, place: { region, class: name, since } })
                  }
                >
                  {place.lines}
                </Button>
              </Table.Cell>
              <Table.Cell textAlign="end">
                <Amount minor={place.base} currency={currency} />
              </Table.Cell>
              <Table.Cell textAlign="end">
                <Amount minor={place.booked} currency={currency} />
              </Table.Cell>
              <Table.Cell textStyle="mono" fontSize="12.5px" data-words="">
                {place.bookedCodes.map(code => code || 'no tax').join(', ')}
              </Table.Cell>
              <Table.Cell textAlign="end">
                <Amount minor={place.byGrid} currency={currency} />
              </Table.Cell>
              <Table.Cell textStyle="mono" fontSize="12.5px" data-words="">
                {place.gridCodes.map(code => code || 'no tax').join(', ')}
              </Table.Cell>
              <Table.Cell textAlign="end">
                <Amount minor={place.stated} currency={currency} />
              </Table.Cell>
              <Table.Cell
                textAlign="end"
                color={place.difference !== 0 ? 'ochre' : 'muted'}
                fontWeight={place.difference !== 0 ? '600' : 'inherit'}
              >
                <Amount minor={place.difference} currency={currency} />
              </Table.Cell>
              <Table.Cell color="ochre" whiteSpace="normal" lineHeight="1.25" textStyle="small" data-words="">
                {faults.length > 0 ? `◆ ${faults.join('; ')}` : ''}
                {place.open !== 0 ? (
                  <>
                    {': '}
                    <Amount minor={place.open} currency={currency} />
                  </>
                ) : null}
              </Table.Cell>
            </Table.Row>
          )
        })}
        {places.length === 0 ? (
          <Table.Row>
            <Table.Cell colSpan={10} color="muted">
              Nothing was sold or paid back this month.
            </Table.Cell>
          </Table.Row>
        ) : null}
      </Table.Body>
    </Table.Root>
  </>
)

const Hanging = ({ hanging, onOpen }: Pick<TaxPlacesProps, 'hanging' | 'onOpen'>) =>
  hanging.flatMap(one => [
    ...(one.lostLines > 0
      ? [
          <chakra.p key={`lost ${one.currency}`} color="ochre" style={{ margin: '0 0 8px' }}>
            ◆ {countText(one.lostLines, 'line')} went back, and no sale is known that they undo:{' '}
            <Amount
              minor={one.lost}
              currency={one.currency}
              signed
              onOpen={() => onOpen({ title: 'Gone back to no known sale', currency: one.currency, hanging: 'lost' })}
            />
            , taxed as of their own day and place
          </chakra.p>,
        ]
      : []),
    ...(one.unsplitLines > 0
      ? [
          <chakra.p key={`unsplit ${one.currency}`} color="ochre" style={{ margin: '0 0 8px' }}>
            ◆ {countText(one.unsplitLines, 'line')} of postage and the like have no goods in their order to follow:{' '}
            <Amount
              minor={one.unsplit}
              currency={one.currency}
              signed
              onOpen={() => onOpen({ title: 'Without goods to follow', currency: one.currency, hanging: 'unsplit' })}
            />
          </chakra.p>,
        ]
      : []),
  ])
