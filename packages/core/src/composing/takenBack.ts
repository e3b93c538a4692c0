/** Why a settlement is not taken back: there is nothing of it in the books, or the deposit of a payout of it is confirmed. */
export type NotTakenBack = 'not_posted' | 'paired'

/** Whether a settlement may be taken back: null where it may. `paired`: a payout of it that stands is tied to its deposit. */
export const whyNotTakenBack = (
  settlement: { readonly state: string; readonly paired: boolean } | undefined,
): NotTakenBack | null => {
  if (settlement?.state !== 'posted') return 'not_posted'
  return settlement.paired ? 'paired' : null
}
