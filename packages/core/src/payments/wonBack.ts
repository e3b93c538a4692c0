/** A chargeback, or a reversal of one, of one source and currency. Minor units as the source signs them. */
export interface DisputeMove {
  readonly lineId: string
  readonly orderId: string | null
  readonly relatedId: string | null
  readonly amount: number
}

/**
 * What came back of each chargeback, by its line id, minor units: of a reversal that names a chargeback all of it, of one that names an order only
 * what the order's chargebacks still lack, in the order given. No reversal counts twice.
 */
export const wonBack = (
  chargebacks: readonly DisputeMove[],
  reversals: readonly DisputeMove[],
): ReadonlyMap<string, number> => {
  const won = new Map(chargebacks.map(one => [one.lineId, 0]))
  const byOrder: DisputeMove[] = []
  for (const reversal of reversals) {
    const before = reversal.relatedId === null ? undefined : won.get(reversal.relatedId)
    if (before === undefined || reversal.relatedId === null) byOrder.push(reversal)
    else won.set(reversal.relatedId, before + reversal.amount)
  }
  for (const { orderId, amount } of byOrder) {
    let rest = amount
    for (const one of orderId === null ? [] : chargebacks.filter(candidate => candidate.orderId === orderId)) {
      const before = won.get(one.lineId) ?? 0
      const taken = Math.max(0, Math.min(rest, -one.amount - before))
      won.set(one.lineId, before + taken)
      rest -= taken
    }
  }
  return won
}
