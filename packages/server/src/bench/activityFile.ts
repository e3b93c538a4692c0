import { once } from 'node:events'
import { createWriteStream } from 'node:fs'
import { addDays, formatAmount } from '@culvert/core'

/** Weekly settlements of three sorts of line per order, written to files without being held. */
export interface MadeFile {
  readonly lines: string
  readonly heads: string
  readonly rows: number
}

const euros = (minor: number): string => formatAmount(minor, 'EUR')
const categories = ['Tableware', 'Glaze kits', 'Classes', 'Books']
const regions = ['IE', 'DE', 'FR', 'CA-QC']

/** Of so many orders one holds goods of a second category, and one is paid back. */
const mixedEvery = 12
const refundedEvery = 33

const week = (
  index: number,
  orders: number,
  baskets: boolean,
): { readonly lines: string; readonly head: string; readonly rows: number } => {
  const monday = addDays('2026-01-05', 7 * (index % 52))
  const id = `W-${String(index + 1).padStart(5, '0')}`
  let sum = 0
  let text = ''
  let rows = 0
  const add = (name: string, more: string, amount: number, at: string): void => {
    sum += amount
    rows++
    text += `${id}-${name},${id},${at},${more},EUR,${euros(amount)}\n`
  }
  for (let order = 0; order < orders; order++) {
    const at = `${addDays(monday, order % 6)}T10:${String(order % 60).padStart(2, '0')}:00Z`
    const routed = `${index}-${order},${categories[order % 4]},${regions[(order >> 2) % 4]}`
    // No two settlements come to the same amount: they would look like doubles.
    add(`${order}s`, `sale,${routed}`, order === 0 ? 1_000_000 + index : 1000 + ((order * 113) % 9000), at)
    // Postage that names no goods goes along with those of its order.
    const posted = baskets ? `${index}-${order},,${regions[(order >> 2) % 4]}` : routed
    add(`${order}h`, `shipping,${posted}`, 650, at)
    if (baskets && order % mixedEvery === 5) {
      const other = `${index}-${order},${categories[(order + 1) % 4]},${regions[(order >> 2) % 4]}`
      add(`${order}t`, `sale,${other}`, 1500, at)
    }
    if (baskets && order % refundedEvery === 7) add(`${order}r`, `refund,${routed}`, -700, at)
    add(`${order}f`, `selling_fee,${routed}`, -(120 + ((order * 7) % 90)), at)
  }
  add('p', `payout,,,`, -sum, `${addDays(monday, 6)}T21:00:00Z`)
  const head = [id, monday, addDays(monday, 6), 'EUR', '0.00', '0.00', addDays(monday, 8), `OHP-${id}`].join(',')
  return { lines: text, head: `${head}\n`, rows }
}

/** Writes `settlements` weeks of `orders` orders each to activity.csv and settlements.csv under `prefix`; with `baskets`, orders of several goods with postage that follows them, and refunds. */
export const writeActivity = async (
  prefix: string,
  settlements: number,
  orders: number,
  { baskets = false }: { readonly baskets?: boolean } = {},
): Promise<MadeFile> => {
  const made = { lines: `${prefix}activity.csv`, heads: `${prefix}settlements.csv`, rows: 0 }
  const lines = createWriteStream(made.lines)
  const heads = createWriteStream(made.heads)
  lines.write('line_id,settlement_id,occurred_at,kind,order_id,category,region,currency,amount\n')
  heads.write(
    'settlement_id,period_start,period_end,currency,opening_balance,closing_balance,payout_date,payout_reference\n',
  )
  for (let index = 0; index < settlements; index++) {
    const written = week(index, orders, baskets)
    made.rows += written.rows
    heads.write(written.head)
    if (!lines.write(written.lines)) await once(lines, 'drain')
  }
  await Promise.all([lines, heads].map(stream => new Promise(resolve => stream.end(resolve))))
  return made
}
