import type { ActivityLine } from '../activity/activityLine.ts'
import { isCollection, isTender } from '../activity/kinds.ts'
import type { Zone } from '../activity/zone.ts'

/** A channel's tender or a gateway's collection: what tie-out looks at of a line. Amounts in minor units. */
export interface TieOutLine
  extends Pick<
    ActivityLine,
    'source' | 'lineId' | 'kind' | 'currency' | 'orderId' | 'relatedId' | 'gateway' | 'amount' | 'instant' | 'customer'
  > {
  readonly localDate: string
}

/** Which source a channel's label of a means of payment stands for; a label that is missing is a source's own key, or none. */
export type GatewayLabels = ReadonlyMap<string, string>

/** The source that a line's label of a means of payment stands for; null without a label. */
export const gatewayOf = (line: { readonly gateway: string | null }, labels: GatewayLabels): string | null =>
  line.gateway === null ? null : (labels.get(line.gateway) ?? line.gateway)

/** Those of the lines that tie-out looks at. */
export const tieOutLines = (lines: readonly ActivityLine[], zone: Zone): TieOutLine[] =>
  lines
    .filter(line => isTender(line.kind) || isCollection(line.kind))
    .map(line => ({ ...line, localDate: zone.localDate(line.instant) }))
