import type { AccountRow, TaxCodeRow } from '@culvert/contract'

/** A tax code to begin from: of sales, within the price, owed on the first tax account. */
export const blankTaxCode = (accounts: readonly AccountRow[]): TaxCodeRow => ({
  code: '',
  name: '',
  basis: 'inclusive',
  use: 'sales',
  treatment: 'taxed',
  reverseCharge: false,
  country: null,
  recovery: [],
  components: [
    {
      name: 'VAT',
      account: accounts.find(account => account.type === 'tax')?.code ?? '',
      inputAccount: null,
      compound: false,
      rates: [{ from: '2020-01-01', percent: '' }],
    },
  ],
})
