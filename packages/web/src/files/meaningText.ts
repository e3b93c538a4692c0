import type { columnMeanings, DateOrder, NumberStyle } from '@culvert/core'

const texts: Record<string, string> = {
  line_id: 'its number',
  occurred_at: 'day',
  paid_at: 'paid at',
  sent_at: 'dispatched at',
  available_at: 'available at',
  kind: 'kind',
  order_id: 'order',
  settlement_id: 'settlement',
  method: 'card brand',
  gateway: 'paid by',
  category: 'category',
  sku: 'SKU',
  description: 'description',
  quantity: 'quantity',
  unit_price: 'unit price',
  location: 'location',
  region: 'country',
  customer: 'customer',
  email: 'e-mail',
  ship_to: 'delivery address',
  currency: 'currency',
  status: 'state',
  tax_label: 'tax rate',
  tax_amount: 'tax in it',
  gross: 'gross',
  fee: 'fee',
  net: 'net',
  amount: 'amount',
  credit: 'money in',
  debit: 'money out',
  balance: 'balance after it',
  account: 'account',
  date: 'day',
  value_date: 'value day',
  period_start: 'begins',
  period_end: 'ends',
  opening_balance: 'opening balance',
  closing_balance: 'closing balance',
  payout_date: 'paid out on',
  payout_reference: 'payout reference',
  url: 'its page',
  at: 'day',
  available: 'available',
  pending: 'pending',
  reserve: 'held back',
  reference: 'reference',
}

/** What a column means, for a person. */
export const meaningText = (meaning: string): string => texts[meaning] ?? meaning

export type AnyMeaning = (typeof columnMeanings)['activity' | 'bank' | 'settlements' | 'balances'][number]

/** A number as a style writes it. */
export const styleText = ({ decimal, thousands }: NumberStyle): string => `1${thousands}234${decimal}50`

const orderWords: Record<DateOrder, string> = {
  ymd: 'year, month, day',
  dmy: 'day, month, year',
  mdy: 'month, day, year',
}
export const orderText = (order: DateOrder): string => orderWords[order]
