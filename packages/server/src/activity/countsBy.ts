import {
  cutOffMinutes,
  type DateBasis,
  dateBases,
  defaultOptions,
  type SourceOptions,
  type Zone,
  zoneOf,
} from '@culvert/core'
import { is } from '../database/rows.ts'
import type { ClientSetup } from '../setup/loadSetup.ts'

/** By what a source's lines count: which of their moments, and where and until when the day of it runs; null: as the client's. */
export type CountsBy = Pick<SourceOptions, 'dateBasis' | 'cutOff' | 'timeZone'>

/** How the options of a source that say so are read; one that was not known when they were saved is missing. */
export const countsByShape = {
  dateBasis: is.optional(is.oneOf(...dateBases)),
  cutOff: is.optional(is.maybe(is.text)),
  timeZone: is.optional(is.maybe(is.text)),
}

/** The part of options that lines count by, with the defaults. */
export const countsBy = (options: {
  readonly dateBasis?: DateBasis | undefined
  readonly cutOff?: string | null | undefined
  readonly timeZone?: string | null | undefined
}): CountsBy => ({
  dateBasis: options.dateBasis ?? defaultOptions.dateBasis,
  cutOff: options.cutOff ?? defaultOptions.cutOff,
  timeZone: options.timeZone ?? defaultOptions.timeZone,
})

export const isSameCounting = (one: CountsBy, other: CountsBy): boolean =>
  one.dateBasis === other.dateBasis && one.cutOff === other.cutOff && one.timeZone === other.timeZone

/** The zone that a source's lines have their local dates in, and its cut-off, minutes after midnight. */
export const daysOf = (
  client: Pick<ClientSetup, 'zone' | 'cutOff'>,
  { cutOff, timeZone }: Pick<CountsBy, 'cutOff' | 'timeZone'>,
): { readonly zone: Zone; readonly cutOff: number } => ({
  zone: timeZone === null ? client.zone : zoneOf(timeZone),
  cutOff: cutOff === null ? client.cutOff : cutOffMinutes(cutOff),
})
