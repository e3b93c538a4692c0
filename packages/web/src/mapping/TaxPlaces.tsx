import { Box, Button, chakra, Span } from '@chakra-ui/react'
import type { TaxCheckPage } from '@culvert/contract'
import { Amount } from '../ui/Amount.tsx'
import { countText } from '../ui/formats.ts'
import type { SheetColumn } from '../ui/sheet/column.ts'
import { SheetTable } from '../ui/sheet/SheetTable.tsx'
import type { TaxLinesOf } from './taxPlaceText.ts'
import { type TaxPlace, taxPlaceFaults, taxPlaceText } from './taxPlaceText.ts'

interface TaxPlacesProps {
  readonly places: readonly TaxPlace[]
  readonly hanging: TaxCheckPage['hanging']
  readonly onOpen: (lines: TaxLinesOf) => void
}

const codesText = (codes: readonly (string | null)[]): string => codes.map(code => code || 'no tax').join(', ')

const placeColumns = (onOpen: TaxPlacesProps['onOpen']): readonly SheetColumn<TaxPlace>[] => {
  const open = (place: TaxPlace) => () =>
    onOpen({
      title: taxPlaceText(place),
      currency: place.currency,
      place: { region: place.region, class: place.class, since: place.since },
    })
  const amount = (id: 'base' | 'booked' | 'byGrid' | 'stated', head: string): SheetColumn<TaxPlace> => ({
    id,
    head,
    right: true,
    money: place => ({ minor: place[id], currency: place.currency }),
    // The lines that it is made of: each of them can be traced from there.
    cell: place => <Amount minor={place[id]} currency={place.currency} onOpen={open(place)} />,
  })
  return [
    { id: 'where', head: 'Where, what, since when', value: taxPlaceText, cell: taxPlaceText },
    {
      id: 'lines',
      head: 'Lines',
      right: true,
      value: place => place.lines,
      cell: place => (
        <Button
          variant="ghost"
          aria-label={`List ${countText(place.lines, 'line')} of ${taxPlaceText(place)}`}
          onClick={open(place)}
        >
          {place.lines}
        </Button>
      ),
    },
    amount('base', 'Base'),
    amount('booked', 'Booked'),
    { id: 'bookedAs', head: 'as', ...codesOf(place => place.bookedCodes) },
    amount('byGrid', 'By the grid'),
    { id: 'gridAs', head: 'as', ...codesOf(place => place.gridCodes) },
    amount('stated', 'Stated'),
    {
      id: 'difference',
      head: 'Difference',
      right: true,
      money: place => ({ minor: place.difference, currency: place.currency }),
      cell: place => (
        <Span
          color={place.difference !== 0 ? 'ochre' : 'muted'}
          fontWeight={place.difference !== 0 ? '600' : undefined}
        >
          <Amount minor={place.difference} currency={place.currency} onOpen={open(place)} />
        </Span>
      ),
    },
    {
      id: 'faults',
      head: '',
      wraps: true,
      words: true,
      value: place => taxPlaceFaults(place).join('; '),
      cell: place => <PlaceFaults place={place} onOpen={open(place)} />,
    },
  ]
}

const codesOf = (codes: (place: TaxPlace) => readonly (string | null)[]) => ({
  mono: true,
  value: (place: TaxPlace) => codesText(codes(place)),
  cell: (place: TaxPlace) => <Span fontSize="12.5px">{codesText(codes(place))}</Span>,
})

const PlaceFaults = ({ place, onOpen }: { readonly place: TaxPlace; readonly onOpen: () => void }) => {
  const faults = taxPlaceFaults(place)
  return (
    <Span color="ochre" textStyle="small">
      {faults.length > 0 ? `◆ ${faults.join('; ')}` : ''}
      {place.open !== 0 ? (
        <>
          {': '}
          <Amount minor={place.open} currency={place.currency} onOpen={onOpen} />
        </>
      ) : null}
    </Span>
  )
}

/** A month's supplies by destination, class and period: what is booked beside what the grid says. */
export const TaxPlaces = ({ places, hanging, onOpen }: TaxPlacesProps) => (
  <>
    <Hanging hanging={hanging} onOpen={onOpen} />
    <Box mb="18px">
      <SheetTable
        label="Tax by destination"
        columns={placeColumns(onOpen)}
        rows={places}
        rowKey={place => `${place.currency} ${place.region} ${place.class} ${place.since}`}
        tone={place => (taxPlaceFaults(place).length > 0 ? 'waiting' : undefined)}
        empty="Nothing was sold or paid back this month."
      />
    </Box>
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
