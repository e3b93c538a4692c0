import type { TaxCheckPage } from '@culvert/contract'
import { noRegion } from '@culvert/core'
import { dateText } from '../ui/formats.ts'

export type TaxPlace = NonNullable<TaxCheckPage['places']>[number]

/** A region of the grid: one that is named, none that is told, or any. */
export const regionText = (region: string | null): string =>
  region === noRegion ? 'Region not told' : (region ?? 'All other places')

/** Where supplies go, of which class, and since when their rates are what they are. */
export const taxPlaceText = ({ region, class: name, since }: Pick<TaxPlace, 'region' | 'class' | 'since'>): string =>
  [region ?? 'not told where', name || 'no class', since && `since ${dateText(since)}`].filter(Boolean).join(' · ')

/** What is not as it should be with a place; empty: nothing. */
export const taxPlaceFaults = (place: TaxPlace): readonly string[] =>
  [
    place.difference !== 0 ? 'booked is not what the grid says' : null,
    place.foreign !== 0 ? 'tax of another country, not said why' : null,
    place.stated !== null && Math.abs(place.stated - place.byGrid) > place.lines
      ? 'the source charged something else'
      : null,
    // The last, since its money is told after it.
    place.open !== 0 ? 'no code, or no route' : null,
  ].filter(fault => fault !== null)

/** Which lines of a month are listed: of a place, of a code, or what hangs on nothing known. */
export interface TaxLinesOf {
  readonly title: string
  readonly currency: string
  readonly place?: Pick<TaxPlace, 'region' | 'class' | 'since'>
  readonly hanging?: 'lost' | 'unsplit'
  readonly code?: string
  /** What a source charged in a region under a label: what it was worked out on, or the tax. */
  readonly charged?: {
    readonly source: string
    readonly region?: string
    readonly label?: string
    readonly part: 'base' | 'tax'
  }
}
