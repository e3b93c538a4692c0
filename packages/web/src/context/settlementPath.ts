import type { SettlementKeyBody } from '@culvert/contract'

/** Where a settlement's page is, within its client. */
export const settlementPath = ({ source, key, currency }: SettlementKeyBody): string =>
  `/settlements/${encodeURIComponent(source)}/${encodeURIComponent(key)}/${currency}`
