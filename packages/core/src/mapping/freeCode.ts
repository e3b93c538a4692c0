/** Where accounts of a type usually stand in a chart that has none yet: after those of another. */
const beside: Readonly<Record<string, string>> = {
  clearing: 'bank',
  card: 'bank',
  current_asset: 'bank',
  inventory: 'receivable',
}

const lastOf = (accounts: Accounts, type: string): number | undefined =>
  accounts
    .filter(account => account.type === type && /^\d+$/.test(account.code))
    .map(account => Number(account.code))
    .sort((left, right) => left - right)
    .at(-1)

type Accounts = readonly { readonly code: string; readonly type: string }[]

/** The first free code after the last account of the type, or of the type beside which it stands: what a new account is offered. */
export const freeCode = (accounts: Accounts, type: string): string => {
  const last = lastOf(accounts, type) ?? lastOf(accounts, beside[type] ?? type) ?? 8990
  let code = last + 10
  while (accounts.some(account => account.code === String(code))) code++
  return String(code)
}
