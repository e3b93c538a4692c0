import type { ActivityLine } from '../activity/activityLine.ts'
import { isCollection, isTender } from '../activity/kindTraits.ts'
import type { Zone } from '../activity/zone.ts'

/** A channel's tender or a gateway's collection: what tie-out looks at of a line. Amounts in minor units. */
export interface TieOutLine
  extends Pick<
    ActivityLine,
    'source' | 'lineId' | 'kind' | 'currency' | 'orderId' | 'relatedId' | 'gateway' | 'amount' | 'instant' | 'customer'
  > {
  readonly localDate: string
}

/** Those of the lines that tie-out looks at. */
export const tieOutLines = (lines: readonly ActivityLine[], zone: Zone): TieOutLine[] =>
  lines
    .filter(line => isTender(line.kind) || isCollection(line.kind))
    .map(line => ({ ...line, localDate: zone.localDate(line.instant) }))
