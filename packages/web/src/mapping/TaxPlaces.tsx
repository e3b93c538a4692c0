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
    <table className="sheet" aria-label="Tax by destination" style={{ marginBottom: 18 }}>
      <thead>
        <tr>
          <th>Where, what, since when</th>
          <th className="right">Lines</th>
          <th className="right">Base</th>
          <th className="right">Booked</th>
          <th>as</th>
          <th className="right">By the grid</th>
          <th>as</th>
          <th className="right">Stated</th>
          <th className="right">Difference</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {places.map(place => {
          const faults = taxPlaceFaults(place)
          const { region, class: name, since, currency } = place
          return (
            <tr key={`${currency} ${region} ${name} ${since}`}>
              <td>{taxPlaceText(place)}</td>
              <td className="right">
                <button
                  type="button"
                  className="linklike"
                  aria-label={`List ${countText(place.lines, 'line')} of ${taxPlaceText(place)}`}
                  onClick={() =>
                    onOpen({ title: taxPlaceText(place), currency, place: { region, class: name, since } })
                  }
                >
                  {place.lines}
                </button>
              </td>
              <td className="right">
                <Amount minor={place.base} currency={currency} />
              </td>
              <td className="right">
                <Amount minor={place.booked} currency={currency} />
              </td>
              <td className="mono small">{place.bookedCodes.map(code => code || 'no tax').join(', ')}</td>
              <td className="right">
                <Amount minor={place.byGrid} currency={currency} />
              </td>
              <td className="mono small">{place.gridCodes.map(code => code || 'no tax').join(', ')}</td>
              <td className="right">
                <Amount minor={place.stated} currency={currency} />
              </td>
              <td className={`right ${place.difference !== 0 ? 'ochre strong' : 'muted'}`}>
                <Amount minor={place.difference} currency={currency} />
              </td>
              <td className="ochre small wrap">
                {faults.length > 0 ? `◆ ${faults.join('; ')}` : ''}
                {place.open !== 0 ? (
                  <>
                    {': '}
                    <Amount minor={place.open} currency={currency} />
                  </>
                ) : null}
              </td>
            </tr>
          )
        })}
        {places.length === 0 ? (
          <tr>
            <td colSpan={10} className="muted">
              Nothing was sold or paid back this month.
            </td>
          </tr>
        ) : null}
      </tbody>
    </table>
  </>
)

const Hanging = ({ hanging, onOpen }: Pick<TaxPlacesProps, 'hanging' | 'onOpen'>) =>
  hanging.flatMap(one => [
    ...(one.lostLines > 0
      ? [
          <p key={`lost ${one.currency}`} className="ochre" style={{ margin: '0 0 8px' }}>
            ◆ {countText(one.lostLines, 'line')} went back, and no sale is known that they undo:{' '}
            <Amount
              minor={one.lost}
              currency={one.currency}
              signed
              onOpen={() => onOpen({ title: 'Gone back to no known sale', currency: one.currency, hanging: 'lost' })}
            />
            , taxed as of their own day and place
          </p>,
        ]
      : []),
    ...(one.unsplitLines > 0
      ? [
          <p key={`unsplit ${one.currency}`} className="ochre" style={{ margin: '0 0 8px' }}>
            ◆ {countText(one.unsplitLines, 'line')} of postage and the like have no goods in their order to follow:{' '}
            <Amount
              minor={one.unsplit}
              currency={one.currency}
              signed
              onOpen={() => onOpen({ title: 'Without goods to follow', currency: one.currency, hanging: 'unsplit' })}
            />
          </p>,
        ]
      : []),
  ])
