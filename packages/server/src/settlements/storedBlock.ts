import { is } from '../database/rows.ts'

/** Reads a block as it is kept with its settlement; the first ones named neither routes nor counts of what they concern. */
export const storedBlock = is.record({
  reason: is.text,
  amount: is.minor,
  concerned: is.since(
    is.list(
      is.record({
        kind: is.kind,
        category: is.maybe(is.text),
        amount: is.minor,
        count: is.since(is.whole, 0),
        route: is.since(is.maybe(is.whole), null),
      }),
    ),
    [],
  ),
  entry: is.optional(is.text),
  orders: is.optional(is.list(is.record({ lineId: is.text, amount: is.minor, source: is.text, order: is.text }))),
  awaits: is.optional(is.list(is.record({ source: is.text, pulledTo: is.maybe(is.text) }))),
})
