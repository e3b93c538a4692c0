import { addDays } from '../activity/localDate.ts'
import { daysOfGrace } from './oneSided.ts'

/** A channel that reports tenders by a gateway, and the local date up to which it is pulled; null: never. */
export interface ChannelReach {
  readonly source: string
  readonly pulledTo: string | null
}

/**
 * The channels that a gateway's settlement waits for: those not pulled two days past its last collection, whose order could still
 * come. A settlement without collections that are still to be matched waits for none.
 */
export const awaitedChannels = (lastCollection: string | null, channels: readonly ChannelReach[]): ChannelReach[] =>
  lastCollection === null
    ? []
    : channels.filter(({ pulledTo }) => pulledTo === null || pulledTo < addDays(lastCollection, daysOfGrace))
