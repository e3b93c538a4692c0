import type { ProofPage } from '@culvert/contract'
import { startOfRef } from '../context/startOfLink.ts'
import { useTrace } from '../context/TraceContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { countText, dayText } from '../ui/formats.ts'

/** What a channel reports of its account, order by order: sales not tendered for, tenders without a sale. */
export const OpenOrders = ({ page }: { readonly page: ProofPage }) => {
  const { open } = useTrace()
  const { orders, total } = page.openOrders
  if (total === 0) return null
  return (
    <table className="sheet" aria-label="Orders left open" style={{ marginTop: 16 }}>
      <thead>
        <tr>
          <th>Orders left open</th>
          <th style={{ width: 90 }}>Since</th>
          <th className="right" style={{ width: 120 }}>
            {page.currency}
          </th>
        </tr>
      </thead>
      <tbody>
        {orders.map(({ name, amount, date, ref }) => {
          const start = startOfRef(ref, page.currency)
          return (
            <tr key={JSON.stringify(ref)}>
              <td>
                <button type="button" className="linklike" onClick={() => start && open(start)}>
                  {name}
                </button>
              </td>
              <td className="muted">{dayText(date)}</td>
              <td className="right">
                <Amount minor={amount} currency={page.currency} trace={start} />
              </td>
            </tr>
          )
        })}
        {total > orders.length ? (
          <tr>
            <td colSpan={3} className="muted">
              and {countText(total - orders.length, 'smaller one')}
            </td>
          </tr>
        ) : null}
      </tbody>
    </table>
  )
}
