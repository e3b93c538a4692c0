import type { ConnectableSort, SourceRow } from '@culvert/contract'

/** Sorts of services, as people call them. */
export const serviceText: Readonly<Record<ConnectableSort, string>> = {
  web_shop: 'web shop',
  marketplace: 'marketplace',
  till: 'till',
  card_processor: 'card processor',
  wallet: 'wallet',
  pay_later: 'pay-later',
  cash: 'cash',
  gift_cards: 'gift cards',
  bank: 'bank',
  ledger: 'outside ledger',
}

const shapes: Record<SourceRow['shape'], string> = { combined: 'marketplace', channel: 'channel', gateway: 'gateway' }

/** What sort a source is; where nobody has said, what it is to the books. */
export const sortText = ({ service, shape }: Pick<SourceRow, 'service' | 'shape'>): string =>
  service ? serviceText[service] : shapes[shape]
