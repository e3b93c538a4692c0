import type { ConnectableSort, GrantEnd, GrantScope, ShopRow } from '@culvert/contract'

const scopeWords: Readonly<Record<GrantScope, string>> = {
  activity: 'orders, fees, refunds and payouts',
  settlements: 'settlements and their balances',
  balances: 'what the account holds',
  buyers: 'of buyers the name and country',
  statements: 'lines of bank accounts',
  lists: 'accounts, tax codes, contacts, items, balances and open invoices',
}

/** What may be read, as the end of a sentence. */
export const scopesText = (scopes: readonly GrantScope[]): string => {
  const words = scopes.map(scope => scopeWords[scope])
  return words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')}, and ${words.at(-1)}`
}

/** What is never done, whatever is granted. */
export const neverText = (scopes: readonly GrantScope[]): string =>
  scopes.includes('activity')
    ? 'changes an order, a price or stock, moves money, or writes to a buyer'
    : 'changes anything there, or moves money'

/** What a service of a sort is asked for. */
export const askedOf = (sort: ConnectableSort | undefined): readonly GrantScope[] =>
  sort === 'bank' ? ['statements'] : sort === 'ledger' ? ['lists'] : ['activity', 'settlements', 'balances', 'buyers']

/** How it ended, after the name of the service. */
export const endText: Readonly<Record<GrantEnd, string>> = {
  refused: 'refused',
  withdrawn: 'withdrawn there, or run out',
  over: 'run out',
  disconnected: 'disconnected',
  replaced: 'connected anew',
  not_given: 'asked in vain',
}

const fitWords: Readonly<Record<ShopRow['fit'][number], string>> = {
  name: 'same name',
  country: 'same country',
  currency: 'same currency',
  other_country: 'another country',
  other_currency: 'another currency',
  quiet: 'nothing sold for 90 days',
}

/** What speaks for a shop, or against it. */
export const fitText = ({ serves, fit }: Pick<ShopRow, 'serves' | 'fit'>): string =>
  serves
    ? `serves ${serves.own ? 'this client already' : (serves.client ?? 'another client')}`
    : fit.map(one => fitWords[one]).join(', ')
