import type { SettlementPage } from '@culvert/contract'
import { Link } from 'react-router'
import { useHref } from '../context/ClientContext.tsx'
import { Amount } from '../ui/Amount.tsx'
import { dateText } from '../ui/formats.ts'
import type { EntryRowItem, PlacedLine } from './arrangeEntry.ts'

interface EntrySheetProps {
  readonly page: SettlementPage
  readonly rows: readonly EntryRowItem[]
  readonly lit: (line: PlacedLine) => boolean
  readonly onPoint: (place: number | null) => void
}

const segmentText = (segments: string): string =>
  segments.replace(/(^|;)(\w+)=/g, (_, sep: string) => (sep ? ' · ' : ''))

/** The composed or posted entries, row beside row with the statement. */
export const EntrySheet = ({ page, rows, lit, onPoint }: EntrySheetProps) => {
  const href = useHref()
  const first = page.entries[0]
  const foreign = page.currency !== page.base
  const whole = { at: 'settlement', source: page.source, key: page.key, currency: page.currency } as const
  return (
    <table
      className="sheet beside"
      aria-label="Entry"
      onMouseLeave={() => onPoint(null)}
      style={{ tableLayout: 'fixed' }}
    >
      <thead>
        <tr>
          <th style={{ width: 112 }}>
            {first ? (
              first.number ? (
                <Link to={href(`/books/entries/${first.number}`)}>Entry {first.number}</Link>
              ) : (
                'Entry'
              )
            ) : (
              'Entry'
            )}
          </th>
          <th>
            {first
              ? `${first.document === 'journal' ? 'Account' : first.document}, ${dateText(first.date)}`
              : 'Account'}
          </th>
          <th style={{ width: 60 }}>Tax</th>
          <th className="right" style={{ width: 104 }}>
            Debit
          </th>
          <th className="right" style={{ width: 104 }}>
            Credit
          </th>
          {foreign ? (
            <th className="right" style={{ width: 100 }}>
              In {page.base}
            </th>
          ) : null}
        </tr>
      </thead>
      <tbody>
        {rows.map((row, index) => {
          if (row.type === 'gap')
            return (
              <tr key={`gap ${index}`}>
                <td colSpan={foreign ? 6 : 5} />
              </tr>
            )
          if (row.type === 'head') {
            const entry = page.entries[row.entry]
            return (
              <tr key={`head ${row.entry}`}>
                <td className="muted small">
                  {entry?.number ? (
                    <Link to={href(`/books/entries/${entry.number}`)}>Entry {entry.number}</Link>
                  ) : (
                    'Entry'
                  )}
                </td>
                <td className="muted small" colSpan={foreign ? 5 : 4}>
                  {entry?.document}, {dateText(entry?.date ?? null)}
                </td>
              </tr>
            )
          }
          const { line } = row
          const trace = line.number
            ? { at: 'entry_line' as const, entry: line.number, line: line.line }
            : {
                at: 'draft_line' as const,
                source: page.source,
                key: page.key,
                currency: page.currency,
                entry: line.entry,
                line: line.line,
              }
          const { body } = line
          return (
            <tr
              key={line.place}
              className={lit(line) ? 'selected' : ''}
              onMouseEnter={() => onPoint(line.place)}
              onFocus={() => onPoint(line.place)}
            >
              <td className="mono">{body.account}</td>
              <td title={`${body.accountName} ${segmentText(body.segments)}`}>
                {body.accountName}
                {body.segments ? <span className="muted"> · {segmentText(body.segments)}</span> : null}
              </td>
              <td className="mono">{body.taxCode}</td>
              <td className="right">
                {body.amount > 0 ? <Amount minor={body.amount} currency={page.currency} trace={trace} /> : null}
              </td>
              <td className="right">
                {body.amount < 0 ? <Amount minor={-body.amount} currency={page.currency} trace={trace} /> : null}
              </td>
              {foreign ? (
                <td className="right">
                  <Amount minor={body.baseAmount} currency={page.base} trace={trace} />
                </td>
              ) : null}
            </tr>
          )
        })}
        {page.entries.length > 0 ? (
          <tr className="total">
            <td />
            <td colSpan={2}>Balances</td>
            <td className="right">
              <Amount minor={sumOf(page, 1)} currency={page.currency} trace={whole} />
            </td>
            <td className="right">
              <Amount minor={sumOf(page, -1)} currency={page.currency} trace={whole} />
            </td>
            {foreign ? <td /> : null}
          </tr>
        ) : null}
      </tbody>
    </table>
  )
}

const sumOf = (page: SettlementPage, side: 1 | -1): number =>
  page.entries.flatMap(entry => entry.lines).reduce((sum, line) => sum + Math.max(0, line.amount * side), 0)
