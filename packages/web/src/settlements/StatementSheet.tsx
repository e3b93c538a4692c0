import { Amount } from '../ui/Amount.tsx'
import { dateText } from '../ui/formats.ts'
import { kindText, reasonText } from '../ui/words.ts'
import type { Beside, StatementItem } from './arrangeEntry.ts'

interface StatementSheetProps {
  readonly settlement: { source: string; key: string; currency: string; sourceName: string; payoutDate: string | null }
  readonly items: readonly StatementItem[]
  readonly left: Beside['left']
  readonly lit: (item: StatementItem) => boolean
  readonly onPoint: (index: number | null) => void
  readonly onLines: (index: number) => void
}

const rowHeight = 32

/** What the source says, from gross to payout. Each figure opens its lines. */
export const StatementSheet = (props: StatementSheetProps) => {
  const { settlement, items, left, onPoint } = props
  return (
    <table
      className="sheet beside"
      aria-label={`What ${settlement.sourceName} says`}
      onMouseLeave={() => onPoint(null)}
    >
      <thead>
        <tr>
          <th>What {settlement.sourceName} says</th>
          <th className="right" style={{ width: 62 }}>
            Lines
          </th>
          <th className="right" style={{ width: 110 }}>
            {settlement.currency}
          </th>
        </tr>
      </thead>
      <tbody>
        {left.map(({ item: index, rows }) => {
          const item = index === null ? undefined : items[index]
          const height = rows * rowHeight
          if (index === null || item === undefined)
            return (
              <tr key="rest">
                <td colSpan={3} style={{ height }} />
              </tr>
            )
          if (item.type === 'row')
            return (
              <FigureRow
                key={`${item.row.kind} ${item.row.category} ${item.row.matched}`}
                {...props}
                item={item}
                index={index}
                height={height}
              />
            )
          return (
            <tr key={item.label} className="total">
              <td style={{ height }}>{item.label}</td>
              <td className="right">{item.lines.toLocaleString('en-IE')}</td>
              <td className="right">
                <Amount
                  minor={item.amount}
                  currency={settlement.currency}
                  trace={{
                    at: 'settlement',
                    source: settlement.source,
                    key: settlement.key,
                    currency: settlement.currency,
                    part: item.part,
                  }}
                />
              </td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}

interface FigureRowProps extends StatementSheetProps {
  readonly item: Extract<StatementItem, { type: 'row' }>
  readonly index: number
  readonly height: number
}

const FigureRow = ({ settlement, item, index, height, lit, onPoint, onLines }: FigureRowProps) => {
  const { row } = item
  const name = kindText(row.kind, row.category)
  const states = [lit(item) ? 'selected' : '', row.blocked ? 'waiting' : '', row.kind === 'payout' ? 'total' : '']
  const trace = {
    at: 'statement',
    source: settlement.source,
    key: settlement.key,
    currency: settlement.currency,
    kind: row.kind,
    ...(row.category ? { category: row.category } : {}),
  } as const
  return (
    <tr className={states.join(' ')} onMouseEnter={() => onPoint(index)} onFocus={() => onPoint(index)}>
      <td style={{ height }}>
        {row.blocked ? (
          <span className="ochre" aria-hidden="true">
            ◆{' '}
          </span>
        ) : null}
        {row.kind === 'payout' && settlement.payoutDate ? `Payout ${dateText(settlement.payoutDate)}` : name}
        {row.blocked ? <span className="ochre small"> {reasonText(row.blocked)}</span> : null}
        {row.matched ? <span className="muted small"> booked with its order</span> : null}
      </td>
      <td className="right">
        <button
          type="button"
          className="amount"
          aria-label={`Show the ${row.lines} lines of ${name}`}
          onClick={() => onLines(index)}
        >
          {row.lines.toLocaleString('en-IE')}
        </button>
      </td>
      <td className="right">
        <Amount minor={row.amount} currency={settlement.currency} trace={trace} />
      </td>
    </tr>
  )
}
