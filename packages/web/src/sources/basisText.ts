import type { SourceOptionsBody } from '@culvert/contract'

/** Which day of a line counts, in words. */
export const basisText: Record<SourceOptionsBody['dateBasis'], string> = {
  order: 'the day of the order',
  payment: 'the day of payment',
  dispatch: 'the day of dispatch',
  first: 'the first of payment and dispatch',
}
