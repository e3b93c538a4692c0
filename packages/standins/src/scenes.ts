import type { Row, Shop } from './store.ts'

/** Things that happen at a shop, set off by hand. */
export const scenes = {
  refund: 'a buyer is paid back',
  chargeback: 'a buyer’s bank takes the money back',
  late_correction: 'a price of a settlement that was paid out is corrected',
  new_category: 'something is sold of a category never seen before',
} as const
export type Scene = keyof typeof scenes
export const isScene = (name: string): name is Scene => name in scenes

const shifted = (row: Row, cents: number): Row => ({
  ...row,
  amount: (Math.round(Number(row.amount) * 100 + cents) / 100).toFixed(2),
})

/** Lines that a scene adds to a shop: new ones, or earlier ones told again with other amounts. Empty where nothing there could have it. */
export const linesOf = (scene: Scene, shop: Shop, at: Date): Row[] => {
  const paidOut = new Set(shop.settlements.map(one => one.settlement_id))
  const sales = shop.lines.filter(line => line.kind === 'sale' && Number(line.amount) > 5)
  const last = sales.at(-1)
  if (!last) return []
  // What happens from now on is of a settlement that is not closed yet.
  const open: Row = {
    settlement_id: (last.settlement_id ?? '') === '' ? '' : `${at.toISOString().slice(0, 10)}-open`,
    occurred_at: at.toISOString().replace(/\.\d+Z$/, 'Z'),
    currency: last.currency ?? '',
  }
  const id = (name: string) => `S${at.getTime()}-${name}`
  const order = last.order_id ?? ''
  switch (scene) {
    case 'refund':
      return [
        {
          ...last,
          ...open,
          line_id: id('refund'),
          kind: 'refund',
          amount: (-Number(last.amount)).toFixed(2),
          tax_amount: last.tax_amount ? (-Number(last.tax_amount)).toFixed(2) : '',
          related_id: last.line_id ?? '',
        },
      ]
    case 'chargeback':
      return [
        {
          ...open,
          line_id: id('chargeback'),
          kind: 'chargeback',
          order_id: order,
          amount: (-Number(last.amount)).toFixed(2),
        },
        { ...open, line_id: id('fee'), kind: 'chargeback_fee', order_id: order, amount: '-15.00' },
      ]
    case 'new_category':
      return [
        {
          ...last,
          ...open,
          line_id: id('sale'),
          order_id: id('order'),
          category: 'Found objects',
          sku: '',
          customer: '',
          email: '',
        },
      ]
    case 'late_correction': {
      const of = sales.filter(line => paidOut.has(line.settlement_id))
      const sale = of.at(-1)
      const fee = shop.lines.find(line => line.kind === 'selling_fee' && line.order_id === sale?.order_id)
      // What the settlement comes to stays; what it is made of does not.
      return sale && fee ? [shifted(sale, 100), shifted(fee, -100)] : []
    }
  }
}
