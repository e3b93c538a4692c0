import { Span, Table } from '@chakra-ui/react'
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
    <Table.Root data-beside="" aria-label="Entry" onMouseLeave={() => onPoint(null)} style={{ tableLayout: 'fixed' }}>
      <Table.Header>
        <Table.Row>
          <Table.ColumnHeader style={{ width: 112 }}>
            {first ? (
              first.number ? (
                <Link to={href(`/books/entries/${first.number}`)}>Entry {first.number}</Link>
              ) : (
                'Entry'
              )
            ) : (
              'Entry'
            )}
          </Table.ColumnHeader>
          <Table.ColumnHeader>
            {first
              ? `${first.document === 'journal' ? 'Account' : first.document}, ${dateText(first.date)}`
              : 'Account'}
          </Table.ColumnHeader>
          <Table.ColumnHeader style={{ width: 60 }}>Tax</Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end" style={{ width: 104 }}>
            Debit
          </Table.ColumnHeader>
          <Table.ColumnHeader textAlign="end" style={{ width: 104 }}>
            Credit
          </Table.ColumnHeader>
          {foreign ? (
            <Table.ColumnHeader textAlign="end" style={{ width: 100 }}>
              In {page.base}
            </Table.ColumnHeader>
          ) : null}
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {rows.map((row, index) => {
          if (row.type === 'gap')
            return (
              <Table.Row key={`gap ${index}`}>
                <Table.Cell colSpan={foreign ? 6 : 5} />
              </Table.Row>
            )
          if (row.type === 'head') {
            const entry = page.entries[row.entry]
            return (
              <Table.Row key={`head ${row.entry}`}>
                <Table.Cell color="muted" textStyle="small" data-words="">
                  {entry?.number ? (
                    <Link to={href(`/books/entries/${entry.number}`)}>Entry {entry.number}</Link>
                  ) : (
                    'Entry'
                  )}
                </Table.Cell>
                <Table.Cell color="muted" textStyle="small" data-words="" colSpan={foreign ? 5 : 4}>
                  {entry?.document}, {dateText(entry?.date ?? null)}
                </Table.Cell>
              </Table.Row>
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
            <Table.Row
              key={line.place}
              data-tone={lit(line) ? 'selected' : ''}
              onMouseEnter={() => onPoint(line.place)}
              onFocus={() => onPoint(line.place)}
            >
              <Table.Cell textStyle="mono">{body.account}</Table.Cell>
              <Table.Cell title={`${body.accountName} ${segmentText(body.segments)}`}>
                {body.accountName}
                {body.segments ? <Span color="muted"> · {segmentText(body.segments)}</Span> : null}
              </Table.Cell>
              <Table.Cell textStyle="mono">{body.taxCode}</Table.Cell>
              <Table.Cell textAlign="end">
                {body.amount > 0 ? <Amount minor={body.amount} currency={page.currency} trace={trace} /> : null}
              </Table.Cell>
              <Table.Cell textAlign="end">
                {body.amount < 0 ? <Amount minor={-body.amount} currency={page.currency} trace={trace} /> : null}
              </Table.Cell>
              {foreign ? (
                <Table.Cell textAlign="end">
                  <Amount minor={body.baseAmount} currency={page.base} trace={trace} />
                </Table.Cell>
              ) : null}
            </Table.Row>
          )
        })}
        {page.entries.length > 0 ? (
          <Table.Row data-tone="total">
            <Table.Cell />
            <Table.Cell colSpan={2}>Balances</Table.Cell>
            <Table.Cell textAlign="end">
              <Amount minor={sumOf(page, 1)} currency={page.currency} trace={whole} />
            </Table.Cell>
            <Table.Cell textAlign="end">
              <Amount minor={sumOf(page, -1)} currency={page.currency} trace={whole} />
            </Table.Cell>
            {foreign ? <Table.Cell /> : null}
          </Table.Row>
        ) : null}
      </Table.Body>
    </Table.Root>
  )
}

const sumOf = (page: SettlementPage, side: 1 | -1): number =>
  page.entries.flatMap(entry => entry.lines).reduce((sum, line) => sum + Math.max(0, line.amount * side), 0)
