/** The first free code after the last account of the type: what a new account is offered. */
export const freeCode = (
  accounts: readonly { readonly code: string; readonly type: string }[],
  type: string,
): string => {
  const last = accounts
    .filter(account => account.type === type && /^\d+$/.test(account.code))
    .map(account => Number(account.code))
    .sort((left, right) => left - right)
    .at(-1)
  let code = (last ?? 8990) + 10
  while (accounts.some(account => account.code === String(code))) code++
  return String(code)
}
